"""Reads of master data: one record by what people call it."""

from datetime import date
from typing import Any

from django.db.models import Q

from veridox.core.facts import ExchangeRate
from veridox.core.language.typing import nearest
from veridox.service.errors import BadInputError, NotThereError
from veridox.service.masterdata.models import (
    BookedBill,
    DayRate,
    Entity,
    HeldState,
    Load,
    Order,
    Vendor,
)
from veridox.service.masterdata.standing import OLDEST_RATE, exchange_rate


def _only(rows: list[Any], what: str, named: str, by: str) -> Any:
    if not rows:
        raise NotThereError(f"there is no {what} {named!r}")
    if len(rows) > 1:
        places = ", ".join(sorted({str(_place(row)) or "(none)" for row in rows}))
        raise BadInputError(f"several are called {named!r}; say which by ?{by}=: {places}")
    return rows[0]


def _place(row: Any) -> str:
    return str(row.entity.code if isinstance(row, Order) else row.ledger)


def vendor_of(code: str, ledger: str | None = None) -> Vendor:
    """The vendor of a code. Raises NotThereError with the nearest code, BadInputError where several
    ledgers have it and none is named."""
    rows = Vendor.objects.filter(code=code)
    if ledger is not None:
        rows = rows.filter(ledger=ledger)
    found = list(rows.order_by("ledger")[:20])
    if not found:
        hint = nearest(code, list(Vendor.objects.values_list("code", flat=True)[:5_000]))
        raise NotThereError(f"there is no vendor {code!r}" + (f"; {hint}" if hint else ""))
    return _only(found, "vendor", code, "ledger")


def order_of(number: str, entity: str | None = None) -> Order:
    """The order of a number. Raises as `vendor_of`, with `entity`."""
    rows = Order.objects.select_related("entity", "vendor").prefetch_related("lines")
    rows = rows.filter(number=number)
    if entity is not None:
        rows = rows.filter(entity__code=entity)
    return _only(list(rows.order_by("pk")[:20]), "order", number, "entity")


def entity_of(code: str) -> Entity:
    """One of our companies. Raises NotThereError."""
    return _only(list(Entity.objects.filter(code=code)), "entity", code, "code")


def rate_of(currency: str, into: str, day: date) -> ExchangeRate:
    """What one unit is worth on a day. Raises NotThereError with the newest day that has a rate."""
    found = exchange_rate(currency, into, day)
    if found is not None:
        return found
    for code in (currency, into):
        known = DayRate.objects.filter(Q(currency=code) | Q(into=code))
        if not known.exists():
            codes = {*DayRate.objects.values_list("currency", flat=True).distinct()}
            codes |= {*DayRate.objects.values_list("into", flat=True).distinct()}
            hint = f"those are of {', '.join(sorted(codes))}" if codes else "there are none at all"
            raise NotThereError(f"there is no rate of {code}; {hint}")
    either = Q(currency=currency, into=into) | Q(currency=into, into=currency)
    last = DayRate.objects.filter(either, day__lte=day).order_by("-day").first()
    newest = f"; the last one before it is of {last.day}" if last else ""
    raise NotThereError(
        f"there is no rate from {currency} to {into} on {day} or in the "
        f"{OLDEST_RATE.days} days before{newest}"
    )


def booked_of(booked_as: str, ledger: str | None = None) -> BookedBill:
    """What the books have under a number. Raises as `vendor_of`."""
    rows = BookedBill.objects.select_related("vendor").filter(booked_as=booked_as)
    if ledger is not None:
        rows = rows.filter(ledger=ledger)
    return _only(list(rows.order_by("ledger")[:20]), "bill in the books", booked_as, "ledger")


def load_of(number: int) -> Load:
    """One load. Raises NotThereError."""
    row = Load.objects.filter(pk=number).first()
    if row is None:
        raise NotThereError(f"there is no load {number}")
    return row


def waiting_of(vendor: Vendor) -> Any:
    """Changes of a vendor that wait for a second person."""
    return vendor.held.filter(state=HeldState.WAITS).order_by("pk")
