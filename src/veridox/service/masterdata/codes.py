"""Codes of the ledgers' lists as core's plain values."""

from functools import lru_cache

from django.db.models import F, Max, Q, Sum

from veridox.core import coding
from veridox.service.masterdata.models import CostCentre, GlAccount, Load, Project, TaxCode

OF_CODES = ("gl-accounts", "cost-centres", "tax-codes", "projects")


def ledger_codes(ledgers: tuple[str, ...], entity: str) -> coding.LedgerCodes:
    """All codes that a company's lines may be booked under.

    A ledger has thousands, and they change seldom: they are kept in memory as long as no load of
    them has changed anything.

    Args:
        ledgers: of which lists; the empty name is that of files that named none.
        entity: code of the company; codes that are of no company are everybody's.
    """
    loads = Load.objects.filter(what__in=OF_CODES)
    as_of = loads.aggregate(last=Max("pk"), changes=Sum(F("new") + F("changed") + F("gone")))
    return _codes(ledgers, entity, as_of["last"] or 0, as_of["changes"] or 0)


@lru_cache(maxsize=64)
def _codes(ledgers: tuple[str, ...], entity: str, last: int, changes: int) -> coding.LedgerCodes:
    """The same as of a load, and of what loads have changed so far. Four queries."""
    del last, changes
    # Of one code what the company itself has counts before what is everybody's, and what the ledger
    # lists before what only a file says.
    own = Q(ledger__in=ledgers, entity__in=("", entity), gone_at=None)
    return coding.LedgerCodes(
        accounts={
            row.code: coding.GlAccount(
                code=row.code, name=row.name, closed=row.closed,
                needs_cost_centre=row.needs_cost_centre,
            )
            for row in GlAccount.objects.filter(own).order_by("entity", "ledger", "code")
        },
        cost_centres={
            row.code: coding.CostCentre(
                code=row.code, name=row.name, owner=row.owner, closed=row.closed
            )
            for row in CostCentre.objects.filter(own).order_by("entity", "ledger", "code")
        },
        projects={
            row.code: coding.Project(
                code=row.code, name=row.name, owner=row.owner, closed=row.closed
            )
            for row in Project.objects.filter(own).order_by("entity", "ledger", "code")
        },
        tax_codes=tuple({
            row.code: coding.TaxCode(
                code=row.code, name=row.name, country=row.country, category=row.category,
                rate=row.rate, supply=row.supply, closed=row.closed,
            )
            for row in TaxCode.objects.filter(own).order_by("entity", "ledger", "code")
        }.values()),
    )  # fmt: skip
