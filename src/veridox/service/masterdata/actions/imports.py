"""Import entities, vendors and orders from CSV; what is there already is updated."""

from decimal import Decimal

from django.db import transaction

from veridox.core.matching import name_key, order_key
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.recheck import recheck_waiting
from veridox.service.masterdata.models import Entity, Order, OrderLine, Vendor
from veridox.service.masterdata.tables import Table
from veridox.service.trail.record import record

ENTITY = ("code", "name", "country", "currency", "tax_id")
VENDOR = ("code", "name", "tax_id", "country", "email", "needs_order", "blocked")
ORDER = (
    "number", "entity", "vendor", "currency", "ordered_on", "status",
    "line", "item_code", "description", "quantity", "unit", "unit_price",
)  # fmt: skip


@transaction.atomic
def import_entities(actor: Actor, content: bytes) -> int:
    """Our own companies. Returns how many rows there were."""
    table = Table.read(content, ("code", "name", "country", "currency"), ENTITY)
    for line, row in table.numbered():
        values = {
            "name": table.text(line, row, "name", 200),
            "country": table.text(line, row, "country", 2).upper(),
            "currency": table.currency(line, row, "currency"),
            "tax_id": row.get("tax_id", "").replace(" ", "")[:40],
        }
        code = table.text(line, row, "code", 63)
        if not table.problems:
            Entity.objects.update_or_create(code=code, defaults=values)
    table.settle()
    record(actor, "entities.imported", "masterdata", "entities", {"rows": len(table.rows)})
    return len(table.rows)


@transaction.atomic
def import_vendors(actor: Actor, content: bytes) -> int:
    """Vendors; documents that wait are checked again, since one may be known now."""
    table = Table.read(content, ("code", "name"), VENDOR)
    for line, row in table.numbered():
        name = table.text(line, row, "name", 200)
        values = {
            "name": name,
            "name_key": name_key(name),
            "tax_id": row.get("tax_id", "").replace(" ", "").upper()[:40],
            "country": row.get("country", "").upper()[:2],
            "email": row.get("email", "")[:254],
            "needs_order": table.yes(line, row, "needs_order", usual=True),
            "blocked": table.yes(line, row, "blocked", usual=False),
        }
        code = table.text(line, row, "code", 40)
        if not table.problems:
            Vendor.objects.update_or_create(code=code, defaults=values)
    table.settle()
    recheck_waiting()
    record(actor, "vendors.imported", "masterdata", "vendors", {"rows": len(table.rows)})
    return len(table.rows)


@transaction.atomic
def import_orders(actor: Actor, content: bytes) -> int:
    """Orders, one row a line. Returns how many orders there were."""
    needed = ("number", "entity", "vendor", "currency", "line", "quantity", "unit_price")
    table = Table.read(content, needed, ORDER)
    entities = {entity.code: entity for entity in Entity.objects.all()}
    vendors = {vendor.code: vendor for vendor in Vendor.objects.all()}
    grouped: dict[str, list[tuple[int, dict[str, str]]]] = {}
    for line, row in table.numbered():
        grouped.setdefault(table.text(line, row, "number", 60), []).append((line, row))
        for column, known in (("entity", entities), ("vendor", vendors)):
            if row.get(column, "") not in known:
                table.problem(line, column, f"{row.get(column, '')!r} is not known here")
        if row.get("status", "open") not in ("", "open", "closed"):
            table.problem(line, "status", f"{row['status']!r} is neither open nor closed")
    for number, rows in grouped.items():
        _order(table, number, rows, entities, vendors)
    table.settle()
    recheck_waiting()
    record(actor, "orders.imported", "masterdata", "orders", {"orders": len(grouped)})
    return len(grouped)


def _order(
    table: Table,
    number: str,
    rows: list[tuple[int, dict[str, str]]],
    entities: dict[str, Entity],
    vendors: dict[str, Vendor],
) -> None:
    lines = [
        OrderLine(
            position=int(table.number(line, row, "line")),
            item_code=row.get("item_code", "")[:80],
            description=row.get("description", "")[:500],
            quantity=table.number(line, row, "quantity"),
            unit=row.get("unit", "")[:40],
            unit_price=table.number(line, row, "unit_price"),
        )
        for line, row in rows
    ]
    line, first = rows[0]
    if len({each.position for each in lines}) != len(lines):
        table.problem(line, "line", f"order {number} has a line number twice")
    currency, ordered_on = (
        table.currency(line, first, "currency"),
        table.day(line, first, "ordered_on"),
    )
    if table.problems:
        return
    order, _ = Order.objects.update_or_create(
        number=number,
        defaults={
            "key": order_key(number),
            "entity": entities[first["entity"]],
            "vendor": vendors[first["vendor"]],
            "currency": currency,
            "ordered_on": ordered_on,
            "closed": first.get("status") == "closed",
            "net_total": sum((each.quantity * each.unit_price for each in lines), Decimal(0)),
        },
    )
    order.lines.all().delete()
    for each in lines:
        each.order = order
    OrderLine.objects.bulk_create(lines)
