"""What comes in, by file or by sync: typed rows, problems, the fate of each row."""

import csv
import io
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from typing import Any, Final

from veridox.service.masterdata.columns import CellError, Column, Kind

SHOWN: Final = 1_000
"""Changes, and rows with a fate of their own, that are kept in memory for people; the file of all
rows has the others."""
CHUNK: Final = 2_000
"""Records that are compared and written at once."""
WRONG, NEW, CHANGED, SAME, HELD = "wrong", "new", "changed", "same", "held"


@dataclass(slots=True)
class Incoming:
    """One row: its number in the file (or its place in the sync), and its typed values by column.

    A column that is not there, and an empty cell of a column that is not one of several values or
    a text, say nothing.
    """

    line: int
    values: dict[str, Any]


@dataclass(frozen=True, kw_only=True, slots=True)
class Change:
    """One value that differs.

    Attributes:
        line: of the table, the header being line 1.
        key: code or number of the record.
        column: what changes.
        before, after: as text; empty where there is none.
        told: why somebody should look at it (`held`, `reopened`), else empty.
    """

    line: int
    key: str
    column: str
    before: str
    after: str
    told: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class Fate:
    """What becomes of one row: `new`, `changed`, `same`, `held` (changed, and a part of it waits
    for a second person) or `wrong`, with why."""

    line: int
    key: str
    fate: str
    why: str = ""


@dataclass(kw_only=True)
class Loading:
    """One load under way: who and what, and what came of it so far.

    Attributes:
        kind: of master data.
        by: who brings it in, as the trail names actors.
        ledger: that its records belong to; empty where nobody said.
        sync: whether it comes from the ledger itself; else by file.
        first: whether there was nothing before: then nothing is held.
        number: of the load.
        columns: that it has.
        today: new accounts are known since then.
        problems: each with `path` and `message`.
        fates: of rows that are not as before, the first `SHOWN`.
        every: the fate of each row, as CSV.
    """

    kind: Kind
    by: str
    today: date
    ledger: str = ""
    sync: bool = False
    first: bool = False
    number: int = 0
    columns: frozenset[str] = frozenset()
    rows: int = 0
    new: int = 0
    changed: int = 0
    same: int = 0
    held: int = 0
    wrong: int = 0
    problems: list[dict[str, Any]] = field(default_factory=list)
    changes: list[Change] = field(default_factory=list)
    more_changes: int = 0
    fates: list[Fate] = field(default_factory=list)
    every: io.StringIO = field(default_factory=io.StringIO)
    _lines_wrong: dict[int, str] = field(default_factory=dict)

    def problem(self, line: int, column: str, message: str) -> None:
        """Note something wrong; nothing is kept then."""
        path = f"row {line}, {column}" if column else f"row {line}"
        self.problems.append({"path": path, "message": message})
        said = f"{column} {message}".strip()
        before = self._lines_wrong.get(line)
        self._lines_wrong[line] = f"{before}; {said}" if before else said

    def is_wrong(self, line: int) -> bool:
        """Whether something was noted of a row."""
        return line in self._lines_wrong

    def change(
        self, line: int, key: str, column: str, before: Any, after: Any, told: str = ""
    ) -> None:
        """Note a value that differs."""
        if len(self.changes) >= SHOWN and not told:
            self.more_changes += 1
            return
        self.changes.append(
            Change(line=line, key=key, column=column, before=as_text(before),
                   after=as_text(after), told=told)
        )  # fmt: skip

    def fate(self, line: int, key: str, fate: str, why: str = "") -> None:
        """Note what becomes of a row."""
        setattr(self, fate, getattr(self, fate) + 1)
        if fate == HELD:
            self.changed += 1
        row = Fate(line=line, key=key, fate=fate, why=why)
        if fate != SAME and len(self.fates) < SHOWN:
            self.fates.append(row)
        csv.writer(self.every, lineterminator="\n").writerow((line, safe(key), fate, safe(why)))

    def settle_wrong(self) -> None:
        """Note the fate of rows that are wrong, once all were looked at."""
        for line, why in sorted(self._lines_wrong.items()):
            self.fate(line, "", WRONG, why)

    def told(self) -> list[dict[str, Any]]:
        """Changes that somebody should look at, for the trail."""
        return [
            {"key": c.key, "what": c.told, "column": c.column, "before": c.before,
             "after": c.after}
            for c in self.changes if c.told
        ][:SHOWN]  # fmt: skip


def safe(text: str) -> str:
    """A text that no spreadsheet takes for a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@") else text


def as_text(value: object) -> str:
    """A value as people write it in a table."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Decimal):
        return f"{value.normalize():f}"
    if isinstance(value, list | tuple):
        return " | ".join(as_text(each) for each in value)
    return "" if value is None else str(value)


# -- from texts to values


