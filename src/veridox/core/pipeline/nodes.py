"""YAML as nodes with places, and readers that collect every problem."""

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import TypeVar

import yaml

from veridox.core.language.syntax import Type
from veridox.core.language.typing import nearest

T = TypeVar("T")
MAX_NODES = 10_000


@dataclass(frozen=True, kw_only=True, slots=True)
class Problem:
    """Something wrong in a pipeline file.

    Attributes:
        line, column: from 1.
        message: what is wrong, quoting it.
        hint: what to do, empty when there is nothing to suggest.
        path: key path, as in `collect[1].mailbox`.
    """

    line: int
    column: int
    message: str
    hint: str = ""
    path: str = ""


class Problems:
    """Collects problems; nothing stops at the first.

    Attributes:
        found: so far.
        declared: names that the file itself declares, with their types.
    """

    def __init__(self) -> None:
        self.found: list[Problem] = []
        self.declared: dict[str, Type] = {}

    def add(
        self, node: yaml.Node, path: str, message: str, hint: str = "", offset: int = 0
    ) -> None:
        """Note a problem at a node, `offset` characters into a plain scalar."""
        mark = node.start_mark
        quoted = isinstance(node, yaml.ScalarNode) and node.style in ("'", '"')
        column = mark.column + 1 + offset + (1 if quoted and offset else 0)
        self.found.append(
            Problem(line=mark.line + 1, column=column, message=message, hint=hint, path=path)
        )


def compose(text: str, problems: Problems) -> yaml.Node | None:
    """The document's root node, or None with a problem noted."""
    try:
        # Composing builds no Python objects from tags; SafeLoader bounds the rest.
        loader = yaml.SafeLoader(text)
        try:
            root = loader.get_single_node()
        finally:
            loader.dispose()
    except yaml.MarkedYAMLError as error:
        mark = error.problem_mark or error.context_mark
        line, column = (mark.line + 1, mark.column + 1) if mark else (1, 1)
        what = error.problem or "not readable"
        problems.found.append(
            Problem(line=line, column=column, message=f"this is not YAML: {what}")
        )
        return None
    except yaml.reader.ReaderError as error:
        problems.found.append(
            Problem(line=1, column=1, message=f"this is not YAML: {error.reason}")
        )
        return None
    if root is None:
        problems.found.append(Problem(line=1, column=1, message="the file is empty"))
        return None
    if sum(1 for _ in _walk(root)) > MAX_NODES:
        problems.found.append(Problem(line=1, column=1, message="the file is too large"))
        return None
    return root


def _walk(node: yaml.Node) -> Iterator[yaml.Node]:
    # Aliases could make a small text endless; counting stops at the limit.
    stack, count = [node], 0
    while stack and count <= MAX_NODES:
        current = stack.pop()
        count += 1
        yield current
        if isinstance(current, yaml.SequenceNode):
            stack.extend(current.value)
        elif isinstance(current, yaml.MappingNode):
            for key, value in current.value:
                stack.extend((key, value))


@dataclass(frozen=True, slots=True)
class Section:
    """A mapping of the file with its keys checked."""

    node: yaml.MappingNode
    path: str
    entries: dict[str, yaml.Node]
    problems: Problems

    def child(self, key: str) -> str:
        """Path of a key."""
        return f"{self.path}.{key}" if self.path else key

    def require(self, *keys: str) -> None:
        """Note each key that is not there."""
        for key in keys:
            if key not in self.entries:
                where = self.path or "the file"
                self.problems.add(self.node, self.path, f"{where} needs {key!r}")

    def get(self, key: str, reader: Callable[[yaml.Node, str, Problems], T | None]) -> T | None:
        """Read a key's value; None when absent or wrong (then a problem is noted)."""
        node = self.entries.get(key)
        return None if node is None else reader(node, self.child(key), self.problems)

    def section(self, key: str, *allowed: str) -> "Section | None":
        """A mapping below this one."""
        node = self.entries.get(key)
        if node is None:
            return None
        return section(node, self.child(key), self.problems, allowed)

    def items(self, key: str) -> list[tuple[yaml.Node, str]]:
        """The items of a list with their paths; a problem when it is no list."""
        node = self.entries.get(key)
        path = self.child(key)
        if node is None:
            return []
        if not isinstance(node, yaml.SequenceNode):
            self.problems.add(node, path, f"{path} is a list; begin each item with a dash")
            return []
        return [(item, f"{path}[{index}]") for index, item in enumerate(node.value, start=1)]


def section(
    node: yaml.Node, path: str, problems: Problems, allowed: tuple[str, ...]
) -> Section | None:
    """A mapping with only the allowed keys; every other key is a problem with a suggestion."""
    if not isinstance(node, yaml.MappingNode):
        problems.add(node, path, f"{path or 'the file'} holds keys and values, as in 'key: value'")
        return None
    entries: dict[str, yaml.Node] = {}
    for key, value in node.value:
        # YAML 1.1 reads the bare key `on` as a truth value; its text is what counts.
        name = key.value if isinstance(key, yaml.ScalarNode) else ""
        if name not in allowed:
            hint = nearest(name, list(allowed)) or "known here: " + ", ".join(allowed)
            problems.add(key, path, f"unknown key {name!r}", hint)
        elif name in entries:
            problems.add(key, path, f"{name!r} stands here twice")
        else:
            entries[name] = value
    return Section(node, path, entries, problems)


def text(node: yaml.Node, path: str, problems: Problems) -> str | None:
    """A plain text of at least one character."""
    if isinstance(node, yaml.ScalarNode) and node.value.strip():
        return str(node.value).strip()
    problems.add(node, path, f"{path} is a text")
    return None


def slug(node: yaml.Node, path: str, problems: Problems) -> str | None:
    """A name of small letters, digits and dashes."""
    value = text(node, path, problems)
    if value is not None and not re.fullmatch(r"[a-z0-9][a-z0-9-]{0,62}", value):
        problems.add(node, path, f"{value!r}: small letters, digits and dashes, 63 at most")
        return None
    return value


def truth(node: yaml.Node, path: str, problems: Problems) -> bool | None:
    """`true` or `false`."""
    if isinstance(node, yaml.ScalarNode) and node.value.lower() in ("true", "false"):
        return bool(node.value.lower() == "true")
    problems.add(node, path, f"{path} is true or false")
    return None


def texts(node: yaml.Node, path: str, problems: Problems) -> tuple[str, ...] | None:
    """A list of texts; one text alone counts as a list of one."""
    if isinstance(node, yaml.SequenceNode):
        found = [text(item, path, problems) for item in node.value]
        return tuple(item for item in found if item is not None)
    one = text(node, path, problems)
    return None if one is None else (one,)


def choice(*allowed: str) -> Callable[[yaml.Node, str, Problems], str | None]:
    """A reader of one of the given words."""

    def read(node: yaml.Node, path: str, problems: Problems) -> str | None:
        value = text(node, path, problems)
        if value is not None and value not in allowed:
            hint = nearest(value, list(allowed)) or "one of: " + ", ".join(allowed)
            problems.add(node, path, f"{value!r} is not known for {path}", hint)
            return None
        return value

    return read
