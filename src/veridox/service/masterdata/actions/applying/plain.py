"""Kinds that nobody guards and no column of which a sync owns alone: each row is one record."""

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any, Final

from django.db import models
from django.db.models import Q

from veridox.core.matching import number_bare, number_key
from veridox.service.masterdata.actions.applying.common import Once, set_values, vendors_by_code
from veridox.service.masterdata.bulk import copy_in
from veridox.service.masterdata.loading import (
    CHANGED,
    NEW,
    SAME,
    Incoming,
    Loading,
    chunks,
)
from veridox.service.masterdata.models import (
    BookedBill,
    CardRate,
    CostCentre,
    Entity,
    GlAccount,
    GoodsReceipt,
    Item,
    Load,
    Project,
    TaxCode,
)

Related = Mapping[str, Mapping[str, Any]]
"""By column the records that its codes mean."""


def _entities(loading: Loading, part: list[Incoming]) -> Mapping[str, Any]:
    del loading, part
    return {entity.code: entity for entity in Entity.objects.all()}


def _vendors(loading: Loading, part: list[Incoming]) -> Mapping[str, Any]:
    return vendors_by_code(loading, (row.values["vendor"] for row in part))


def _as_given(values: dict[str, Any]) -> dict[str, Any]:
    return values


def _nothing(values: dict[str, Any]) -> tuple[str, str] | None:
    del values
    return None


@dataclass(frozen=True, kw_only=True, slots=True)
class Plain:
    """How rows of one kind become records.

    Attributes:
        model: of the records.
        key: fields that tell them apart.
        shown: fields that people know one by.
        related: by column, what finds the records that its codes mean.
        whole: makes the fields of a record from the values of a row.
        wrong: column and sentence of what does not go together in a row; None for nothing.
        in_ledger: whether a key is one of its ledger alone.
    """

    model: type[Any]
    key: tuple[str, ...]
    shown: tuple[str, ...]
    related: Mapping[str, Callable[[Loading, list[Incoming]], Mapping[str, Any]]]
    whole: Callable[[dict[str, Any]], dict[str, Any]] = _as_given
    wrong: Callable[[dict[str, Any]], tuple[str, str] | None] = _nothing
    in_ledger: bool = False


def apply_plain(plain: Plain, loading: Loading, rows: Iterator[Incoming]) -> None:
    """Add and change records of a kind; a code that nobody knows is told with its row."""
    once = Once(loading, plain.shown[-1])
    for part in chunks(
        row for row in rows if once.first(row, " / ".join(_named(row.values, plain.key)))
    ):
        _apply_part(plain, loading, part)


def _named(values: Mapping[str, Any], names: Any) -> list[str]:
    every = (values.get(name) for name in names)
    return [str(getattr(each, "code", each)) for each in every if each not in (None, "")]


def _apply_part(plain: Plain, loading: Loading, part: list[Incoming]) -> None:
    related = {name: find(loading, part) for name, find in plain.related.items()}
    given = [each for row in part if (each := _related(plain, loading, row, related)) is not None]
    if loading.problems:
        return
    known = _known(plain, loading, [values for _, values in given])
    synced = _synced(loading, known.values())
    new: list[models.Model] = []
    changed: list[models.Model] = []
    written: set[str] = {"seen", "gone_at", "ledger"}
    for row, values in given:
        key, shown = _key(plain, values), " ".join(_named(values, plain.shown))
        record = known.get(key)
        if record is None:
            record = plain.model(ledger=loading.ledger, **values)
            record.seen = loading.number
            new.append(record)
            loading.fate(row.line, shown, NEW)
            continue
        before = {name: getattr(record, name) for name in values}
        differing = set_values(record, values)
        back = record.gone_at is not None
        if record.seen in synced:
            if differing or back:
                whose = record.ledger or "the ledger"
                loading.problem(
                    row.line, differing[0] if differing else "",
                    f"comes from {whose} by sync: a file cannot change it",
                )  # fmt: skip
            loading.fate(row.line, shown, SAME)
            continue
        for name in differing:
            if name in row.values:
                loading.change(row.line, shown, name, before[name], values[name])
        record.seen, record.gone_at = loading.number, None
        if loading.sync:
            record.ledger = loading.ledger
        written |= set(differing)
        if differing or back or loading.sync:
            changed.append(record)
        loading.fate(row.line, shown, CHANGED if differing or back else SAME)
    if loading.problems:
        return
    copy_in(new)
    if changed:
        plain.model.objects.bulk_update(changed, sorted(written), batch_size=500)


