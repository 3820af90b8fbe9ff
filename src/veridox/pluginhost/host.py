"""Asks plug-ins: what they are, and what they say. Whatever they do ends here."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from keyword import iskeyword
from typing import Any, Final

from veridox.core.language.functions import (
    FUNCTIONS,
    NotEvaluableError,
    add_function,
    is_of_plugin,
)
from veridox.core.language.syntax import Literal, Type
from veridox.pluginhost.values import NonsenseError, from_json, to_json
from veridox.readerpool.crew import Crew, PoolLimits, ReaderStoppedError

CHILD: Final = "veridox.pluginhost.child"
TYPES: Final = {kind.value: kind for kind in Type if kind is not Type.LIST}


class PluginStoppedError(Exception):
    """A plug-in raised, hung, needed too much, or answered what is no answer; says which."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Described:
    """One plug-in.

    Attributes:
        kind: `check`, `function`, `notice`, `ledger` or `reader`.
        name: of its entry point.
        package, version: of its distribution.
        problem: why it cannot be used; empty when it can.
        declared: what it says of itself.
    """

    kind: str
    name: str
    package: str
    version: str
    problem: str = ""
    declared: Mapping[str, Any] = field(default_factory=dict)

    def __str__(self) -> str:
        return f"{self.name} ({self.package} {self.version})"


class PluginHost:
    """Runs the plug-ins of some packages. Thread-safe; call `close` at the end.

    Args:
        packages: names of installed distributions; no other is loaded.
        size: most processes at once, of each kind.
        limits: of processes without a network; those of ledgers and notices have the same.
    """

    def __init__(
        self, packages: Sequence[str], *, size: int = 2, limits: PoolLimits | None = None
    ) -> None:
        base = limits or PoolLimits(cpu_seconds=5, wall_seconds=10.0, data_bytes=300 * 2**20)
        self.packages = tuple(packages)
        self._quiet = Crew(size, _with(base, self.packages, network=False))
        self._outward = Crew(size, _with(base, self.packages, network=True))

    @cached_property
    def plugins(self) -> tuple[Described, ...]:
        """What the packages bring; what cannot be used says why."""
        try:
            answer = self._run(self._quiet, {"task": "describe"})
        except PluginStoppedError as error:
            every = ", ".join(self.packages)
            return (_none("package", every, f"they cannot be loaded: {error}"),)
        rows = []
        for row in answer["plugins"]:
            known = {key: str(row[key]) for key in ("kind", "name", "package", "version")}
            declared = {key: row[key] for key in row if key not in (*known, "problem")}
            problem = row["problem"] or _wrong(known["kind"], known["name"], declared)
            rows.append(Described(**known, problem=problem, declared=declared))
        absent = "no package with plug-ins is installed under this name"
        rows += [_none("package", each, absent) for each in answer["absent"]]
        rows += [_none("package", each, "only the first is used") for each in answer["clashes"]]
        return tuple(rows)

    def of(self, kind: str) -> tuple[Described, ...]:
        """Usable ones of a kind."""
        return tuple(each for each in self.plugins if each.kind == kind and not each.problem)

    @property
    def broken(self) -> tuple[Described, ...]:
        """What is listed and cannot be asked of a document: what it would say is not known."""
        asked = ("check", "function", "package")
        return tuple(each for each in self.plugins if each.problem and each.kind in asked)

    @property
    def digest(self) -> str:
        """Names and versions of all that is asked of a document; empty for nothing."""
        asked = (*self.of("check"), *self.of("function"), *self.broken)
        return ", ".join(sorted(f"{each.name} {each.version}".strip() for each in asked))

    def add_functions(self) -> None:
        """Have their functions in the language. Raises FunctionTakenError."""
        for each in self.of("function"):
            takes = tuple(TYPES[kind] for kind in each.declared["takes"])
            add_function(
                each.name, takes, TYPES[each.declared["gives"]],
                str(each.declared["help"]), str(each.declared["example"]),
            )  # fmt: skip

    def check(self, name: str, document: Mapping[str, Any]) -> list[dict[str, Any]]:
        """What a check says: rows as of `plugins.Told`. Raises PluginStoppedError."""
        answer = self._run(self._quiet, {"task": "check", "name": name, **document})
        told = answer.get("told")
        if not isinstance(told, list):
            raise PluginStoppedError("it answered what is no list of findings")
        return [_row(each) for each in told]

    def call(self, name: str, values: Sequence[Literal], gives: Type) -> Literal:
        """What a function gives. Raises PluginStoppedError or NotEvaluableError."""
        header = {"task": "function", "name": name, "values": [to_json(each) for each in values]}
        answer = self._run(self._quiet, header)
        if "nothing" in answer:
            raise NotEvaluableError(str(answer["nothing"]))
        try:
            return from_json(answer.get("value"), gives)
        except NonsenseError as error:
            raise PluginStoppedError(str(error)) from error

    def read(self, name: str, file: str, content: bytes) -> list[dict[str, Any]]:
        """What a reader makes of a file. Raises PluginStoppedError."""
        answer = self._run(self._quiet, {"task": "read", "name": name, "file": file}, [content])
        return list(answer["documents"])

    def outward(
        self, task: str, name: str, settings: Mapping[str, Any], secret: str,
        content: bytes | None = None, **more: Any,
    ) -> dict[str, Any]:  # fmt: skip
        """A call of a ledger or notice, with the secret of its connection alone.

        Raises:
            PluginStoppedError: it raised, or did not answer in time: what it did is not known.
        """
        header = {"task": task, "name": name, "settings": dict(settings), "secret": secret, **more}
        return self._run(self._outward, header, [] if content is None else [content])

    @staticmethod
    def _run(
        crew: Crew, header: dict[str, Any], blobs: list[bytes] | None = None
    ) -> dict[str, Any]:
        try:
            answer, _ = crew.run(header, blobs or [])
        except ReaderStoppedError as error:
            said = {"time": "it took longer than allowed", "memory": "it needed more memory than "
                    "allowed"}.get(error.reason, "its process ended")  # fmt: skip
            raise PluginStoppedError(said) from error
        if "failed" in answer:
            raise PluginStoppedError(str(answer["failed"]))
        return answer

    def close(self) -> None:
        """End its processes."""
        self._quiet.close()
        self._outward.close()


