"""The interface of plug-ins, version 1. A plug-in package imports this module and nothing else of
ours, and names what it brings as entry points:

    [project.entry-points."veridox.checks"]
    weekend = "my_package:weekend"
    [project.entry-points."veridox.functions"]
    fiscal_year = "my_package:fiscal_year"

Groups: `veridox.checks`, `veridox.functions`, `veridox.notices`, `veridox.ledgers`,
`veridox.readers`. A service loads only packages that its settings list (`VERIDOX_PLUGINS`), and
runs them in child processes with limits on time and memory, without its secrets, environment or
database. What they say is kept with the version of their package.
"""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any, Protocol

from veridox.client.readings import Field, Money, Reading, Value

API = 1
"""Version of this interface. It counts up when something here changes its meaning."""

__all__ = [
    "API",
    "Booked",
    "Document",
    "Field",
    "Function",
    "Ledger",
    "Message",
    "Money",
    "NoAnswer",
    "Notice",
    "Reader",
    "Reading",
    "Refusal",
    "Standing",
    "Told",
    "Unreachable",
    "Value",
]


@dataclass(frozen=True, kw_only=True)
class Document:
    """What a check looks at.

    Attributes:
        reading: header fields, lines, tax lines, with evidence.
        vendor, entity, order: codes of the master data; empty when not known. Of several orders
            the first.
        orders: numbers of all orders that it names and that are known.
        names: every name of the language that has a value, as a condition shows it.
    """

    reading: Reading
    vendor: str = ""
    entity: str = ""
    order: str = ""
    orders: tuple[str, ...] = ()
    names: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True)
class Told:
    """What a check says.

    Attributes:
        message: a sentence for clerks, with both figures where there are two.
        weight: `block`, `warn` or `note`.
        fields: that it is about, as `gross_total` or `lines[2].amount`.
        hint: what can be done.
        expected, found, difference: as people read them.
    """

    message: str
    weight: str = "warn"
    fields: tuple[str, ...] = ()
    hint: str = ""
    expected: str = ""
    found: str = ""
    difference: str = ""


Check = Callable[[Document], Iterable[Told]]
"""An entry point of `veridox.checks`."""


@dataclass(frozen=True, kw_only=True)
class Function:
    """An entry point of `veridox.functions`: the same arguments give the same answer.

    Attributes:
        takes, gives: types of the language: `number`, `percent` (a share), `money`, `date`,
            `duration` (timedelta), `text`, `truth`.
        run: computes it; may raise ValueError, with a message, when nothing follows.
        help: what it gives, for the reference.
        example: of its use.
    """

    takes: tuple[str, ...]
    gives: str
    run: Callable[..., Any]
    help: str
    example: str


@dataclass(frozen=True, kw_only=True)
class Message:
    """A message on its way out; `key` is the same for a repeat. Without a `subject` for a chat."""

    to: str
    text: str
    key: str
    subject: str = ""


class Unreachable(Exception):  # noqa: N818 - part of the interface, named for what is so
    """The other side certainly did nothing; it is tried again."""


class NoAnswer(Exception):  # noqa: N818
    """Asked, and no answer came: it may be done or not."""


class Notice(Protocol):
    """An entry point of `veridox.notices`: a class, made with settings and secret for each call.

    Attributes:
        kind: `outbox` for mails, `chat` for chat messages.
        settings: keys that a connection may set, with defaults; None for one that must be set.
    """

    kind: str
    settings: Mapping[str, Any]

    def __init__(self, settings: Mapping[str, Any], secret: str) -> None: ...

    def send(self, message: Message) -> None:
        """Hand over. Raises Unreachable to be tried again; anything else is a refusal."""
        ...


@dataclass(frozen=True, kw_only=True)
class Booked:
    """A bill that stands in the ledger: its key there, its number and address for people."""

    ledger_id: str
    number: str
    link: str = ""


@dataclass(frozen=True, kw_only=True)
class Refusal:
    """The ledger says no, in its words; `in_ledger` is the number of a bill that is not ours."""

    reasons: tuple[str, ...]
    in_ledger: str = ""


@dataclass(frozen=True, kw_only=True)
class Standing:
    """A bill read back: its total, amounts of its lines in order, SHA-256 of attachments."""

    gross_total: str
    lines: tuple[str, ...] = ()
    attachments: tuple[str, ...] = ()


class Ledger(Protocol):
    """An entry point of `veridox.ledgers`: a class, made with settings and secret for each call.

    Bills are mappings with amounts as texts (docs/reference: the bill).

    Attributes:
        settings: keys that a connection may set, with defaults; None for one that must be set.
        repeats_safely: whether a request with the same reference books once.
        late_window: seconds within which it may still book what it did not answer.
    """

    settings: Mapping[str, Any]
    repeats_safely: bool
    late_window: float

    def __init__(self, settings: Mapping[str, Any], secret: str) -> None: ...

    def rehearse(self, bill: Mapping[str, Any]) -> Refusal | None:
        """All of the ledger's own checks; writes nothing."""
        ...

    def post(self, reference: str, bill: Mapping[str, Any]) -> Booked | Refusal:
        """Book. Raises Unreachable, or NoAnswer when it may or may not be booked."""
        ...

    def find(self, reference: str) -> Booked | None:
        """The bill that carries our reference."""
        ...

    def attach(self, ledger_id: str, name: str, content: bytes, sha256: str) -> None:
        """Attach a file; the same file again changes nothing."""
        ...

    def read_back(self, ledger_id: str) -> Standing:
        """The bill as it stands."""
        ...


class Reader(Protocol):
    """An entry point of `veridox.readers`: for files that nothing of ours reads.

    Attributes:
        suffixes: of names of files, with the dot and in small letters.
    """

    suffixes: tuple[str, ...]

    def read(self, name: str, content: bytes) -> Iterable[Mapping[str, Any]]:
        """One mapping for each document: `kind`, `fields` (name to text as it is printed),
        `lines` (a list of such). Values are taken as typed by a person of that language would be:
        `1,250.00 GBP`, `2026-03-31`. Raises ValueError when the file is none of its own."""
        ...
