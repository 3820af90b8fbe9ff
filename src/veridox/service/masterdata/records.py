"""Rows of the master data as core's plain values."""

from collections.abc import Iterable
from datetime import date
from decimal import Decimal

from veridox.core.facts import ClosedPeriod, EntityRecord
from veridox.core.matching import AgreedRate, VendorAccount, VendorRecord, terms_of
from veridox.core.tax import Treatment
from veridox.service.masterdata.models import CardRate, Entity, MarkKind, Vendor, VendorMark


def vendor_record(row: Vendor, marks: Iterable[VendorMark] | None = None) -> VendorRecord:
    """A vendor, as far as matching, checks and texts need it; `marks` where they are at hand."""
    by_kind: dict[str, list[VendorMark]] = {}
    for mark in row.marks.all() if marks is None else marks:
        by_kind.setdefault(mark.kind, []).append(mark)

    def values(kind: MarkKind) -> tuple[str, ...]:
        return tuple(mark.value for mark in by_kind.get(kind, ()))

    return VendorRecord(
        code=row.code,
        name=row.name,
        tax_id=row.tax_id,
        needs_order=row.needs_order,
        blocked=row.blocked,
        contact=row.email,
        names=values(MarkKind.NAME),
        tax_ids=values(MarkKind.TAX_ID),
        country=row.country,
        accounts=tuple(
            VendorAccount(number=mark.key, since=mark.since)
            for mark in by_kind.get(MarkKind.ACCOUNT, ())
        ),
        senders=values(MarkKind.SENDER),
        domains=values(MarkKind.DOMAIN),
        addresses=values(MarkKind.ADDRESS),
        gone=row.gone_at is not None,
        merged_into=row.merged_into,
        terms=terms_of(row.terms),
        treatment=Treatment(row.treatment) if row.treatment else None,
        rates=tuple(Decimal(each) for each in row.rates),
        group=row.group,
        language=row.language,
        payees=values(MarkKind.PAYEE),
        gl_account=row.gl_account,
        cost_centre=row.cost_centre,
        supply=row.supply,
    )


def agreed_rate(row: CardRate) -> AgreedRate:
    """One charge of a rate card."""
    return AgreedRate(
        card=row.card, code=row.code, wording=row.wording, currency=row.currency, unit=row.unit,
        price=row.price, percent=row.percent, of=row.of, from_quantity=row.from_quantity,
        first=row.first, last=row.last,
    )  # fmt: skip


def entity_record(row: Entity) -> EntityRecord:
    """One of our own companies."""
    return EntityRecord(
        code=row.code,
        name=row.name,
        tax_id=row.tax_id,
        names=tuple(row.names),
        tax_ids=tuple(row.tax_ids),
        country=row.country,
        currency=row.currency,
        recipients=tuple(row.recipients),
        closed=tuple(
            ClosedPeriod(first=date.fromisoformat(first), last=date.fromisoformat(last))
            for first, last in row.closed
        ),
    )
