"""Declared fields that do not stand on the page: from the mail, or by their default."""

from collections.abc import Iterable, Mapping
from dataclasses import replace

from veridox.core.extract.extra import choice_of
from veridox.core.language import NotEvaluableError, evaluate
from veridox.core.language.syntax import Expression, Literal
from veridox.core.pipeline.definition import Declared
from veridox.core.pipeline.edits import with_known
from veridox.core.reading import FIELDS, Field, FieldType, Origin, Reading, Value


def completed(
    reading: Reading, declared: Iterable[Declared], mail: Mapping[str, Literal]
) -> Reading:
    """The reading with what the mail tells (origin `mail`) and defaults (origin `derived`).

    What the page states stays. An expression that cannot be evaluated gives nothing.
    """
    fields, extra = dict(reading.fields), dict(reading.extra)
    for each in declared:
        name, spec = each.field.name, each.field.spec
        if not each.field.concerns(reading.kind):
            continue
        if name not in FIELDS:
            extra[name] = spec
        if name in fields:
            continue
        text = _evaluated(each.source, mail)
        value, origin = text, Origin.MAIL
        if spec.type is FieldType.CHOICE and isinstance(text, str):
            chosen = choice_of(text, spec.choices)
            value = chosen[0] if chosen else None
        if value is None:
            value, origin = each.fixed, Origin.DERIVED
        if value is None:
            value = _evaluated(each.default, mail)
        if value is not None:
            shown = str(text) if origin is Origin.MAIL else str(value)
            fields[name] = Field(value=value, text=shown[:200], origin=origin, confidence=0.99)
    return replace(reading, fields=fields, extra=extra)


def _evaluated(expression: Expression | None, names: Mapping[str, Literal]) -> Value | None:
    if expression is None:
        return None
    try:
        found = evaluate(expression, names, set())
    except NotEvaluableError:
        return None
    return found if isinstance(found, Value) else None


def as_wanted(
    reading: Reading,
    declared: Iterable[Declared],
    mail: Mapping[str, Literal],
    known: Mapping[str, object],
) -> Reading:
    """What was read, as a pipeline wants it: with declared fields, and what was known beforehand.

    Args:
        reading: of one document of a file (`core.documents`).
        declared: fields of the pipeline.
        mail: names of the mail and the file.
        known: values given by whoever handed it in, by field; they prevail.

    Raises:
        EditError: a known value cannot be used.
    """
    return with_known(completed(reading, declared, mail), known)
