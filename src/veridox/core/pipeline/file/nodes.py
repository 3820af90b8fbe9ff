"""YAML as nodes with places, and readers that collect every problem."""

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import TypeVar

import yaml

from veridox.core.language.syntax import Type
from veridox.core.language.typing import nearest
from veridox.core.pipeline.file.keys import PARTS, Below, Plain

T = TypeVar("T")
MAX_NODES = 10_000
LONGEST = 200_000
"""Characters of a file."""
DEEPEST = 40
"""Mappings and lists within each other."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Problem:
    """Something wrong in a pipeline file.

    Attributes:
        line, column: from 1.
        message: what is wrong, quoting it.
        hint: what to do, empty when there is nothing to suggest.
        path: key path, as in `collect[1].mailbox`.
        part: name of the shared part that it stands in; empty for the file itself.
    """

    line: int
    column: int
    message: str
    hint: str = ""
    path: str = ""
    part: str = ""


Reader = Callable[[yaml.Node, str, "Problems"], T | None]


class Problems:
    """Collects problems; nothing stops at the first.

    Attributes:
        found: so far.
        warned: what is allowed, and hardly meant.
        declared: names that the file itself declares, with their types.
        parameters: names of the parameters of its runs, with their types.
        settled: nodes of which enough was said: what follows from it is not told again.
    """

    def __init__(self) -> None:
        self.found: list[Problem] = []
        self.warned: list[Problem] = []
        self.declared: dict[str, Type] = {}
        self.parameters: dict[str, Type] = {}
        self.settled: set[int] = set()

    def add(
        self, node: yaml.Node, path: str, message: str, hint: str = "", offset: int = 0
    ) -> None:
        """Note a problem at a node, `offset` characters into a plain scalar."""
        if id(node) not in self.settled:
            self.found.append(_at(node, path, message, hint, offset))

    def warn(
        self, node: yaml.Node, path: str, message: str, hint: str = "", offset: int = 0
    ) -> None:
        """The same for what is allowed, and hardly meant."""
        self.warned.append(_at(node, path, message, hint, offset))


def _at(node: yaml.Node, path: str, message: str, hint: str, offset: int) -> Problem:
    mark = node.start_mark
    quoted = isinstance(node, yaml.ScalarNode) and node.style in ("'", '"')
    line, column = mark.line + 1, mark.column + 1 + offset + (1 if quoted and offset else 0)
    if isinstance(node, yaml.ScalarNode) and node.style in ("|", ">"):
        # A block's text begins below its sign; where in it is not known by YAML.
        line, column = mark.line + 1, mark.column + 1
    return Problem(
        line=line, column=column, message=message, hint=hint, path=path,
        part="" if mark.name in _UNNAMED else str(mark.name),
    )  # fmt: skip


class _Loader(yaml.SafeLoader):
    """Builds no Python objects from tags, and goes only so deep."""

    depth = 0

    def compose_node(self, parent: yaml.Node | None, index: int) -> yaml.Node | None:
        """The next node; raises ComposerError beyond the depth."""
        self.depth += 1
        if self.depth > DEEPEST:
            mark = self.peek_event().start_mark  # type: ignore[no-untyped-call]
            raise yaml.composer.ComposerError(None, None, _TOO_DEEP, mark)
        try:
            found: yaml.Node | None = super().compose_node(parent, index)
        finally:
            self.depth -= 1
        return found


_UNNAMED = ("<unicode string>", "", None)


def compose(text: str, problems: Problems, part: str = "") -> yaml.Node | None:
    """The document's root node, or None with a problem noted.

    Args:
        text: of a file.
        problems: to which is added.
        part: name of the shared part that it is; empty for the file itself.
    """

    def wrong(message: str, hint: str = "", line: int = 1, column: int = 1) -> None:
        problems.found.append(
            Problem(line=line, column=column, message=message, hint=hint, part=part)
        )

    if len(text) > LONGEST:
        wrong(f"the file has {len(text):,} characters; {LONGEST:,} are the most")
        return None
    try:
        loader = _Loader(text)
        if part:
            loader.name = part  # what nodes say of where they stand
        try:
            root = loader.get_single_node()
        finally:
            loader.dispose()
    except yaml.MarkedYAMLError as error:
        mark = error.problem_mark or error.context_mark
        line, column = (mark.line + 1, mark.column + 1) if mark else (1, 1)
        said = error.problem or "not readable"
        hint = "indent with blanks, not with tabs" if "\\t" in said else ""
        wrong(said if said == _TOO_DEEP else f"this is not YAML: {said}", hint, line, column)
        return None
    except yaml.reader.ReaderError as error:
        wrong(f"this is not YAML: {error.reason}")
        return None
    if root is None:
        wrong("the file is empty")
        return None
    return root if _bounded(root, wrong, problems) else None


_TOO_DEEP = f"lists and mappings stand in each other more than {DEEPEST} deep"


def _bounded(root: yaml.Node, wrong: Callable[[str], None], problems: Problems) -> bool:
    """Whether it is small enough; tags, which mean nothing here, are told."""
    count = 0
    for node in _walk(root):
        count += 1
        if not str(node.tag).startswith("tag:yaml.org,2002:") or "python" in str(node.tag):
            problems.add(node, "", f"the tag {node.tag} means nothing here", "take it away")
            return False
    if count > MAX_NODES:
        wrong(f"the file says more than {MAX_NODES:,} things, repeated ones counted")
        return False
    return True


def _walk(root: yaml.Node) -> Iterator[yaml.Node]:
    # Aliases could make a small text endless; counting stops at the limit.
    stack, count = [root], 0
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
    """A mapping of the file with its keys checked.

    Attributes:
        node: where it stands.
        path: of keys, as people read it.
        part: its name in the table of keys.
        entries: what stands at its keys.
    """

    node: yaml.MappingNode
    path: str
    part: str
    entries: dict[str, yaml.Node]
    problems: Problems

    def child(self, key: str) -> str:
        """Path of a key."""
        return f"{self.path}.{key}" if self.path else key

    def get(self, key: str, reader: Reader[T]) -> T | None:
        """Read a key's value; None when absent or wrong (then a problem is noted)."""
        node = self.entries.get(key)
        return None if node is None else reader(node, self.child(key), self.problems)

    def chosen(self, key: str) -> str | None:
        """One of the words that the table of keys has for it."""
        return self.get(key, one_of(self._plain(key)))

    def all_chosen(self, key: str) -> tuple[str, ...]:
        """Any of the words that the table of keys has for it."""
        reader = one_of(self._plain(key))
        node = self.entries.get(key)
        if node is None:
            return ()
        items = node.value if isinstance(node, yaml.SequenceNode) else [node]
        found = (reader(item, self.child(key), self.problems) for item in items)
        return tuple(each for each in found if each is not None)

    def _plain(self, key: str) -> Plain:
        shape = PARTS[self.part][key].shape
        plain = shape.plain if isinstance(shape, Below) else shape
        assert plain is not None  # noqa: S101 - the table of keys is ours
        return plain

    def section(self, key: str) -> "Section | None":
        """A mapping below this one."""
        node = self.entries.get(key)
        return (
            None if node is None else section(node, self.child(key), self.problems, self._of(key))
        )

    def sections(self, key: str) -> "list[Section]":
        """The mappings of a list below this one; a problem when it is no list."""
        node, path = self.entries.get(key), self.child(key)
        if node is None:
            return []
        if not isinstance(node, yaml.SequenceNode):
            self.problems.add(node, path, f"{path} is a list; begin each item with a dash")
            return []
        found = (
            section(item, f"{path}[{index}]", self.problems, self._of(key))
            for index, item in enumerate(node.value, start=1)
        )
        return [each for each in found if each is not None]

    def _of(self, key: str) -> str:
        shape = PARTS[self.part][key].shape
        assert isinstance(shape, Below)  # noqa: S101 - the table of keys is ours
        return shape.part


