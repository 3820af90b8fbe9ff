"""Vendors with their marks. What money and letters depend on is held for a second person."""

from collections.abc import Iterable, Iterator
from typing import Any, Final

from veridox.core.locales.labels import fold
from veridox.core.matching import account_key, name_key, registration
from veridox.service.masterdata.actions.applying.common import (
    Once,
    mark_synced,
    owned,
    vendors_by_code,
)
from veridox.service.masterdata.bulk import copy_in
from veridox.service.masterdata.columns import VENDOR, Column
from veridox.service.masterdata.loading import (
    CHANGED,
    HELD,
    NEW,
    SAME,
    Incoming,
    Loading,
    as_text,
    chunks,
)
from veridox.service.masterdata.models import (
    HeldChange,
    HeldState,
    MarkKind,
    Vendor,
    VendorMark,
)

MARKS: Final = {column.name: column for column in VENDOR if column.mark is not None}
SINGLE: Final = {column.name: column for column in VENDOR if column.mark is None}
_WRITTEN: Final = (
    "ledger", "name", "name_key", "tax_id", "country", "email", "needs_order", "blocked", "terms",
    "treatment", "rates", "group", "language", "merged_into", "gl_account",
    "cost_centre", "supply", "synced", "seen", "gone_at",
    "updated_at",
)  # fmt: skip


def key_of(kind: MarkKind, value: str) -> str:
    """The form of a mark in which it is compared."""
    if kind in (MarkKind.NAME, MarkKind.PAYEE):
        return name_key(value) or fold(value)
    if kind is MarkKind.TAX_ID:
        return registration(value)
    if kind is MarkKind.ACCOUNT:
        return account_key(value)
    if kind is MarkKind.ADDRESS:
        return " ".join(fold(value).split())
    return value.lower()


