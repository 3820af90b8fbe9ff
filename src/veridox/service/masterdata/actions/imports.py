"""Import entities, vendors and orders from CSV; what is there already is updated.

A column that the table lacks leaves its values alone, and so does an empty cell where
yes, no or a state is asked for. A preview computes everything and keeps nothing.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any

from django.db import models, transaction

from veridox.core.matching import name_key, order_key
from veridox.service.accounts.actors import Actor
from veridox.service.masterdata.models import Entity, Order, OrderLine, Vendor
from veridox.service.masterdata.tables import Table
from veridox.service.trail.record import record
from veridox.service.work import defer

ENTITY = ("code", "name", "country", "currency", "tax_id")
VENDOR = ("code", "name", "tax_id", "country", "email", "needs_order", "blocked")
ORDER = (
    "number", "entity", "vendor", "currency", "ordered_on", "status",
    "line", "item_code", "description", "quantity", "unit", "unit_price",
)  # fmt: skip
UNBLOCKED, REOPENED, CONTACT = "unblocked", "reopened", "contact changed"


@dataclass(frozen=True, kw_only=True, slots=True)
class Change:
    """One value that an import changes.

    Attributes:
        line: of the table, the header being line 1.
        key: code or number of the record.
        column: what changes.
        before, after: as text; empty where there is none.
        told: why somebody should look at it (`unblocked`, `reopened`, `contact changed`),
            else empty.
    """

    line: int
    key: str
    column: str
    before: str
    after: str
    told: str = ""


@dataclass(kw_only=True, slots=True)
class Imported:
    """What an import did, or would do.

    Attributes:
        rows: records in the table.
        new, same: how many of them are new, and how many say what stands here already.
        changes: every value that differs, in the table's order.
        preview: nothing was kept.
    """

    rows: int = 0
    new: int = 0
    same: int = 0
    changes: list[Change] = field(default_factory=list)
    preview: bool = False

    @property
    def changed(self) -> int:
        """How many records differ."""
        return len({change.key for change in self.changes})

    def told(self) -> list[dict[str, Any]]:
        """Changes that somebody should look at, for the trail."""
        return [
            {"key": c.key, "what": c.told, "before": c.before, "after": c.after}
            for c in self.changes
            if c.told
        ]


Importer = Callable[[Table, Imported], None]


def _run(
    actor: Actor, content: bytes, what: str, columns: tuple[tuple[str, ...], tuple[str, ...]],
    work: Importer, *, preview: bool,
) -> Imported:  # fmt: skip
    with transaction.atomic():
        table, done = Table.read(content, *columns), Imported(preview=preview)
        work(table, done)
        table.settle()
        if preview:
            transaction.set_rollback(True)
            return done
        defer("recheck", what=what)
        details = {
            "rows": done.rows, "new": done.new, "changed": done.changed, "told": done.told(),
        }  # fmt: skip
        record(actor, f"{what}.imported", "masterdata", what, details)
    return done


def import_entities(actor: Actor, content: bytes, *, preview: bool = False) -> Imported:
    """Our own companies. Raises BadInputError with every problem at its row and column."""
    needed = ("code", "name", "country", "currency")
    return _run(actor, content, "entities", (needed, ENTITY), _entities, preview=preview)


def import_vendors(actor: Actor, content: bytes, *, preview: bool = False) -> Imported:
    """Vendors; documents that wait are checked again, since one may be known now."""
    return _run(actor, content, "vendors", (("code", "name"), VENDOR), _vendors, preview=preview)


def import_orders(actor: Actor, content: bytes, *, preview: bool = False) -> Imported:
    """Orders, one row a line."""
    needed = ("number", "entity", "vendor", "currency", "line", "quantity", "unit_price")
    return _run(actor, content, "orders", (needed, ORDER), _orders, preview=preview)


def _entities(table: Table, done: Imported) -> None:
    known = {row.code: row for row in Entity.objects.select_for_update().order_by("pk")}
    for line, row in table.numbered():
        values: dict[str, Any] = {
            "name": table.text(line, row, "name", 200),
            "country": table.text(line, row, "country", 2).upper(),
            "currency": table.currency(line, row, "currency"),
        }
        if "tax_id" in table.columns:
            values["tax_id"] = row["tax_id"].replace(" ", "")[:40]
        code = table.text(line, row, "code", 63)
        if not table.problems:
            known[code] = _put(done, line, known.get(code), Entity(code=code), values)


def _vendors(table: Table, done: Imported) -> None:
    known = {row.code: row for row in Vendor.objects.select_for_update().order_by("pk")}
    for line, row in table.numbered():
        name = table.text(line, row, "name", 200)
        values: dict[str, Any] = {"name": name, "name_key": name_key(name)}
        if "tax_id" in table.columns:
            values["tax_id"] = row["tax_id"].replace(" ", "").upper()[:40]
        if "country" in table.columns:
            values["country"] = row["country"].upper()[:2]
        if "email" in table.columns:
            values["email"] = row["email"][:254]
        for column in ("needs_order", "blocked"):
            said = table.yes(line, row, column)
            if said is not None:
                values[column] = said
        code = table.text(line, row, "code", 40)
        if not table.problems:
            known[code] = _put(done, line, known.get(code), Vendor(code=code), values)


def _put(
    done: Imported,
    line: int,
    before: models.Model | None,
    new: models.Model,
    values: dict[str, Any],
) -> Any:
    """Save a record with these values; what they do not name stays."""
    done.rows += 1
    row = before or new
    key = str(getattr(row, "code", "") or getattr(row, "number", ""))
    changes = _changes(line, key, row, values) if before is not None else []
    for name, value in values.items():
        setattr(row, name, value)
    if before is None:
        done.new += 1
    elif not changes:
        done.same += 1
        return row
    done.changes += changes
    row.save()
    return row


def _changes(line: int, key: str, row: models.Model, values: dict[str, Any]) -> list[Change]:
    found = []
    for name, after in values.items():
        before = getattr(row, name)
        if before == after or name in ("name_key", "key"):
            continue
        told = ""
        if name == "blocked" and before:
            told = UNBLOCKED
        elif name == "closed" and before:
            told = REOPENED
        elif name == "email":
            told = CONTACT
        found.append(
            Change(
                line=line, key=key, column=name, before=_text(before), after=_text(after), told=told
            )
        )
    return found


def _text(value: object) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Decimal):
        return f"{value.normalize():f}"
    return "" if value is None else str(getattr(value, "code", value))


def _orders(table: Table, done: Imported) -> None:
    entities = {entity.code: entity for entity in Entity.objects.all()}
    vendors = {vendor.code: vendor for vendor in Vendor.objects.all()}
    grouped: dict[str, list[tuple[int, dict[str, str]]]] = {}
    for line, row in table.numbered():
        grouped.setdefault(table.text(line, row, "number", 60), []).append((line, row))
        for column, there in (("entity", entities), ("vendor", vendors)):
            if row.get(column, "") not in there:
                table.problem(line, column, f"{row.get(column, '')!r} is not known here")
        if row.get("status", "open") not in ("", "open", "closed"):
            table.problem(line, "status", f"{row['status']!r} is neither open nor closed")
    # In one order, so that two imports never wait for each other.
    rows = Order.objects.select_for_update().filter(number__in=grouped).order_by("pk")
    known = {row.number: row for row in rows.prefetch_related("lines")}
    for number, its in grouped.items():
        _order(table, done, number, its, known.get(number), entities, vendors)


def _order(
    table: Table,
    done: Imported,
    number: str,
    rows: list[tuple[int, dict[str, str]]],
    before: Order | None,
    entities: dict[str, Entity],
    vendors: dict[str, Vendor],
) -> None:
    old = {each.position: each for each in before.lines.all()} if before else {}
    lines = [_line(table, line, row, old) for line, row in rows]
    line, first = rows[0]
    if len({each.position for each in lines}) != len(lines):
        table.problem(line, "line", f"order {number} has a line number twice")
    values: dict[str, Any] = {
        "key": order_key(number),
        "entity": entities.get(first["entity"]),
        "vendor": vendors.get(first["vendor"]),
        "currency": table.currency(line, first, "currency"),
        "net_total": sum((each.quantity * each.unit_price for each in lines), Decimal(0)),
    }
    if "ordered_on" in table.columns:
        values["ordered_on"] = table.day(line, first, "ordered_on")
    if first.get("status"):
        values["closed"] = first["status"] == "closed"
    if table.problems:
        return
    order = _put(done, line, before, Order(number=number), values)
    if before is not None:
        if _plain(old.values()) == _plain(lines):
            return  # its lines stay the rows they are
        if not done.changes or done.changes[-1].key != number:
            done.same -= 1
        done.changes.append(
            Change(
                line=line, key=number, column="lines",
                before=f"{len(old)} lines", after=f"{len(lines)} lines",
            )
        )  # fmt: skip
    OrderLine.objects.filter(order=order).delete()
    for each in lines:
        each.order = order
    OrderLine.objects.bulk_create(lines)


def _plain(lines: Iterable[OrderLine]) -> list[tuple[Any, ...]]:
    return [
        (
            each.position, each.item_code, each.description, each.quantity, each.unit,
            each.unit_price,
        )
        for each in sorted(lines, key=lambda one: one.position)
    ]  # fmt: skip


def _line(table: Table, line: int, row: dict[str, str], old: dict[int, OrderLine]) -> OrderLine:
    position = int(table.number(line, row, "line"))
    before = old.get(position)

    def text(column: str, most: int) -> str:
        if column in table.columns or before is None:
            return row.get(column, "")[:most]
        return str(getattr(before, column))

    return OrderLine(
        position=position,
        item_code=text("item_code", 80),
        description=text("description", 500),
        quantity=table.number(line, row, "quantity"),
        unit=text("unit", 40),
        unit_price=table.number(line, row, "unit_price"),
    )
