"""Codes of the ledgers' lists as core's plain values."""

from django.db.models import Q

from veridox.core import coding
from veridox.service.masterdata.models import CostCentre, GlAccount, TaxCode


def ledger_codes(ledgers: tuple[str, ...], entity: str) -> coding.LedgerCodes:
    """All codes that a company's lines may be booked under. Three queries.

    Args:
        ledgers: of which lists; the empty name is that of files that named none.
        entity: code of the company; codes that are of no company are everybody's.
    """
    own = Q(ledger__in=ledgers, entity__in=("", entity), gone_at=None)
    return coding.LedgerCodes(
        accounts={
            row.code: coding.GlAccount(
                code=row.code, name=row.name, closed=row.closed,
                needs_cost_centre=row.needs_cost_centre,
            )
            for row in GlAccount.objects.filter(own).order_by("entity", "code")
        },
        cost_centres={
            row.code: coding.CostCentre(
                code=row.code, name=row.name, owner=row.owner, closed=row.closed
            )
            for row in CostCentre.objects.filter(own).order_by("entity", "code")
        },
        tax_codes=tuple(
            coding.TaxCode(
                code=row.code, name=row.name, country=row.country, category=row.category,
                rate=row.rate, supply=row.supply, closed=row.closed,
            )
            for row in TaxCode.objects.filter(own).order_by("entity", "code")
        ),
    )  # fmt: skip
