"""The lists that expressions may go through: one row each, with what each of their rows has."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from veridox.core.language.names import NAMES, TABLE, TYPE_OF_FIELD, Names, Scope, Subject
from veridox.core.language.syntax import Literal, Type
from veridox.core.reading import LINE_CELLS, TAX_CELLS, FieldSpec, Row

Lists = Mapping[str, Sequence[Names]]
"""Rows by the list's name; what a row does not state is missing from it."""


@dataclass(frozen=True, kw_only=True, slots=True)
class ListRow:
    """One list: from when on it is there, what its rows have, where it comes from."""

    scope: Scope
    has: Mapping[str, Type]
    help: str
    example: str
    get: Callable[[Subject], Iterable[Names]]


def _cells(specs: Mapping[str, FieldSpec]) -> dict[str, Type]:
    return {name: TYPE_OF_FIELD[spec.type] for name, spec in specs.items()}


def _stated(row: Row) -> dict[str, Literal]:
    return {name: cell.value for name, cell in row.items()}


def _without_empty(row: Mapping[str, Literal]) -> Names:
    return {name: value for name, value in row.items() if value != ""}


def _orders(subject: Subject) -> list[Names]:
    return [
        {"number": order.number, "net_total": order.net_total, "invoiced": order.invoiced,
         "closed": order.closed}
        for order in (subject.facts.orders if subject.facts else ())
    ]  # fmt: skip


LISTS: Final[dict[str, ListRow]] = {
    "lines": ListRow(
        scope=Scope.READING, has=_cells(LINE_CELLS), help="lines of the bill (BG-25)",
        example="any(line.amount > 500 GBP for line in lines)",
        get=lambda s: map(_stated, s.facts.reading.lines) if s.facts else (),
    ),
    "tax_lines": ListRow(
        scope=Scope.READING, has=_cells(TAX_CELLS), help="lines of the tax (BG-23)",
        example="count(tax for tax in tax_lines if tax.rate > 0) > 1",
        get=lambda s: map(_stated, s.facts.reading.tax_lines) if s.facts else (),
    ),
    "findings": ListRow(
        scope=Scope.CHECKED,
        has={"code": Type.TEXT, "weight": Type.TEXT, "message": Type.TEXT, "letter": Type.TEXT},
        help="what the checks found",
        example='all(each.weight == "note" for each in findings)',
        get=lambda s: [
            _without_empty({"code": f.code, "weight": f.weight.value, "message": f.message,
                            "letter": f.letter})
            for f in s.findings
        ],
    ),
    "orders": ListRow(
        scope=Scope.CHECKED, help="orders that the bill was matched with",
        has={"number": Type.TEXT, "net_total": Type.MONEY, "invoiced": Type.MONEY,
             "closed": Type.TRUTH},
        example="sum(order.net_total for order in orders) > 10000 GBP",
        get=_orders,
    ),
    "files": ListRow(
        scope=Scope.MAIL, help="files that came with the mail, but those left out",
        has={"name": Type.TEXT, "type": Type.TEXT, "size": Type.NUMBER, "position": Type.NUMBER},
        example='any(file.type == "application/xml" for file in files)',
        get=lambda s: s.files,
    ),
    "reasons": ListRow(
        scope=Scope.STOPPED, help="why it stands where it does", has={"text": Type.TEXT},
        example='any(contains(reason.text, "order") for reason in reasons)',
        get=lambda s: [{"text": reason} for reason in s.reasons],
    ),
}  # fmt: skip
"""Every list of the language."""

EVERY: Final[dict[str, Type]] = {**NAMES, **dict.fromkeys(LISTS, Type.LIST)}
"""Every name of the language with its type, lists among them."""


def known_at(scope: Scope, event: str = "") -> dict[str, Type]:
    """The names that have a value at a stage, with their types, and the lists that are there.

    Args:
        scope: the stage.
        event: some names have a value at one event alone.
    """
    names = {
        name: row.type
        for name, row in TABLE.items()
        if row.scope <= scope and row.only in ("", event)
    }
    return names | {name: Type.LIST for name, row in LISTS.items() if row.scope <= scope}


def lists_of(subject: Subject) -> dict[str, Sequence[Names]]:
    """All lists with their rows."""
    return {name: list(row.get(subject)) for name, row in LISTS.items()}
