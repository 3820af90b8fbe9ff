"""The process in which plug-ins run. Started as `python -I -m veridox.pluginhost.child`."""

import ctypes
import os
from functools import partial
from importlib.metadata import EntryPoint, entry_points
from typing import IO, Any

from veridox.readerpool.child import answer_tasks, die_with_parent
from veridox.readerpool.frames import read_frame

CLONE_NEWUSER, CLONE_NEWNET = 0x10000000, 0x40000000
GROUPS = {
    "veridox.checks": "check", "veridox.functions": "function", "veridox.notices": "notice",
    "veridox.ledgers": "ledger", "veridox.readers": "reader",
}  # fmt: skip

Answer = tuple[dict[str, Any], list[bytes]]


class Loaded:
    """What the listed packages bring."""

    def __init__(self, packages: list[str]) -> None:
        wanted = {_normal(each) for each in packages}
        self.points: dict[tuple[str, str], EntryPoint] = {}
        self.clashes: list[str] = []
        self.found: set[str] = set()
        for group, kind in GROUPS.items():
            for point in entry_points(group=group):
                package = _normal(point.dist.name) if point.dist else ""
                if package not in wanted:
                    continue
                self.found.add(package)
                if (kind, point.name) in self.points:
                    self.clashes.append(f"two packages bring a {kind} {point.name!r}")
                self.points.setdefault((kind, point.name), point)
        self.absent = sorted(wanted - self.found)
        self._objects: dict[tuple[str, str], Any] = {}

    def object(self, kind: str, name: str) -> Any:
        """A plug-in, loaded when it is first asked."""
        key = (kind, name)
        if key not in self._objects:
            self._objects[key] = self.points[key].load()
        return self._objects[key]


def _normal(name: str) -> str:
    return name.lower().replace("_", "-").strip()


def describe(loaded: Loaded, header: dict[str, Any]) -> Answer:
    """Every plug-in with its version and what it declares; what cannot be loaded says why."""
    from veridox.plugins import API

    del header
    rows = []
    for (kind, name), point in loaded.points.items():
        row: dict[str, Any] = {
            "kind": kind, "name": name, "package": point.dist.name if point.dist else "",
            "version": point.dist.version if point.dist else "", "problem": "",
        }  # fmt: skip
        try:
            made = loaded.object(kind, name)
            api = getattr(made, "api", API)
            if api != API:
                raise ValueError(f"made for interface {api}; this release has {API}")
            row |= _declared(kind, made)
        except Exception as error:  # noqa: BLE001 - a foreign module may raise anything
            row["problem"] = _said(error)
        rows.append(row)
    return {"plugins": rows, "absent": loaded.absent, "clashes": loaded.clashes}, []


def _declared(kind: str, made: Any) -> dict[str, Any]:
    if kind == "function":
        return {"takes": list(made.takes), "gives": made.gives, "help": made.help,
                "example": made.example}  # fmt: skip
    if kind == "notice":
        return {"sends": made.kind, "settings": dict(made.settings)}
    if kind == "ledger":
        return {"settings": dict(made.settings), "repeats_safely": bool(made.repeats_safely),
                "late_window": float(made.late_window)}  # fmt: skip
    if kind == "reader":
        return {"suffixes": list(made.suffixes)}
    return {}


def check(loaded: Loaded, header: dict[str, Any]) -> Answer:
    """What a check says of a document."""
    from veridox.client.readings import reading_of
    from veridox.plugins import Document

    document = Document(
        reading=reading_of(header["reading"]), vendor=header["vendor"], entity=header["entity"],
        order=header["order"], orders=tuple(header["orders"]), names=header["names"],
    )  # fmt: skip
    rows = []
    for each in loaded.object("check", header["name"])(document):
        rows.append({
            key: list(value) if isinstance(value := getattr(each, key), tuple) else value
            for key in ("message", "weight", "fields", "hint", "expected", "found", "difference")
        })  # fmt: skip
        if len(rows) > 200:
            raise ValueError("it said more than 200 things of one document")
    return {"told": rows}, []


def function(loaded: Loaded, header: dict[str, Any]) -> Answer:
    """What a function gives."""
    made = loaded.object("function", header["name"])
    values = [_plain(each) for each in header["values"]]
    try:
        given = made.run(*values)
    except ValueError as error:
        return {"nothing": _said(error)}, []
    return {"value": _typed(given, made.gives)}, []