def _none(kind: str, name: str, problem: str) -> Described:
    return Described(kind=kind, name=name, package=name, version="", problem=problem)


def _with(limits: PoolLimits, packages: tuple[str, ...], *, network: bool) -> PoolLimits:
    return replace(limits, child=CHILD, given={"packages": list(packages), "network": network})


def _wrong(kind: str, name: str, declared: Mapping[str, Any]) -> str:
    """Why what a plug-in says of itself cannot be used; empty when it can."""
    if kind == "function":
        return _wrong_function(name, declared)
    if kind == "notice" and declared.get("sends") not in ("outbox", "chat"):
        return "a notice is of the kind outbox or chat"
    if kind in ("ledger", "notice"):
        return _wrong_settings(declared.get("settings"))
    return ""


def _wrong_function(name: str, declared: Mapping[str, Any]) -> str:
    for each in (*declared.get("takes", ()), declared.get("gives")):
        if each not in TYPES:
            return f"{each!r} is no type of the language; there are {', '.join(TYPES)}"
    if not re.fullmatch(r"[a-z][a-z0-9_]{0,39}", name):
        return "a function's name has small letters, digits and underscores, 40 at most"
    if name in FUNCTIONS and not is_of_plugin(name):
        return f"the language has a function {name} already"
    return ""


def _wrong_settings(settings: object) -> str:
    if not isinstance(settings, Mapping):
        return "settings are keys with their usual values"
    for key, usual in settings.items():
        if not (isinstance(key, str) and key.isidentifier() and not iskeyword(key)):
            return f"{key!r} is no key of a setting"
        if usual is not None and type(usual) not in (str, int, bool):
            return f"the setting {key} is usually a text, a whole number, true or false, or None"
    return ""


def _row(data: Any) -> dict[str, Any]:
    """A finding's row. Raises PluginStoppedError for nonsense."""
    texts = ("message", "weight", "hint", "expected", "found", "difference")
    if not isinstance(data, dict) or not all(isinstance(data.get(key), str) for key in texts):
        raise PluginStoppedError("it answered what is no finding")
    fields = data.get("fields")
    if not isinstance(fields, list) or not all(isinstance(each, str) for each in fields):
        raise PluginStoppedError("it answered what is no finding")
    if data["weight"] not in ("block", "warn", "note") or not data["message"].strip():
        raise PluginStoppedError(f"it answered a finding of the weight {data['weight'][:30]!r}")
    return {**{key: " ".join(data[key].split())[:1_000] for key in texts}, "fields": fields[:20]}
