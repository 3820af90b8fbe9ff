"""A person corrects values: a new version of the reading, then the checks again."""

from dataclasses import replace
from typing import Any

from django.db import transaction

from veridox.core.findings.wording import counted
from veridox.core.reading import (
    FIELDS,
    LINE_CELLS,
    Field,
    FieldSpec,
    Kind,
    Origin,
    Reading,
    Row,
    ValueFormatError,
    decode_value,
    encode_value,
    reading_to_json,
)
from veridox.core.rules.typing import nearest
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.check import apply
from veridox.service.documents.actions.common import locked_for_edit, move_to
from veridox.service.documents.columns import current_reading, fill_columns
from veridox.service.documents.models import Document, ReadingVersion, State
from veridox.service.errors import BadInputError
from veridox.service.trail.record import record

MAX_LINES = 2_000


@transaction.atomic
def correct(
    actor: Actor, document_id: int, version: int, changes: dict[str, Any], note: str = ""
) -> Document:
    """Change fields, kind or lines of a document at the desk.

    Args:
        actor: who corrects.
        document_id: which document.
        version: the version that was looked at.
        changes: `fields` (name to value, null takes a field out), `kind`, `lines`.
        note: why, in the person's words.

    Raises:
        BadInputError: with the path of each value that cannot be used.
        StaleError, WrongStateError: see `locked_for_edit`.
    """
    document = locked_for_edit(document_id, version, State.AT_DESK)
    before = current_reading(document)
    after = corrected(before, changes)
    if reading_to_json(after) == reading_to_json(before):
        raise BadInputError("Nothing is different: every value is as it was.")
    newest = document.readings.order_by("-number").first()
    data = reading_to_json(after)
    ReadingVersion.objects.create(
        document=document,
        number=newest.number + 1 if newest else 1,
        reading=data,
        made_by=actor.name,
        note=note,
    )
    fill_columns(document, data)
    # What was accepted and cleared held for the values of before.
    document.accepted, document.cleared_by = [], None
    move_to(document, State.READ)
    details = {"changes": differences(before, after), "note": note}
    record(actor, "document.corrected", "document", document.pk, details)
    apply(actor, document)
    return document


def corrected(reading: Reading, changes: dict[str, Any]) -> Reading:
    """The reading with a person's values; all problems are raised together."""
    problems: list[dict[str, str]] = []
    unknown = sorted(set(changes) - {"fields", "kind", "lines"})
    problems += [{"path": key, "message": "can be fields, kind or lines"} for key in unknown]
    fields = changes.get("fields") or {}
    if not isinstance(fields, dict):
        fields = {}
        problems.append({"path": "fields", "message": "is an object of names and values"})
    currency = fields.get("currency", reading.currency)
    result = reading
    for name, value in fields.items():
        spec = FIELDS.get(name)
        if spec is None:
            hint = nearest(name, list(FIELDS))
            problems.append({"path": f"fields.{name}", "message": f"unknown field; {hint}"})
            continue
        field = _field(spec, value, currency, f"fields.{name}", problems)
        if value is None or field is not None:
            result = result.with_fields({name: field})
    if "kind" in changes:
        result = _with_kind(result, changes["kind"], problems)
    if "lines" in changes:
        result = replace(result, lines=_lines(changes["lines"], currency, problems))
    if problems:
        raise BadInputError(f"{counted(len(problems), 'value')} cannot be used.", errors=problems)
    return result


def _field(
    spec: FieldSpec, value: object, currency: Any, path: str, problems: list[dict[str, str]]
) -> Field | None:
    if value is None:
        return None
    try:
        typed = decode_value(spec.type, value, currency=currency)
    except ValueFormatError as error:
        problems.append({"path": path, "message": str(error)})
        return None
    return Field(value=typed, text="", confidence=1.0, origin=Origin.PERSON)


def _with_kind(reading: Reading, kind: object, problems: list[dict[str, str]]) -> Reading:
    if kind not in [each.value for each in Kind]:
        known = ", ".join(each.value for each in Kind)
        problems.append({"path": "kind", "message": f"{kind!r} is none of: {known}"})
        return reading
    return replace(reading, kind=Kind(str(kind)), kind_confidence=1.0)


def _lines(rows: object, currency: Any, problems: list[dict[str, str]]) -> tuple[Row, ...]:
    if not isinstance(rows, list) or len(rows) > MAX_LINES:
        problems.append({"path": "lines", "message": f"is a list of at most {MAX_LINES} lines"})
        return ()
    lines = []
    for index, row in enumerate(rows, start=1):
        path = f"lines[{index}]"
        if not isinstance(row, dict):
            problems.append({"path": path, "message": "is an object of cells"})
            continue
        cells: dict[str, Field] = {}
        for name, value in row.items():
            if name not in LINE_CELLS:
                hint = nearest(name, list(LINE_CELLS))
                problems.append({"path": f"{path}.{name}", "message": f"unknown cell; {hint}"})
                continue
            cell = _field(LINE_CELLS[name], value, currency, f"{path}.{name}", problems)
            if cell is not None:
                cells[name] = cell
        lines.append(cells)
    return tuple(lines)


def differences(before: Reading, after: Reading) -> dict[str, Any]:
    """What changed, old and new, for the trail."""
    changed: dict[str, Any] = {}
    for name in {**before.fields, **after.fields}:
        old, new = before.value(name), after.value(name)
        if old != new:
            changed[name] = [
                encode_value(value) if value is not None else None for value in (old, new)
            ]
    if before.kind is not after.kind:
        changed["kind"] = [before.kind.value, after.kind.value]
    if before.lines != after.lines:
        changed["lines"] = [len(before.lines), len(after.lines)]
    return changed
