"""Orders, one row a line; the rows of one order stand together."""

from collections.abc import Iterator
from decimal import Decimal
from typing import Any, Final

from veridox.core.matching import order_key
from veridox.service.masterdata.actions.applying.common import mark_synced, owned, vendors_by_code
from veridox.service.masterdata.bulk import copy_in
from veridox.service.masterdata.loading import CHANGED, CHUNK, NEW, SAME, Incoming, Loading
from veridox.service.masterdata.models import Entity, Order, OrderLine, Vendor

_ORDER: Final = (
    "ledger", "key", "vendor", "currency", "ordered_on", "closed", "approved", "net_total",
    "synced", "seen", "gone_at", "updated_at",
)  # fmt: skip
_LINE: Final = (
    "item_code", "description", "quantity", "unit", "unit_price", "needs_receipt", "gl_account",
    "cost_centre", "project",
)  # fmt: skip
Key = tuple[str, str]


def _grouped(loading: Loading, rows: Iterator[Incoming]) -> Iterator[tuple[Key, list[Incoming]]]:
    """Rows by order. An order whose rows do not stand together is told."""
    ended: dict[Key, int] = {}
    key: Key = ("", "")
    group: list[Incoming] = []
    for row in rows:
        its = (row.values["entity"], row.values["number"])
        if its != key:
            if group:
                ended[key] = group[-1].line
                yield key, group
            key, group = its, []
            if its in ended:
                loading.problem(
                    row.line, "number", f"{its[1]} goes on here after row {ended[its]}; its rows "
                    "must stand together",
                )  # fmt: skip
        group.append(row)
    if group:
        yield key, group


def apply_orders(loading: Loading, rows: Iterator[Incoming]) -> None:
    """Add and change orders; a line stays the same row as long as its number stays."""
    entities = {entity.code: entity for entity in Entity.objects.all()}
    part: list[tuple[Key, list[Incoming]]] = []
    count = 0
    for key, group in _grouped(loading, rows):
        part.append((key, group))
        count += len(group)
        if count >= CHUNK:
            _Chunk(loading, part, entities).work()
            part, count = [], 0
    if part:
        _Chunk(loading, part, entities).work()