def _synced(loading: Loading, records: Iterable[Any]) -> set[int]:
    """Loads by which a sync listed these records last; empty while a sync itself brings them in."""
    if loading.sync:
        return set()
    seen = Load.objects.filter(pk__in={record.seen for record in records}, how="sync")
    return set(seen.values_list("pk", flat=True))


def _related(
    plain: Plain, loading: Loading, row: Incoming, related: Related
) -> tuple[Incoming, dict[str, Any]] | None:
    values = dict(row.values)
    for name, found in related.items():
        record = found.get(values.get(name, ""))
        if record is None:
            loading.problem(row.line, name, f"{values[name]!r} is not known here")
        values[name] = record
    wrong = plain.wrong(values)
    if wrong is not None:
        loading.problem(row.line, *wrong)
    return None if loading.is_wrong(row.line) else (row, plain.whole(values))


def _key(plain: Plain, values: Any) -> tuple[Any, ...]:
    every = (values.get(name, "") if isinstance(values, dict) else getattr(values, name)
             for name in plain.key)  # fmt: skip
    return tuple(getattr(each, "pk", each) for each in every)


def _known(
    plain: Plain, loading: Loading, given: list[dict[str, Any]]
) -> dict[tuple[Any, ...], Any]:
    """Records with the keys of these rows; looked for by the last field that every row has."""
    wanted = Q(**{f"{plain.shown[-1]}__in": {values[plain.shown[-1]] for values in given}})
    if plain.in_ledger:
        wanted &= Q(ledger=loading.ledger)
    rows = plain.model.objects.select_for_update(of=("self",)).filter(wanted).order_by("pk")
    return {_key(plain, row): row for row in rows}


def _booked(values: dict[str, Any]) -> dict[str, Any]:
    return {
        "kind": "invoice", **values,
        "number_key": number_key(values["number"])[:200],
        "number_bare": number_bare(values["number"])[:200],
    }  # fmt: skip


def _packed(values: dict[str, Any]) -> dict[str, Any]:
    packs = values.pop("packs", None)
    values.setdefault("vendor_code", "")
    return values if packs is None else {**values, "packs": dict(packs)}


def _entity_codes(loading: Loading, part: list[Incoming]) -> Mapping[str, Any]:
    """Codes as themselves: a ledger's code is of one company, or of none named and so of all."""
    return {code: code for code in ("", *_entities(loading, part))}


GL_ACCOUNTS, COST_CENTRES, TAX_CODES, PROJECTS = (
    Plain(model=model, key=("entity", "code"), shown=("entity", "code"),
          related={"entity": _entity_codes}, in_ledger=True)
    for model in (GlAccount, CostCentre, TaxCode, Project)
)  # fmt: skip


def _card_wrong(values: dict[str, Any]) -> tuple[str, str] | None:
    if not values.get("code") and not values.get("wording"):
        return "code", "a charge has a code or a wording"
    if (values.get("price") is None) == (values.get("percent") is None):
        return "price", "a charge has a price or a percentage, and not both"
    first, last = values.get("first"), values.get("last")
    if first and last and last < first:
        return "last", f"{last} is before {first}"
    return None


def _card(values: dict[str, Any]) -> dict[str, Any]:
    usual = {"code": "", "wording": "", "from_quantity": Decimal(0), "first": None}
    return {**usual, **values}


CARDS: Final = Plain(
    model=CardRate, key=("vendor", "card", "code", "wording", "from_quantity", "first"),
    shown=("vendor", "code", "wording", "card"), related={"vendor": _vendors}, whole=_card,
    wrong=_card_wrong,
)  # fmt: skip
BOOKS: Final = Plain(
    model=BookedBill, key=("booked_as",), shown=("booked_as",), related={"vendor": _vendors},
    whole=_booked, in_ledger=True,
)  # fmt: skip
RECEIPTS: Final = Plain(
    model=GoodsReceipt, key=("entity", "number", "order_number", "line"),
    shown=("order_number", "line", "number"), related={"entity": _entities},
)  # fmt: skip
ITEMS: Final = Plain(
    model=Item, key=("vendor", "code", "vendor_code"), shown=("vendor", "vendor_code", "code"),
    related={"vendor": _vendors}, whole=_packed,
)  # fmt: skip