def _plain(data: dict[str, str]) -> Any:
    from datetime import date, timedelta
    from decimal import Decimal

    from veridox.plugins import Money

    kind, text = data["type"], data["value"]
    if kind == "money":
        return Money(amount=Decimal(text), currency=data["currency"])
    makers = {
        "number": Decimal, "percent": Decimal, "date": date.fromisoformat,
        "duration": lambda days: timedelta(days=int(days)), "truth": lambda word: word == "true",
    }  # fmt: skip
    return makers.get(kind, str)(text)  # type: ignore[operator]


def _typed(value: Any, kind: str) -> dict[str, str]:
    if kind == "money":
        return {"type": "money", "value": str(value.amount), "currency": str(value.currency)}
    if kind == "duration":
        return {"type": kind, "value": str(value.days)}
    if kind == "truth":
        return {"type": kind if isinstance(value, bool) else type(value).__name__,
                "value": "true" if value else "false"}  # fmt: skip
    if kind == "date":
        return {"type": kind, "value": value.isoformat()}
    if isinstance(value, float):
        return {"type": "float", "value": str(value)}
    return {"type": kind, "value": str(value)}


def read(loaded: Loaded, header: dict[str, Any], blobs: list[bytes]) -> Answer:
    """What a reader makes of a file."""
    documents = []
    for each in loaded.object("reader", header["name"])().read(header["file"], blobs[0]):
        documents.append({
            "kind": str(each.get("kind", "invoice")),
            "fields": {str(k): str(v) for k, v in dict(each.get("fields") or {}).items()},
            "lines": [
                {str(k): str(v) for k, v in dict(row).items()} for row in each.get("lines") or ()
            ],
        })  # fmt: skip
        if len(documents) > 100:
            raise ValueError("it read more than 100 documents from one file")
    return {"documents": documents}, []


def ledger(loaded: Loaded, header: dict[str, Any], blobs: list[bytes]) -> Answer:
    """One call of a ledger."""
    from dataclasses import asdict

    from veridox.plugins import Booked, NoAnswer, Refusal, Standing, Unreachable

    made = loaded.object("ledger", header["name"])(header["settings"], header["secret"])
    arguments = dict(header["arguments"])
    if header["call"] == "attach":
        arguments["content"] = blobs[0]
    try:
        given = getattr(made, header["call"])(**arguments)
    except Unreachable as error:
        return {"unreachable": _said(error)}, []
    except NoAnswer as error:
        return {"no_answer": _said(error)}, []
    if given is None:
        return {"given": "nothing"}, []
    if not isinstance(given, Booked | Refusal | Standing):
        raise TypeError(f"{header['call']} gave a {type(given).__name__}")
    return {"given": type(given).__name__.lower(), **asdict(given)}, []


def notice(loaded: Loaded, header: dict[str, Any]) -> Answer:
    """Send one message."""
    from veridox.plugins import Message, Unreachable

    made = loaded.object("notice", header["name"])(header["settings"], header["secret"])
    try:
        made.send(Message(**header["message"]))
    except Unreachable as error:
        return {"unreachable": _said(error)}, []
    return {"given": "sent"}, []


def _said(error: BaseException) -> str:
    text = f"{type(error).__name__}: {error}" if str(error) else type(error).__name__
    return " ".join(text.split())[:500]


def run(loaded: Loaded, header: dict[str, Any], blobs: list[bytes]) -> Answer:
    """Do a task; a plug-in that raises is told, and the process goes on."""
    task = header["task"]
    try:
        if task in ("read", "ledger"):
            return {"read": read, "ledger": ledger}[task](loaded, header, blobs)
        tasks = {"describe": describe, "check": check, "function": function, "notice": notice}
        return tasks[task](loaded, header)
    except MemoryError:
        return {"stopped": "memory"}, []
    except Exception as error:  # noqa: BLE001 - a plug-in may raise anything
        return {"failed": _said(error)}, []
    except (SystemExit, KeyboardInterrupt) as error:
        return {"failed": _said(error)}, []


def _without_network() -> None:
    """As far as the machine lets: a network of its own with nothing in it."""
    ctypes.CDLL(None).unshare(CLONE_NEWUSER | CLONE_NEWNET)


def serve(source: IO[bytes], sink: IO[bytes]) -> None:
    """Answer tasks until the input ends."""
    first, _ = read_frame(source)
    if not first.get("network"):
        _without_network()
    loaded = Loaded(list(first["packages"]))
    answer_tasks(source, sink, first, partial(run, loaded))


def main() -> None:
    """Entry point. Standard output is the pipe: what a plug-in prints goes nowhere."""
    die_with_parent()
    sink = os.fdopen(os.dup(1), "wb")
    os.dup2(2, 1)
    source = os.fdopen(os.dup(0), "rb")
    os.dup2(os.open(os.devnull, os.O_RDONLY), 0)
    serve(source, sink)


if __name__ == "__main__":
    main()