def section(node: yaml.Node, path: str, problems: Problems, part: str) -> Section | None:
    """A mapping with the keys that the table has for its part.

    Every other key is a problem with a suggestion, and so is one that is missing, stands there
    twice, or asks for what cannot be done yet.
    """
    if not isinstance(node, yaml.MappingNode):
        problems.add(node, path, f"{path or 'the file'} holds keys and values, as in 'key: value'")
        return None
    keys = PARTS[part]
    entries: dict[str, yaml.Node] = {}
    for key, value in node.value:
        # YAML 1.1 reads the bare key `on` as a truth value; its text is what counts.
        name = key.value if isinstance(key, yaml.ScalarNode) else ""
        if name not in keys:
            ready = [each for each, about in keys.items() if about.ready]
            hint = nearest(name, list(keys)) or "known here: " + ", ".join(ready)
            problems.add(key, path, f"unknown key {name!r}", hint)
        elif not keys[name].ready:
            whole = f"{path}.{name}" if path else name
            problems.add(key, path, f"{whole} is not yet available")
        elif name in entries:
            problems.add(key, path, f"{name!r} stands here twice")
        else:
            entries[name] = value
    found = {str(getattr(key, "value", "")) for key, _ in node.value}
    for name, about in keys.items():
        if about.required and name not in found:
            problems.add(node, path, f"{path or 'the file'} needs {name!r}")
    return Section(node, path, part, entries, problems)


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


def some_texts(node: yaml.Node, path: str, problems: Problems) -> tuple[str, ...] | None:
    """The same with at least one: an empty list asks for nothing, or for everything."""
    found = texts(node, path, problems)
    if found == () and isinstance(node, yaml.SequenceNode) and not node.value:
        problems.add(node, path, f"{path} is an empty list", "name one, or take the key away")
        return None
    return found


def one_of(plain: Plain) -> Reader[str]:
    """A reader of one of the words that a key may have."""

    def read(node: yaml.Node, path: str, problems: Problems) -> str | None:
        value = text(node, path, problems)
        if value in plain.later:
            problems.add(node, path, f"{value!r} is not yet available for {path}")
            return None
        if value is not None and value not in plain.values:
            hint = nearest(value, list(plain.values)) or "one of: " + ", ".join(plain.values)
            said = f"is not {plain.what}" if plain.what else f"is not known for {path}"
            problems.add(node, path, f"{value!r} {said}", hint)
            return None
        return value

    return read