@dataclass(frozen=True, kw_only=True, slots=True)
class Headings:
    """Which of a table's columns is which of ours.

    Attributes:
        places: for each place of a row our column, None for one that is left aside.
        fixed: texts for columns that the table lacks.
        aside: headings that are left aside.
    """

    places: tuple[Column | None, ...]
    fixed: Mapping[str, str]
    aside: tuple[str, ...]

    @property
    def columns(self) -> frozenset[str]:
        """Names of all columns that say something."""
        return frozenset([c.name for c in self.places if c is not None]) | frozenset(self.fixed)


def headings(
    kind: Kind, header: Iterable[str], mapping: Mapping[str, str], fixed: Mapping[str, str]
) -> tuple[Headings, list[str]]:
    """Match a table's headings with our columns.

    Args:
        kind: of master data.
        header: headings as they stand.
        mapping: our name for a heading; an empty name leaves its column aside.
        fixed: texts for columns that the table lacks.

    Returns:
        The headings, and what is wrong with them, each as a sentence.
    """
    told = {heading.lower(): name for heading, name in mapping.items()}
    by_alias = {c.name.replace("_", " "): c for c in kind.columns}
    by_alias |= {alias: c for c in kind.columns for alias in c.aliases}
    places: list[Column | None] = []
    wrong: list[str] = []
    unknown, aside = [], []
    for heading in header:
        folded = heading.lower()
        if folded in told:
            name = told.pop(folded)
            column = kind.by_name.get(name)
            if name and column is None:
                wrong.append(f"the mapping takes {heading!r} for {name!r}, which is no column")
            if not name:
                aside.append(heading)
        else:
            column = kind.by_name.get(folded) or by_alias.get(folded.replace("_", " "))
            if column is None:
                unknown.append(heading)
        if column is not None and column in places:
            wrong.append(f"both {heading!r} and another heading are taken for {column.name}")
        places.append(column)
    if unknown:
        wrong.append(f"unknown columns: {', '.join(unknown)}")
    if told:
        wrong.append(f"the mapping names headings that are not there: {', '.join(told)}")
    there = {c.name for c in places if c is not None} | set(fixed)
    missing = [c.name for c in kind.columns if c.needed and c.name not in there]
    if missing:
        wrong.insert(0, f"missing columns: {', '.join(missing)}")
    wrong += [f"a fixed value is given for {name!r}, which is no column" for name in fixed
              if name not in kind.by_name]  # fmt: skip
    if wrong:
        known = ", ".join(c.name for c in kind.columns)
        wrong[-1] += f"; known are {known}"
    return Headings(places=tuple(places), fixed=dict(fixed), aside=tuple(aside)), wrong


def incoming(
    loading: Loading, found: Headings, rows: Iterable[tuple[int, list[str]]]
) -> Iterator[Incoming]:
    """Typed rows; what is wrong with a cell is noted, and its row goes no further."""
    fixed = [(loading.kind.by_name[name], text) for name, text in found.fixed.items()]
    for line, cells in rows:
        loading.rows += 1
        values: dict[str, Any] = {}
        for column, text in zip(found.places, cells, strict=True):
            if column is not None:
                _put(loading, line, values, column, text)
        for column, text in fixed:
            _put(loading, line, values, column, text)
        if not loading.is_wrong(line):
            yield Incoming(line, values)


def of_texts(
    loading: Loading, rows: Iterable[Mapping[str, str]], begin: int = 1
) -> Iterator[Incoming]:
    """The same of rows by column, as a sync brings them."""
    for line, row in enumerate(rows, start=begin):
        loading.rows += 1
        values: dict[str, Any] = {}
        for name, text in row.items():
            column = loading.kind.by_name.get(name)
            if column is not None:
                _put(loading, line, values, column, text)
        for column in loading.kind.columns:
            if column.needed and column.name not in values and not loading.is_wrong(line):
                loading.problem(line, column.name, "is missing")
        if not loading.is_wrong(line):
            yield Incoming(line, values)


def _put(loading: Loading, line: int, values: dict[str, Any], column: Column, text: str) -> None:
    text = text.strip()
    if not text:
        if column.needed:
            loading.problem(line, column.name, "is empty")
        elif column.many:
            values[column.name] = []
        elif column.name in _CLEARED:
            values[column.name] = ""
        return
    parts = [each.strip() for each in text.split("|") if each.strip()] if column.many else [text]
    read = []
    for part in parts:
        if len(part) > column.most:
            loading.problem(line, column.name, f"is longer than {column.most} characters")
            return
        try:
            read.append(column.read(part))
        except CellError as error:
            loading.problem(line, column.name, str(error))
            return
    values[column.name] = read if column.many else read[0]


_CLEARED: Final = frozenset({
    "tax_id", "email", "country", "terms", "treatment", "group", "language", "merged_into",
    "item_code", "description", "unit", "gl_account", "cost_centre", "project", "supply", "owner",
})  # fmt: skip
"""Texts that an empty cell clears; of others an empty cell says nothing."""


def chunks(rows: Iterable[Incoming], size: int = CHUNK) -> Iterator[list[Incoming]]:
    """Rows in lists of at most `size`."""
    part: list[Incoming] = []
    for row in rows:
        part.append(row)
        if len(part) >= size:
            yield part
            part = []
    if part:
        yield part
