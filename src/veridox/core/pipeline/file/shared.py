"""A pipeline file joined with its shared parts, and with values of the environment filled in."""

import re
from collections.abc import Mapping
from typing import Final

import yaml

from veridox.core.language.typing import nearest
from veridox.core.pipeline.file import nodes
from veridox.core.pipeline.file.keys import PARTS
from veridox.core.pipeline.file.nodes import Problems

_VALUE: Final = re.compile(r"=\s*environment\.([A-Za-z0-9_]+)\s*")
_OWN: Final = ("pipeline", "shared")
"""Keys that a shared part does not have."""
_SECRETS: Final = (
    (re.compile(r"://[^/\s:@]+:[^/\s@]+@"), "an address with a password in it"),
    (re.compile(r"-----BEGIN [A-Z ]*PRIVATE KEY"), "a private key"),
    (re.compile(r"\b(?:password|passwd|secret|api[_-]?key|token)\s*[:=]\s*\S+", re.IGNORECASE),
     "a secret"),
)  # fmt: skip


def values_used(text: str, parts: Mapping[str, str]) -> frozenset[str]:
    """Names of the environment's values that a file and its shared parts may ask for."""
    asked = re.compile(r"=\s*environment\.([A-Za-z0-9_]+)")
    return frozenset(name for each in (text, *parts.values()) for name in asked.findall(each))


def composed(
    text: str, parts: Mapping[str, str], values: Mapping[str, str], problems: Problems
) -> yaml.Node | None:
    """The root node of a file with all that it shares; None with problems noted."""
    root = nodes.compose(text, problems)
    if root is None:
        return None
    if isinstance(root, yaml.MappingNode):
        for name in _shared(root, parts, problems):
            part = nodes.compose(parts[name], problems, name)
            if isinstance(part, yaml.MappingNode):
                _look_at(part, name, problems)
                _join(root, part, top=True)
            elif part is not None:
                problems.add(part, "", f"the shared part {name} holds keys and values")
    _fill_in(root, values, problems)
    return root


def _shared(root: yaml.MappingNode, parts: Mapping[str, str], problems: Problems) -> list[str]:
    found = []
    for key, value in root.value:
        if getattr(key, "value", "") != "shared":
            continue
        items = value.value if isinstance(value, yaml.SequenceNode) else [value]
        for item in items:
            name = nodes.slug(item, "shared", problems)
            if name is None:
                continue
            if name in parts:
                found.append(name)
            else:
                hint = nearest(name, list(parts)) or f"it is the file {name}.shared.yaml"
                problems.add(item, "shared", f"there is no shared part {name!r}", hint)
    return list(dict.fromkeys(found))


def _look_at(part: yaml.MappingNode, name: str, problems: Problems) -> None:
    for key, _ in part.value:
        word = str(getattr(key, "value", ""))
        if word in _OWN or word not in PARTS[""]:
            hint = nearest(word, [each for each in PARTS[""] if each not in _OWN])
            problems.add(key, "", f"the shared part {name} has no {word!r}", hint)
    part.value = [
        (key, value) for key, value in part.value if getattr(key, "value", "") in PARTS[""]
    ]


def _join(own: yaml.MappingNode, shared: yaml.MappingNode, *, top: bool = False) -> None:
    """Add what is shared: what stands there already prevails, lists are joined."""
    there = {str(getattr(key, "value", "")): value for key, value in own.value}
    for key, value in shared.value:
        name = str(getattr(key, "value", ""))
        if top and name in _OWN:
            continue
        mine = there.get(name)
        if mine is None:
            own.value.append((key, value))
        elif isinstance(mine, yaml.MappingNode) and isinstance(value, yaml.MappingNode):
            _join(mine, value)
        elif isinstance(mine, yaml.SequenceNode) and isinstance(value, yaml.SequenceNode):
            mine.value = [*mine.value, *value.value]


def _fill_in(root: yaml.Node, values: Mapping[str, str], problems: Problems) -> None:
    """Values of the environment; what looks like a secret is told."""
    stack, seen = [root], set[int]()
    while stack:
        node = stack.pop()
        if id(node) in seen:
            continue
        seen.add(id(node))
        if isinstance(node, yaml.MappingNode):
            stack += [each for pair in node.value for each in pair]
        elif isinstance(node, yaml.SequenceNode):
            stack += node.value
        elif isinstance(node, yaml.ScalarNode):
            _scalar(node, values, problems)


def _scalar(node: yaml.ScalarNode, values: Mapping[str, str], problems: Problems) -> None:
    for pattern, what in _SECRETS:
        if pattern.search(node.value):
            hint = "secrets belong to connections: veridox connection secret"
            problems.add(node, "", f"{what} stands here; no secret is kept in a file", hint)
    match = _VALUE.fullmatch(node.value)
    if match is None:
        return
    if match[1] not in values:
        listed = ", ".join(sorted(values)) or "none"
        hint = nearest(match[1], list(values)) or f"listed are: {listed}"
        message = f"the settings list no value {match[1]!r} for pipelines"
        problems.add(node, "", message, hint)
        problems.settled.add(id(node))
        return
    node.value = values[match[1]]
