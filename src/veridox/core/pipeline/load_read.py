"""The part of a pipeline file that says which fields are read beside the catalogue's."""

import re
from dataclasses import replace

import yaml

from veridox.core.language import EVERY, Expression, ExpressionError, Scope, known_at, parse
from veridox.core.language.names import TYPE_OF_FIELD
from veridox.core.language.typing import nearest, type_of
from veridox.core.locales.units import known_unit
from veridox.core.pipeline import nodes
from veridox.core.pipeline.definition import Declared
from veridox.core.pipeline.field_sets import FIELD_SETS
from veridox.core.pipeline.nodes import Problems, Section
from veridox.core.reading import (
    FIELDS,
    ExtraField,
    FieldSpec,
    FieldType,
    Kind,
    ValueFormatError,
    decode_value,
)

TYPES = tuple(kind.value for kind in FieldType if kind is not FieldType.CURRENCY)
_KEYS = ("type", "title", "labels", "example", "of", "from", "default", "unit", "kinds")


def declared_of(read: Section | None) -> tuple[Declared, ...]:
    """All declared fields, those of field sets first; problems are noted."""
    if read is None:
        return ()
    found = [Declared(field=each) for each in _sets(read)]
    node = read.entries.get("fields")
    if node is not None:
        found += _own(node, read)
    for each in found:
        read.problems.declared[each.field.name] = TYPE_OF_FIELD[each.field.spec.type]
    return tuple(found)


def _sets(read: Section) -> list[ExtraField]:
    found: list[ExtraField] = []
    node = read.entries.get("field_sets")
    for name in read.get("field_sets", nodes.texts) or ():
        if name in FIELD_SETS:
            found += FIELD_SETS[name]
        elif node is not None:
            hint = nearest(name, list(FIELD_SETS)) or "known: " + ", ".join(FIELD_SETS)
            read.problems.add(node, read.child("field_sets"), f"no field set {name!r}", hint)
    return found


def _own(node: yaml.Node, read: Section) -> list[Declared]:
    path, problems = read.child("fields"), read.problems
    if not isinstance(node, yaml.MappingNode):
        problems.add(node, path, f"{path} holds names and what they are")
        return []
    found: dict[str, Declared] = {}
    for key, value in node.value:
        name = str(getattr(key, "value", ""))
        if not re.fullmatch(r"[a-z][a-z0-9_]{0,62}", name):
            problems.add(key, path, f"{name!r}: small letters, digits and underscores, 63 at most")
        elif name in FIELDS or name in EVERY:
            problems.add(key, path, f"{name!r} is a name that every pipeline has")
        elif name in found:
            problems.add(key, path, f"{name!r} stands here twice")
        elif (one := _one(name, value, f"{path}.{name}", problems)) is not None:
            found[name] = one
    return list(found.values())


def _one(name: str, node: yaml.Node, path: str, problems: Problems) -> Declared | None:
    part = nodes.section(node, path, problems, _KEYS)
    if part is None:
        return None
    part.require("type")
    kind = part.get("type", nodes.choice(*TYPES))
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
        kinds=part.get("kinds", _kinds) or frozenset(),
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


def _kinds(node: yaml.Node, path: str, problems: Problems) -> frozenset[Kind] | None:
    known = {kind.value: kind for kind in Kind}
    found = set()
    for word in nodes.texts(node, path, problems) or ():
        if word in known:
            found.add(known[word])
        else:
            problems.add(node, path, f"{word!r} is no kind of document", nearest(word, list(known)))
    return frozenset(found)


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
    wanted = TYPE_OF_FIELD[spec.type]
    if found is not wanted:
        part.problems.add(node, path, f"this is a {found.value}, the field a {wanted.value}")
        return None
    return expression
