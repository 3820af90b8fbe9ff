"""A reading with a person's values in it: typed, with every problem named at its place."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from veridox.core.findings.wording import counted
from veridox.core.language.typing import nearest
from veridox.core.locales.typed import TypedError, refuse_more_digits
from veridox.core.money import Money
from veridox.core.pages import Box
from veridox.core.reading import (
    FIELDS,
    LINE_CELLS,
    TAX_CELLS,
    Field,
    FieldSpec,
    Kind,
    Origin,
    Reading,
    Row,
    Source,
    Value,
    ValueFormatError,
    decode_value,
    encode_value,
)

MAX_LINES = 2_000
WAS = "was"
"""Member of a line that says which line of the reading it was, from 1."""


class EditError(ValueError):
    """Values that cannot be used, each with its path (`fields.gross_total`) and what is wrong."""

    def __init__(self, message: str, problems: list[dict[str, str]]) -> None:
        super().__init__(message)
        self.problems = problems


@dataclass(frozen=True, kw_only=True, slots=True)
class _Given:
    """What goes with all values of one correction."""

    currency: Any
    pages: frozenset[int]
    origin: Origin = Origin.PERSON
    problems: list[dict[str, str]] = field(default_factory=list)

    def add(self, path: str, message: str) -> None:
        self.problems.append({"path": path, "message": message})


def with_known(reading: Reading, known: Mapping[str, Any]) -> Reading:
    """The reading with values that were known before it was read. Raises EditError."""
    given = _Given(
        currency=known.get("currency") or reading.currency,
        pages=frozenset(),
        origin=Origin.GIVEN,
    )
    result = _with_fields(reading, known, given)
    if given.problems:
        count = counted(len(given.problems), "value")
        raise EditError(f"{count} cannot be used.", given.problems)
    return result


def made_of(
    source: Source, kind: str, fields: Mapping[str, Any], lines: Sequence[Mapping[str, Any]]
) -> Reading:
    """A reading of values that another program read, as texts; surer than it says nobody is.

    Raises:
        EditError: with the path of each value that cannot be used.
    """
    given = _Given(currency=fields.get("currency"), pages=frozenset(), origin=Origin.GIVEN)
    reading = _with_kind(Reading(source=source), kind, given)
    reading = _with_fields(reading, dict(fields), given)
    rows = _rows(list(lines), LINE_CELLS, (), "lines", given)
    if given.problems:
        count = counted(len(given.problems), "value")
        raise EditError(f"{count} cannot be used.", given.problems)
    return replace(reading, lines=rows)


def corrected(reading: Reading, changes: Mapping[str, Any], pages: frozenset[int]) -> Reading:
    """The reading with a person's values.

    A value is given plainly, or with the spot on the page that it was taken
    from: `{"value": ..., "page": 1, "box": [left, top, right, bottom], "text": ...}`.

    Args:
        reading: as it was looked at.
        changes: `fields` (name to value, null takes a field out), `kind`, `lines`,
            `tax_lines`. A line may say with `was` which line it was before:
            cells whose value is the same then keep their evidence.
        pages: numbers of the document's pages.

    Raises:
        EditError: with the path of each value that cannot be used.
    """
    fields = changes.get("fields") or {}
    currency = fields.get("currency") if isinstance(fields, dict) else None
    if isinstance(currency, dict):
        currency = currency.get("value")
    given = _Given(currency=currency or reading.currency, pages=pages)
    for key in sorted(set(changes) - {"fields", "kind", "lines", "tax_lines"}):
        given.add(key, "can be fields, kind, lines or tax_lines")
    result = _with_fields(reading, fields, given)
    if "kind" in changes:
        result = _with_kind(result, changes["kind"], given)
    if "lines" in changes:
        rows = _rows(changes["lines"], LINE_CELLS, reading.lines, "lines", given)
        result = replace(result, lines=rows)
    if "tax_lines" in changes:
        rows = _rows(changes["tax_lines"], TAX_CELLS, reading.tax_lines, "tax_lines", given)
        result = replace(result, tax_lines=rows)
    if given.problems:
        count = counted(len(given.problems), "value")
        raise EditError(f"{count} cannot be used.", given.problems)
    return result


def _with_fields(reading: Reading, fields: object, given: _Given) -> Reading:
    if not isinstance(fields, dict):
        given.add("fields", "is an object of names and values")
        return reading
    before = reading
    for name, value in fields.items():
        path = f"fields.{name}"
        spec = reading.spec(name)
        if spec is None:
            given.add(path, f"unknown field; {nearest(name, [*FIELDS, *reading.extra])}")
            continue
        found = _field(spec, value, path, given)
        if value is None or found is not None:
            reading = reading.with_fields({name: found})
        if found is not None:
            # One amount on the page that is the total and what is due stays both.
            twins = [each for each in before.read_with(name) if each not in fields]
            reading = reading.with_fields(dict.fromkeys(twins, found))
    return reading


def _field(spec: FieldSpec, value: object, path: str, given: _Given) -> Field | None:
    if value is None:
        return None
    plain, text, page, box = value, "", None, None
    if isinstance(value, dict) and "value" in value:
        plain = value["value"]
        text, page, box = _evidence(value, path, given)
    typed: Value
    try:
        typed = decode_value(spec.type, plain, currency=given.currency, choices=spec.choices)
    except ValueFormatError as error:
        given.add(path, str(error))
        return None
    if isinstance(typed, Money):
        try:
            refuse_more_digits(typed.amount, typed.currency)
        except TypedError as error:
            given.add(path, str(error))
            return None
    return Field(value=typed, text=text, page=page, box=box, confidence=1.0, origin=given.origin)


def _evidence(
    value: Mapping[str, Any], path: str, given: _Given
) -> tuple[str, int | None, Box | None]:
    unknown = sorted(set(value) - {"value", "text", "page", "box"})
    if unknown:
        given.add(path, f"has value, text, page and box, not {', '.join(unknown)}")
        return "", None, None
    text, page, box = value.get("text") or "", value.get("page"), value.get("box")
    if not isinstance(text, str) or len(text) > 2_000:
        given.add(path, "text is a string of at most 2,000 characters")
    if page is None and box is None:
        return str(text), None, None
    if page not in given.pages:
        given.add(path, f"there is no page {page!r}")
        return "", None, None
    numbers = isinstance(box, list) and all(
        isinstance(part, int | float) and 0 <= part <= 20_000 for part in box
    )
    if not numbers or len(box) != 4 or box[0] >= box[2] or box[1] >= box[3]:  # type: ignore[index, arg-type]
        given.add(path, "box is left, top, right, bottom in points from the page's top left")
        return "", None, None
    return str(text), page, Box(*(float(part) for part in box))  # type: ignore[union-attr]


def _with_kind(reading: Reading, kind: object, given: _Given) -> Reading:
    if kind not in [each.value for each in Kind]:
        known = ", ".join(each.value for each in Kind)
        given.add("kind", f"{kind!r} is none of: {known}")
        return reading
    return replace(reading, kind=Kind(str(kind)), kind_confidence=1.0)


def _rows(
    rows: object, specs: Mapping[str, FieldSpec], before: tuple[Row, ...], path: str, given: _Given
) -> tuple[Row, ...]:
    if not isinstance(rows, list) or len(rows) > MAX_LINES:
        given.add(path, f"is a list of at most {MAX_LINES} lines")
        return ()
    return tuple(
        _row(row, specs, before, f"{path}[{index}]", given)
        for index, row in enumerate(rows, start=1)
    )


def _row(
    row: object, specs: Mapping[str, FieldSpec], before: tuple[Row, ...], path: str, given: _Given
) -> Row:
    if not isinstance(row, dict):
        given.add(path, "is an object of cells")
        return {}
    was = row.get(WAS)
    if was is not None and not (isinstance(was, int) and 1 <= was <= len(before)):
        given.add(f"{path}.{WAS}", f"there is no line {was!r} in the reading")
        was = None
    old: Row = before[was - 1] if was else {}
    cells: dict[str, Field] = {}
    for name, value in row.items():
        if name == WAS:
            continue
        if name not in specs:
            given.add(f"{path}.{name}", f"unknown cell; {nearest(name, list(specs))}")
            continue
        cell = _field(specs[name], value, f"{path}.{name}", given)
        if cell is not None:
            kept = old.get(name)
            cells[name] = kept if kept is not None and kept.value == cell.value else cell
    return cells


def differences(before: Reading, after: Reading) -> dict[str, Any]:
    """What changed, old and new, for the trail."""
    changed: dict[str, Any] = {}
    for name in {**before.fields, **after.fields}:
        old, new = before.value(name), after.value(name)
        if old != new:
            changed[name] = [_plain(old), _plain(new)]
    if before.kind is not after.kind:
        changed["kind"] = [before.kind.value, after.kind.value]
    for name in ("lines", "tax_lines"):
        rows: tuple[tuple[Row, ...], tuple[Row, ...]] = getattr(before, name), getattr(after, name)
        if len(rows[0]) != len(rows[1]):
            changed[name] = [len(rows[0]), len(rows[1])]
        else:
            changed.update(_cell_differences(name, *rows))
    return changed


def _cell_differences(
    name: str, before: tuple[Row, ...], after: tuple[Row, ...]
) -> dict[str, list[object]]:
    changed: dict[str, list[object]] = {}
    for index, (old, new) in enumerate(zip(before, after, strict=True), start=1):
        for cell in {**old, **new}:
            values = [row[cell].value if cell in row else None for row in (old, new)]
            if values[0] != values[1]:
                changed[f"{name}[{index}].{cell}"] = [_plain(value) for value in values]
    return changed


def _plain(value: Value | None) -> object:
    return None if value is None else encode_value(value)
