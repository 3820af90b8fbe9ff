"""CSV tables with every problem said at its row and column."""

import csv
import io
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal, InvalidOperation

from veridox.core.findings.wording import counted
from veridox.core.money import is_currency
from veridox.service.errors import BadInputError

MAX_ROWS = 200_000


@dataclass
class Table:
    """A CSV file read by named columns; problems are collected, then raised together."""

    columns: frozenset[str]
    rows: list[dict[str, str]]
    problems: list[dict[str, object]] = field(default_factory=list)

    @staticmethod
    def read(content: bytes, needed: tuple[str, ...], allowed: tuple[str, ...]) -> "Table":
        """Read UTF-8 CSV with a header row; comma or semicolon as the separator.

        Raises:
            BadInputError: it is no such table, or columns are missing or unknown.
        """
        try:
            text = content.decode("utf-8-sig")
        except UnicodeDecodeError as error:
            raise BadInputError(f"the table is not UTF-8 text (byte {error.start})") from error
        first = text.partition("\n")[0]
        separator = ";" if first.count(";") > first.count(",") else ","
        try:
            reader = csv.DictReader(io.StringIO(text), delimiter=separator, strict=True)
            header = [name.strip() for name in reader.fieldnames or ()]
            reader.fieldnames = header
            missing = [name for name in needed if name not in header]
            unknown = [name for name in header if name not in allowed]
            if missing or unknown:
                said = [f"missing columns: {', '.join(missing)}"] if missing else []
                said += [f"unknown columns: {', '.join(unknown)}"] if unknown else []
                raise BadInputError("; ".join(said) + f"; known are {', '.join(allowed)}")
            rows: list[dict[str, str]] = []
            for row in reader:
                if len(rows) >= MAX_ROWS:
                    raise BadInputError(f"more than {MAX_ROWS:,} rows; split the table")
                rows.append({key: (value or "").strip() for key, value in row.items() if key})
        except csv.Error as error:
            raise BadInputError(f"this is no readable CSV table: {error}") from error
        if not rows:
            raise BadInputError("the table has a header but no rows")
        return Table(columns=frozenset(header), rows=rows)

    def numbered(self) -> Iterator[tuple[int, dict[str, str]]]:
        """Rows with their line in the file, counting the header as line 1."""
        yield from enumerate(self.rows, start=2)

    def problem(self, line: int, column: str, message: str) -> None:
        """Note something wrong."""
        self.problems.append({"path": f"row {line}, {column}", "message": message})

    def text(self, line: int, row: dict[str, str], column: str, most: int) -> str:
        """A needed text."""
        value = row.get(column, "")
        if not value:
            self.problem(line, column, "is empty")
        if len(value) > most:
            self.problem(line, column, f"is longer than {most} characters")
        return value

    def yes(self, line: int, row: dict[str, str], column: str) -> bool | None:
        """yes or no; None for an empty cell, which says nothing."""
        value = row.get(column, "").lower()
        if value in ("yes", "no"):
            return value == "yes"
        if value:
            self.problem(line, column, f"{value!r} is neither yes nor no")
        return None

    def number(self, line: int, row: dict[str, str], column: str) -> Decimal:
        """A number with a decimal point."""
        value = row.get(column, "")
        try:
            number = Decimal(value)
        except InvalidOperation:
            number = Decimal("NaN")
        if not number.is_finite() or abs(number) >= Decimal(10) ** 11:
            self.problem(line, column, f"{value!r} is not a number such as 1421.28")
            return Decimal(0)
        return number

    def currency(self, line: int, row: dict[str, str], column: str) -> str:
        """An ISO 4217 code."""
        value = row.get(column, "")
        if not is_currency(value):
            self.problem(line, column, f"{value!r} is not an ISO 4217 code")
        return value

    def day(self, line: int, row: dict[str, str], column: str) -> date | None:
        """A date as 2026-03-31, or empty."""
        value = row.get(column, "")
        if not value:
            return None
        try:
            return date.fromisoformat(value)
        except ValueError:
            self.problem(line, column, f"{value!r} is not a date such as 2026-03-31")
            return None

    def settle(self) -> None:
        """Raise all problems together, if there are any: nothing is imported then."""
        if self.problems:
            raise BadInputError(
                f"{counted(len(self.problems), 'problem')} in the table; nothing was imported",
                errors=self.problems[:100],
            )
