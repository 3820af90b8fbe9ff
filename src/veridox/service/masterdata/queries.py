"""Reads of master data: one record by what people call it."""

from typing import Any

from veridox.core.language.typing import nearest
from veridox.service.errors import BadInputError, NotThereError
from veridox.service.masterdata.models import Entity, HeldState, Load, Order, Vendor


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


def load_of(number: int) -> Load:
    """One load. Raises NotThereError."""
    row = Load.objects.filter(pk=number).first()
    if row is None:
        raise NotThereError(f"there is no load {number}")
    return row


def waiting_of(vendor: Vendor) -> Any:
    """Changes of a vendor that wait for a second person."""
    return vendor.held.filter(state=HeldState.WAITS).order_by("pk")
