"""The part of a pipeline file that says which fields are read beside the catalogue's."""

import re
from dataclasses import replace

import yaml

from veridox.core.language import EVERY, Expression, ExpressionError, Scope, known_at, parse
from veridox.core.language.names import TYPE_OF_FIELD
from veridox.core.language.typing import type_of
from veridox.core.locales.units import known_unit
from veridox.core.pipeline.definition import Declared
from veridox.core.pipeline.file import nodes
from veridox.core.pipeline.file.field_sets import FIELD_SETS
from veridox.core.pipeline.file.nodes import Problems, Section
from veridox.core.pipeline.file.said import refuse_plugins
from veridox.core.reading import (
    FIELDS,
    ExtraField,
    FieldSpec,
    FieldType,
    Kind,
    ValueFormatError,
    decode_value,
)


def declared_of(read: Section | None) -> tuple[tuple[Declared, ...], tuple[Declared, ...]]:
    """Fields of the pipeline's own, those of field sets first; and fields of the standard that
    the mail tells. Problems are noted."""
    if read is None:
        return (), ()
    found = [Declared(field=each) for each in _sets(read)]
    by_mail: list[Declared] = []
    node = read.entries.get("fields")
    if node is not None:
        own, by_mail = _own(node, read)
        found += own
    for each in found:
        read.problems.declared[each.field.name] = TYPE_OF_FIELD[each.field.spec.type]
    return tuple(found), tuple(by_mail)


def _sets(read: Section) -> list[ExtraField]:
    return [field for name in read.all_chosen("field_sets") for field in FIELD_SETS[name]]


def _own(node: yaml.Node, read: Section) -> tuple[list[Declared], list[Declared]]:
    path, problems = read.child("fields"), read.problems
    if not isinstance(node, yaml.MappingNode):
        problems.add(node, path, f"{path} holds names and what they are")
        return [], []
    found: dict[str, Declared] = {}
    by_mail: dict[str, Declared] = {}
    for key, value in node.value:
        name = str(getattr(key, "value", ""))
        if name in FIELDS:
            if (told := _told_by_mail(name, key, value, f"{path}.{name}", problems)) is not None:
                by_mail[name] = told
        elif not re.fullmatch(r"[a-z][a-z0-9_]{0,62}", name):
            problems.add(key, path, f"{name!r}: small letters, digits and underscores, 63 at most")
        elif name in EVERY:
            problems.add(key, path, f"{name!r} is a name that every pipeline has")
        elif name in found:
            problems.add(key, path, f"{name!r} stands here twice")
        elif (one := _one(name, value, f"{path}.{name}", problems)) is not None:
            found[name] = one
    return list(found.values()), list(by_mail.values())


def _told_by_mail(
    name: str, key: yaml.Node, node: yaml.Node, path: str, problems: Problems
) -> Declared | None:
    """A field of the standard, where no page states it: an order number out of the subject."""
    part = nodes.section(node, path, problems, "field")
    if part is None:
        return None
    for other in part.entries:
        if other != "from":
            problems.add(part.entries[other], part.child(other),
                         f"{name!r} is a field of the standard: it may only say where it comes "
                         "from", "as in {from: =part(subject, \"PO-[0-9]+\")}")  # fmt: skip
    if "from" not in part.entries:
        problems.add(key, path, f"{name!r} is a name that every pipeline has",
                     "it may say with 'from' that the mail tells it")  # fmt: skip
        return None
    spec = FIELDS[name]
    expression = _expression(part, "from", spec)
    if expression is None:
        return None
    return Declared(field=ExtraField(name=name, spec=spec), source=expression)


def _one(name: str, node: yaml.Node, path: str, problems: Problems) -> Declared | None:
    part = nodes.section(node, path, problems, "field")
    if part is None:
        return None
    if "type" not in part.entries:
        problems.add(part.node, part.path, f"{path} needs 'type'")
    kind = part.chosen("type")
    if kind is None:
        return None
    choices = part.get("of", nodes.texts) or ()
    spec = FieldSpec(
        type=FieldType(kind), term="", choices=choices, unit=part.get("unit", _unit) or "",
        title=part.get("title", nodes.text) or name.replace("_", " ").capitalize(),
    )  # fmt: skip
    _fits(part, spec)
    field = ExtraField(
        name=name, spec=spec, labels=part.get("labels", nodes.texts) or (),
        example=part.get("example", nodes.text) or "",
        kinds=frozenset(Kind(each) for each in part.all_chosen("kinds")),
    )  # fmt: skip
    if not {"labels", "example", "from", "default"} & set(part.entries):
        problems.add(node, path, "nothing says where it stands",
                     "give labels, an example, from or a default")  # fmt: skip
    return _with_rules(part, Declared(field=field))


def _fits(part: Section, spec: FieldSpec) -> None:
    """Keys that go with some types only."""
    node, problems = part.node, part.problems
    if spec.type is FieldType.CHOICE and len(spec.choices) < 2:
        problems.add(node, part.path, "a choice needs at least two values under 'of'")
    if spec.type is not FieldType.CHOICE and "of" in part.entries:
        problems.add(part.entries["of"], part.child("of"), "'of' goes with the type choice")
    if spec.type is not FieldType.NUMBER and "unit" in part.entries:
        problems.add(part.entries["unit"], part.child("unit"), "'unit' goes with the type number")
    if spec.type is not FieldType.TEXT and "example" in part.entries:
        problems.add(
            part.entries["example"], part.child("example"), "'example' goes with the type text"
        )


def _unit(node: yaml.Node, path: str, problems: Problems) -> str | None:
    value = nodes.text(node, path, problems)
    if value is not None and not known_unit(value):
        problems.add(
            node, path, f"{value!r} is no unit that is known", "as in min, h, kg, m, l, kWh"
        )
        return None
    return value


def _with_rules(part: Section, declared: Declared) -> Declared:
    spec = declared.field.spec
    if "from" in part.entries:
        expression = _expression(part, "from", spec)
        declared = replace(declared, source=expression)
    if "default" in part.entries:
        text = part.get("default", nodes.text) or ""
        if text.startswith("="):
            return replace(declared, default=_expression(part, "default", spec))
        try:
            value = decode_value(spec.type, text, choices=spec.choices)
        except ValueFormatError as error:
            part.problems.add(part.entries["default"], part.child("default"), str(error))
            return declared
        return replace(declared, fixed=value)
    return declared


def _expression(part: Section, key: str, spec: FieldSpec) -> Expression | None:
    """What follows `=`; its type must be the field's (a choice is found in any text)."""
    text = part.get(key, nodes.text) or ""
    node, path = part.entries[key], part.child(key)
    if not text.startswith("="):
        part.problems.add(node, path, f"{key} is an expression", f"write it as ={text}")
        return None
    try:
        expression = parse(text[1:])
        found = type_of(expression, known_at(Scope.FILE))
    except ExpressionError as error:
        part.problems.add(node, path, str(error), error.hint, error.at + 1)
        return None
    refuse_plugins(part, key, expression)
    wanted = TYPE_OF_FIELD[spec.type]
    if found is not wanted:
        part.problems.add(node, path, f"this is a {found.value}, the field a {wanted.value}")
        return None
    return expression