class _Chunk:
    """Some orders under comparison, and what is to be written of them."""

    def __init__(
        self, loading: Loading, part: list[tuple[Key, list[Incoming]]], entities: dict[str, Entity]
    ) -> None:
        self.loading, self.part, self.entities = loading, part, entities
        codes = {row.values["vendor"] for _, group in part for row in group}
        self.vendors = vendors_by_code(loading, codes)
        numbers = {number for (_, number), _ in part}
        found = Order.objects.select_for_update(of=("self",)).filter(number__in=numbers)
        self.known = {
            (order.entity.code, order.number): order
            for order in found.select_related("entity", "vendor").order_by("pk")
        }
        self.lines: dict[int, dict[int, OrderLine]] = {}
        ids = [order.pk for order in self.known.values()]
        for line in OrderLine.objects.filter(order_id__in=ids):
            self.lines.setdefault(line.order_id, {})[line.position] = line
        self.new: list[Order] = []
        self.changed: list[Order] = []
        self.new_lines: list[OrderLine] = []
        self.changed_lines: list[OrderLine] = []
        self.gone_lines: list[int] = []

    def work(self) -> None:
        """Compare, and write where nothing is wrong."""
        for (entity, number), group in self.part:
            self._order(entity, number, group)
        if self.loading.problems:
            return
        copy_in(self.new)
        if self.changed:
            Order.objects.bulk_update(self.changed, _ORDER, batch_size=500)
        if self.gone_lines:
            OrderLine.objects.filter(pk__in=self.gone_lines).delete()
        copy_in(self.new_lines)
        if self.changed_lines:
            OrderLine.objects.bulk_update(self.changed_lines, _LINE, batch_size=500)

    def _parties(self, entity: str, group: list[Incoming]) -> tuple[Entity | None, Vendor | None]:
        row = group[0]
        ours, vendor = self.entities.get(entity), self.vendors.get(row.values["vendor"])
        if ours is None:
            self.loading.problem(row.line, "entity", f"{entity!r} is not known here")
        if vendor is None:
            self.loading.problem(row.line, "vendor", f"{row.values['vendor']!r} is not known here")
        for other in group[1:]:
            for name in ("vendor", "currency", "ordered_on", "status"):
                if other.values.get(name) != row.values.get(name):
                    self.loading.problem(
                        other.line, name, f"is not what row {row.line} says of the same order"
                    )
        return ours, vendor

    def _order(self, entity: str, number: str, group: list[Incoming]) -> None:
        row = group[0]
        ours, vendor = self._parties(entity, group)
        self._positions(number, group)
        if ours is None or vendor is None or any(self.loading.is_wrong(e.line) for e in group):
            return
        before = self.known.get((entity, number))
        order = before or Order(number=number, entity=ours)
        old = self.lines.get(order.pk, {}) if before else {}
        values: dict[str, Any] = {
            "key": order_key(number), "vendor": vendor, "currency": row.values["currency"],
            "net_total": sum((r.values["quantity"] * r.values["unit_price"] for r in group),
                             Decimal(0)),
        }  # fmt: skip
        if "ordered_on" in row.values:
            values["ordered_on"] = row.values["ordered_on"]
        if "status" in row.values:
            values["closed"] = row.values["status"] == "closed"
            values["approved"] = row.values["status"] != "not approved"
        changed = self._differs(row, order, values, is_new=before is None)
        changed |= self._lines(group, order, old, is_new=before is None)
        if any(self.loading.is_wrong(each.line) for each in group):
            return
        back = order.gone_at is not None
        if back:
            order.gone_at = None
        mark_synced(self.loading, order, ("order", "lines"))
        if self.loading.sync:
            order.ledger = self.loading.ledger
        if before is None:
            self.new.append(order)
        elif changed or back or self.loading.sync:
            self.changed.append(order)
        fate = NEW if before is None else CHANGED if changed or back else SAME
        self.loading.fate(row.line, number, fate)

    def _positions(self, number: str, group: list[Incoming]) -> None:
        seen: dict[int, int] = {}
        for row in group:
            position = row.values["line"]
            first = seen.setdefault(position, row.line)
            if first != row.line:
                self.loading.problem(
                    row.line, "line", f"order {number} has line {position} in row {first}, too"
                )

    def _differs(self, row: Incoming, order: Order, values: dict[str, Any], is_new: bool) -> bool:
        changed = False
        for name, value in values.items():
            before = getattr(order, name, None) if name != "vendor" or not is_new else None
            if before == value:
                continue
            if owned(self.loading, row, order, "order", differs=not is_new and name != "key"):
                return False
            changed = True
            if not is_new and name not in ("key", "net_total"):
                told = "reopened" if name == "closed" and before else ""
                old, new = (getattr(each, "code", each) for each in (before, value))
                self.loading.change(row.line, order.number, name, old, new, told)
            setattr(order, name, value)
        return changed

    def _lines(
        self, group: list[Incoming], order: Order, old: dict[int, OrderLine], is_new: bool
    ) -> bool:
        changed = False
        for row in group:
            position = row.values["line"]
            line = old.get(position)
            if line is None:
                given = {name: row.values[name] for name in _LINE if name in row.values}
                self.new_lines.append(OrderLine(order=order, position=position, **given))
                if not is_new:
                    self._line_change(row, order, position, "", "new")
                changed = True
                continue
            differing = [n for n in _LINE if n in row.values and getattr(line, n) != row.values[n]]
            for name in differing:
                self._line_change(row, order, position, getattr(line, name), row.values[name], name)
                setattr(line, name, row.values[name])
            if differing:
                self.changed_lines.append(line)
                changed = True
        named = {row.values["line"] for row in group}
        for position, line in old.items():
            if position not in named:
                self.gone_lines.append(line.pk)
                self._line_change(group[0], order, position, "there", "gone")
                changed = True
        if changed and not is_new:
            owned(self.loading, group[0], order, "lines", differs=True)
        return changed

    def _line_change(
        self, row: Incoming, order: Order, position: int, before: Any, after: Any, name: str = ""
    ) -> None:
        column = f"line {position} {name}".strip()
        self.loading.change(row.line, order.number, column, before, after)