class _Chunk:
    """Some vendors under comparison, and what is to be written of them."""

    def __init__(self, loading: Loading, rows: list[Incoming]) -> None:
        self.loading = loading
        codes = [row.values["code"] for row in rows]
        known = vendors_by_code(loading, codes)
        ids = [vendor.pk for vendor in known.values()]
        # Locked in one order, so that two loads never wait for each other.
        locked = {v.pk: v for v in Vendor.objects.select_for_update().filter(pk__in=ids)
                  .order_by("pk")}  # fmt: skip
        self.known = {code: locked[vendor.pk] for code, vendor in known.items()}
        self.marks: dict[tuple[int, str], dict[str, VendorMark]] = {}
        for mark in VendorMark.objects.filter(vendor_id__in=ids):
            self.marks.setdefault((mark.vendor_id, mark.kind), {})[mark.key] = mark
        self.held: dict[tuple[int, str], dict[str, HeldChange]] = {}
        for each in HeldChange.objects.filter(vendor_id__in=ids, state=HeldState.WAITS):
            self.held.setdefault((each.vendor_id, each.column), {})[each.after] = each
        self.new: list[Vendor] = []
        self.changed: list[Vendor] = []
        self.new_marks: list[VendorMark] = []
        self.gone_marks: list[int] = []
        self.named: list[int] = []
        self.new_held: list[HeldChange] = []
        self.replaced: list[int] = []

    def write(self) -> None:
        copy_in(self.new)
        if self.changed:
            Vendor.objects.bulk_update(self.changed, _WRITTEN, batch_size=500)
        if self.gone_marks:
            VendorMark.objects.filter(pk__in=self.gone_marks).delete()
        if self.named:
            VendorMark.objects.filter(pk__in=self.named).update(ours=False)
        copy_in(self.new_marks)
        if self.replaced:
            HeldChange.objects.filter(pk__in=self.replaced).update(state=HeldState.REPLACED)
        copy_in(self.new_held)

    # -- one row

    def row(self, row: Incoming) -> None:
        code = row.values["code"]
        vendor = self.known.get(code)
        is_new = vendor is None
        if vendor is None:
            vendor = Vendor(code=code, ledger=self.loading.ledger, name=row.values["name"])
        before_held, changed = len(self.new_held), False
        for name, value in row.values.items():
            if name in MARKS:
                changed |= self._marks(row, vendor, MARKS[name], value, is_new)
            elif name != "code":
                changed |= self._single(row, vendor, SINGLE[name], value, is_new)
        if self.loading.is_wrong(row.line):
            return
        adopted = self.loading.sync and not vendor.ledger and bool(self.loading.ledger)
        if adopted:
            vendor.ledger = self.loading.ledger
        back = vendor.gone_at is not None and (self.loading.sync or changed)
        if back:
            vendor.gone_at = None
        vendor.name_key = name_key(vendor.name)
        owns = mark_synced(self.loading, vendor, (n for n in row.values if n != "code"))
        waits = len(self.new_held) - before_held
        if is_new:
            self.new.append(vendor)
        elif changed or owns or back or adopted or self.loading.sync:
            self.changed.append(vendor)
        why = f"{waits} of its values wait for a second person" if waits else ""
        if waits and not is_new:
            self.loading.fate(row.line, code, HELD, why)
        elif waits:
            self.loading.held += 1
            self.loading.fate(row.line, code, NEW, why)
        else:
            fate = NEW if is_new else CHANGED if changed or back else SAME
            self.loading.fate(row.line, code, fate)

    def _single(
        self, row: Incoming, vendor: Vendor, column: Column, value: Any, is_new: bool
    ) -> bool:
        name = column.name
        stored = [as_text(each) for each in value] if name == "rates" else value
        before = getattr(vendor, name)
        if before == stored:
            self._no_more(vendor, name, keep=())
            return False
        if owned(self.loading, row, vendor, name, differs=not is_new):
            return False
        if self._guards(column, before, stored):
            self._hold(row, vendor, name, "set", before, stored)
            return False
        if not is_new:
            self.loading.change(row.line, vendor.code, name, before, stored)
        setattr(vendor, name, stored)
        return True

    def _guards(self, column: Column, before: Any, after: Any) -> bool:
        """Whether a second person must accept it: a new address for letters, and a block that is
        lifted; never one that is put on, nor an address that is taken away."""
        if not column.guarded or self.loading.first:
            return False
        if column.name == "blocked":
            return bool(before) and not after
        return bool(after)

    def _marks(
        self, row: Incoming, vendor: Vendor, column: Column, values: list[str], is_new: bool
    ) -> bool:
        kind = MarkKind(str(column.mark))
        there = self.marks.get((vendor.pk, kind), {}) if not is_new else {}
        wanted = {key_of(kind, value): value for value in values}
        wanted.pop("", None)
        added = {key: value for key, value in wanted.items() if key not in there}
        gone = [mark for key, mark in there.items() if key not in wanted and not mark.ours]
        if owned(self.loading, row, vendor, column.name, differs=bool(added or gone)):
            return False
        self._no_more(vendor, column.name, keep=wanted.values())
        # What a list names is the list's from now on: it may take it away again.
        self.named += [there[key].pk for key in wanted if key in there and there[key].ours]
        for mark in gone:
            self.loading.change(row.line, vendor.code, column.name, mark.value, "")
            self.gone_marks.append(mark.pk)
        for key, value in added.items():
            if column.guarded and not self.loading.first:
                self._hold(row, vendor, column.name, "add", "", value)
                continue
            if not is_new:
                self.loading.change(row.line, vendor.code, column.name, "", value)
            since = None if self.loading.first else self.loading.today
            self.new_marks.append(
                VendorMark(vendor=vendor, kind=kind, value=value, key=key, since=since)
            )
        held = column.guarded and not self.loading.first
        return bool(gone) or bool(added and not held)

    def _hold(
        self, row: Incoming, vendor: Vendor, column: str, act: str, before: Any, after: Any
    ) -> None:
        text = as_text(after)
        waiting = self.held.get((vendor.pk, column), {}) if vendor.pk else {}
        self.loading.change(row.line, vendor.code, column, before, text, told="held")
        if text in waiting:
            return  # it waits already
        if act == "set":
            self.replaced += [each.pk for each in waiting.values()]
        self.new_held.append(HeldChange(
            load_id=self.loading.number or None, vendor=vendor, column=column, act=act,
            before=as_text(before)[:300], after=text[:300], by=self.loading.by,
        ))  # fmt: skip

    def _no_more(self, vendor: Vendor, column: str, keep: Iterable[str]) -> None:
        """What a list brought in, waits, and is not said any more need not be decided; what
        somebody here proposes is."""
        if vendor.pk is None:
            return
        kept = set(keep)
        waiting = self.held.get((vendor.pk, column), {})
        self.replaced += [
            each.pk for text, each in waiting.items()
            if text not in kept and each.load_id is not None
        ]  # fmt: skip


def apply_vendors(loading: Loading, rows: Iterator[Incoming]) -> None:
    """Add and change vendors; those that a file does not name stay as they are."""
    once = Once(loading, "code")
    merged: dict[str, tuple[int, str]] = {}
    for part in chunks(row for row in rows if once.first(row, row.values["code"])):
        chunk = _Chunk(loading, part)
        for row in part:
            chunk.row(row)
            into = row.values.get("merged_into")
            if into:
                merged.setdefault(into, (row.line, row.values["code"]))
        if not loading.problems:
            chunk.write()
    _merged_into_somebody(loading, merged)


def _merged_into_somebody(loading: Loading, merged: dict[str, tuple[int, str]]) -> None:
    there = set(Vendor.objects.filter(code__in=merged).values_list("code", flat=True))
    for into, (line, code) in merged.items():
        if into == code:
            loading.problem(line, "merged_into", "names the vendor itself")
        elif into not in there and not loading.problems:
            loading.problem(line, "merged_into", f"{into!r} is not known here")
