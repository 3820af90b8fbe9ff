"""What people type as values of a document, in the service's own forms."""

import re
from dataclasses import dataclass
from typing import Any

import click

from veridox.core.language.typing import nearest
from veridox.core.locales.typed import typed_amount, typed_day, typed_number
from veridox.core.reading import FIELDS, LINE_CELLS, FieldSpec
from veridox.core.reading.fields import TAX_CELLS

PLAIN = ("kind", "vendor", "entity")
"""What is said of a document beside its values."""
_CELL = re.compile(r"(lines|tax_lines)\[(\d{1,4})\]\.(\w+)")


@dataclass(frozen=True, slots=True)
class Habit:
    """How a document writes: its currency, and its language; None where not known."""

    currency: str | None
    language: str | None

    def canonical(self, kind: str, text: str) -> Any:
        """A typed value of a kind of field. Raises ValueError with what is wrong."""
        if kind == "money":
            amount, code = typed_amount(text, self.currency)
            return {"amount": f"{amount:f}", "currency": code}
        if kind in ("number", "rate"):
            return f"{typed_number(text.removesuffix('%')):f}"
        if kind == "date":
            return typed_day(text, self.language).isoformat()
        return text


def typed_changes(given: dict[str, str], reading: dict[str, Any]) -> dict[str, Any]:
    """What was typed as a correction in the service's own forms.

    Args:
        given: texts by field.
        reading: the document's, as the service sends it.

    Raises:
        click.ClickException: with everything that cannot be taken, not only the first.
    """
    declared = reading.get("extra_fields") or {}
    specs = {**FIELDS, **{name: FieldSpec.from_json(spec) for name, spec in declared.items()}}
    currency = given.get("currency") or _value_of(reading, "currency")
    language = (reading.get("document") or {}).get("language")
    habit = Habit(currency, language)
    fields: dict[str, Any] = {}
    changes: dict[str, Any] = {name: given[name] or None for name in PLAIN if name in given}
    problems: list[str] = []
    cells: dict[str, list[tuple[int, str, str]]] = {}
    for name, text in given.items():
        if name in PLAIN:
            continue
        if cell := _CELL.fullmatch(name):
            cells.setdefault(cell[1], []).append((int(cell[2]), cell[3], text))
            continue
        spec = specs.get(name)
        if spec is None:
            problems.append(f"{name}: unknown field; {nearest(name, [*specs, *PLAIN])}")
            continue
        try:
            fields[name] = habit.canonical(spec.type.value, text) if text else None
        except ValueError as error:
            problems.append(f"{name}: {error}")
    for table, typed in cells.items():
        changes[table] = _rows(table, reading.get(table) or [], typed, habit, problems)
    if problems:
        raise click.ClickException("nothing was changed:\n  " + "\n  ".join(problems))
    return {**changes, **({"fields": fields} if fields else {})}


def _value_of(reading: dict[str, Any], name: str) -> str | None:
    field = reading.get("fields", {}).get(name)
    return str(field["value"]) if field else None


def _rows(
    table: str, rows: list[dict[str, Any]], typed: list[tuple[int, str, str]], habit: Habit,
    problems: list[str],
) -> list[dict[str, Any]]:  # fmt: skip
    """All rows of a table, each by the number that it had, with the cells that were typed."""
    specs = LINE_CELLS if table == "lines" else TAX_CELLS
    found = [
        {"was": at, **{name: cell["value"] for name, cell in row.items()}}
        for at, row in enumerate(rows, 1)
    ]
    for at, name, text in typed:
        path = f"{table}[{at}].{name}"
        if not 1 <= at <= len(found):
            problems.append(f"{path}: there is no line {at}; there are {len(found)}")
        elif name not in specs:
            problems.append(f"{path}: unknown cell; {nearest(name, list(specs))}")
        elif not text:
            found[at - 1].pop(name, None)
        else:
            try:
                found[at - 1][name] = habit.canonical(specs[name].type.value, text)
            except ValueError as error:
                problems.append(f"{path}: {error}")
    return found
