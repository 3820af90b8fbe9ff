"""What a pipeline file says in the language: conditions, expressions, texts; each at its place."""

from collections.abc import Mapping

import yaml

from veridox.core.language import Expression, ExpressionError, Scope, compile_condition, known_at
from veridox.core.language.functions import is_of_plugin
from veridox.core.language.syntax import Type
from veridox.core.language.texts import Text, compile_text
from veridox.core.language.verdict import functions_in, verdict
from veridox.core.pipeline.file import nodes
from veridox.core.pipeline.file.nodes import Problems, Section


def names_at(problems: Problems, scope: Scope, event: str = "") -> Mapping[str, Type]:
    """Names with a value at a stage, those that the file itself declares among them."""
    own = problems.declared if scope >= Scope.READING else {}
    return {**known_at(scope, event), **problems.parameters, **own}


def condition_of(part: Section, key: str, scope: Scope, event: str = "") -> Expression | None:
    """The condition at a key; None when absent or wrong (then a problem is noted).

    One that is the same for every document is warned of.
    """
    source = part.get(key, nodes.text)
    if source is None:
        return None
    node, path = part.entries[key], part.child(key)
    try:
        found = compile_condition(source, names=names_at(part.problems, scope, event))
    except ExpressionError as error:
        part.problems.add(node, path, str(error), error.hint, error.at)
        return None
    if event:
        refuse_plugins(part, key, found)
    always = verdict(found)
    if always is not None:
        said = "always" if always else "never"
        part.problems.warn(node, path, f"this condition {said} holds", "what was meant?")
    return found


def refuse_plugins(part: Section, key: str, expression: Expression) -> None:
    """Note functions of plug-ins where none is asked: when a file is read, and at events."""
    for name in functions_in(expression):
        if is_of_plugin(name):
            message = f"{name} is a function of a plug-in, and plug-ins are not asked here"
            part.problems.add(
                part.entries[key], part.child(key), message,
                "rules of check, and the desk, are where they are asked",
            )  # fmt: skip


def text_of(part: Section, key: str, scope: Scope, event: str = "") -> Text | None:
    """The text at a key whose names are filled in; None when absent or wrong."""
    source = part.get(key, raw_text)
    if source is None:
        return None
    try:
        return compile_text(source, names_at(part.problems, scope, event))
    except ExpressionError as error:
        node = part.entries[key]
        part.problems.add(node, part.child(key), str(error), error.hint, error.at)
        return None


def raw_text(node: yaml.Node, path: str, problems: Problems) -> str | None:
    """A text with its line breaks as they are."""
    if isinstance(node, yaml.ScalarNode) and node.value.strip():
        return str(node.value)
    problems.add(node, path, f"{path} is a text")
    return None
