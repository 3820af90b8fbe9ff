"""The names that expressions may use: one table, from which typing, evaluation and help come."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from enum import IntEnum, StrEnum
from typing import Final

from veridox.core.facts import Facts
from veridox.core.findings import Finding
from veridox.core.language.functions import Calls
from veridox.core.language.syntax import Literal, Percent, Type
from veridox.core.matching import Raised
from veridox.core.readers.mail.content import MailKind
from veridox.core.reading import FIELDS, FieldType, Kind
from veridox.core.tax import Treatment

Names = Mapping[str, Literal]
"""Values by name; a name that is not there is missing."""

TYPE_OF_FIELD: Final = {
    FieldType.TEXT: Type.TEXT,
    FieldType.CURRENCY: Type.TEXT,
    FieldType.DATE: Type.DATE,
    FieldType.MONEY: Type.MONEY,
    FieldType.NUMBER: Type.NUMBER,
    FieldType.RATE: Type.NUMBER,
    FieldType.CHOICE: Type.TEXT,
}
"""What a field's value is to expressions."""


class Scope(IntEnum):
    """From when on a name has a value; what is known at one stage is known at all later ones."""

    RUN = 0  # as soon as a run begins, before anything came in
    MAIL = 1  # as soon as a mail came in
    FILE = 2  # of each of its files, before it is read
    READING = 3  # once the pages were read
    CHECKED = 4  # once the checks looked at it
    DECIDED = 5  # at the gates
    STOPPED = 6  # once the gates said where it stands, and why
    POSTED = 7  # once it stands in the ledger


class Control(StrEnum):
    """Who decides what stands there. Recipients and deciders are never taken from a stranger."""

    STRANGER = "the document or its mail"
    OURS = "people of ours, or master data"


@dataclass(frozen=True, kw_only=True, slots=True)
class Subject:
    """What names speak of.

    Attributes:
        mail: names of the mail and the file (`naming.py`).
        facts: what is known when it is checked; None before.
        blocked: whether a blocking finding stands that nobody accepted; None before the checks.
        risk: the chance that a value about to be posted is wrong; None before the checks.
        findings: what the checks said.
        reasons: why it stands where it does, a sentence each.
        files: names of each file of the mail (`file.name` and the like, without `file.`).
        around: values of names that the service alone knows: where it waits, as what it was
            booked, its address in the console, what was said when the run began.
        calls: functions of plug-ins; None where there are none.
    """

    mail: Names = field(default_factory=dict)
    facts: Facts | None = None
    blocked: bool | None = None
    risk: Percent | None = None
    findings: tuple[Finding, ...] = ()
    reasons: tuple[str, ...] = ()
    files: tuple[Names, ...] = ()
    around: Names = field(default_factory=dict)
    calls: Calls | None = None


Getter = Callable[[Subject], Literal | None]


@dataclass(frozen=True, kw_only=True, slots=True)
class NameRow:
    """One name.

    Attributes:
        type: of its value.
        scope: from when on it has one.
        control: who decides what stands there.
        help: what it is, for the reference.
        get: where it comes from.
        title: what clerks call it, in the middle of a sentence.
        values: all that it may be, where that is a closed list.
        only: the one event at which it has a value; empty for all from its scope on.
    """

    type: Type
    scope: Scope
    control: Control
    help: str
    get: Getter
    title: str
    values: tuple[str, ...] = ()
    only: str = ""


def _of_mail(
    name: str, type_: Type, scope: Scope, title: str, about: str = "", values: tuple[str, ...] = ()
) -> tuple[str, NameRow]:
    return name, NameRow(
        type=type_, scope=scope, control=Control.STRANGER, help=about or title, title=title,
        values=values, get=lambda subject: subject.mail.get(name),
    )  # fmt: skip


def _of_field(name: str) -> tuple[str, NameRow]:
    spec = FIELDS[name]
    about = f"{spec.title} ({spec.term})" if spec.term else spec.title
    return name, NameRow(
        type=TYPE_OF_FIELD[spec.type], scope=Scope.READING, control=Control.STRANGER, help=about,
        title=f"the {spec.title[0].lower()}{spec.title[1:]}",
        get=lambda subject: subject.facts.reading.value(name) if subject.facts else None,
    )  # fmt: skip


Of = Callable[[Facts], Literal | None]


def _agreed(facts: Facts) -> Literal | None:
    issued, terms = facts.reading.day("issue_date"), facts.vendor.terms if facts.vendor else None
    return terms.due(issued) if terms is not None and issued is not None else None


def _ours(
    name: str, type_: Type, title: str, about: str, get: Of, *values: str
) -> tuple[str, NameRow]:
    return name, NameRow(
        type=type_, scope=Scope.CHECKED, control=Control.OURS, help=about, title=title,
        values=values,
        get=lambda subject: get(subject.facts) if subject.facts else None,
    )  # fmt: skip


def _read(name: str, title: str, about: str, get: Of, *values: str) -> tuple[str, NameRow]:
    return name, NameRow(
        type=Type.TEXT, scope=Scope.READING, control=Control.STRANGER, help=about, title=title,
        values=values, get=lambda subject: get(subject.facts) if subject.facts else None,
    )  # fmt: skip


def _around(
    name: str, scope: Scope, title: str, about: str, type_: Type = Type.TEXT, only: str = ""
) -> tuple[str, NameRow]:
    return name, NameRow(
        type=type_, scope=scope, control=Control.OURS, help=about, title=title, only=only,
        get=lambda subject: subject.around.get(name),
    )  # fmt: skip


END_OF_RUN: Final = "end of run"
"""The event at which counts of a run are known."""


def _of_run(name: str, about: str) -> tuple[str, NameRow]:
    return _around(f"run.{name}", Scope.RUN, about, about, Type.NUMBER, END_OF_RUN)


TABLE: Final[dict[str, NameRow]] = dict((
    *(_of_field(name) for name in FIELDS),
    _read("kind", "the kind of document", "kind of document",
          lambda f: f.reading.kind.value, *(kind.value for kind in Kind)),
    _read("language", "its language", "language of its words, as in ISO 639-1",
          lambda f: f.reading.language),
    ("blocked", NameRow(
        type=Type.TRUTH, scope=Scope.DECIDED, control=Control.OURS, title="something stops it",
        help="a blocking finding stands that nobody accepted", get=lambda s: s.blocked,
    )),
    ("risk", NameRow(
        type=Type.PERCENT, scope=Scope.DECIDED, control=Control.OURS,
        title="the chance that a value is wrong",
        help="chance that any value about to be posted is wrong", get=lambda s: s.risk,
    )),
    _ours("entity", Type.TEXT, "the company billed", "code of our company that is billed",
          lambda f: f.entity.code if f.entity else None),
    _ours("entity.name", Type.TEXT, "the company billed", "name of our company that is billed",
          lambda f: f.entity.name if f.entity else None),
    _ours("vendor.contact", Type.TEXT, "the vendor's contact",
          "address in the master data that letters go to",
          lambda f: f.vendor.contact if f.vendor else None),
    _ours("vendor.code", Type.TEXT, "the vendor's code", "code of the vendor in the master data",
          lambda f: f.vendor.code if f.vendor else None),
    _ours("vendor.name", Type.TEXT, "the vendor", "name of the vendor in the master data",
          lambda f: f.vendor.name if f.vendor else None),
    _ours("vendor.needs_order", Type.TRUTH, "the vendor delivers on orders only",
          "the vendor delivers on orders only",
          lambda f: f.vendor.needs_order if f.vendor else None),
    _ours("vendor.group", Type.TEXT, "the vendor's group", "group of the vendor",
          lambda f: f.vendor.group if f.vendor else None),
    _ours("vendor.country", Type.TEXT, "the vendor's country", "country of the vendor (ISO 3166)",
          lambda f: f.vendor.country if f.vendor else None),
    _ours("vendor.language", Type.TEXT, "the vendor's language",
          "language of letters to the vendor (ISO 639-1)",
          lambda f: f.vendor.language if f.vendor else None),
    _ours("vendor.treatment", Type.TEXT, "how the vendor is usually taxed",
          "how the vendor's bills are usually taxed",
          lambda f: f.vendor.treatment if f.vendor else None,
          *(each.value for each in Treatment)),
    _ours("vendor.first_bill", Type.TRUTH, "it is the vendor's first bill",
          "no bill of the vendor came before", lambda f: f.first_bill),
    _ours("vendor.due_date", Type.DATE, "the day on which it is due as agreed",
          "issue date with the terms agreed", _agreed),
    _ours("entity.country", Type.TEXT, "the country of the company billed",
          "country of our company that is billed",
          lambda f: f.entity.country if f.entity else None),
    _ours("entity.currency", Type.TEXT, "the currency of its books",
          "currency of the books of our company that is billed",
          lambda f: f.entity.currency if f.entity else None),
    _ours("posting.day", Type.DATE, "the day on which it is posted",
          "issue date, or the first day after it that is open in the books",
          lambda f: f.posting_day),
    _ours("sender.proven", Type.TRUTH, "the sender is proven",
          "our mail server found that the mail comes from where it says",
          lambda f: f.mail.sender.proves if f.mail.sender else None),
    _ours("order.number", Type.TEXT, "our order",
          "number of the order that it names, of several the first; all are in `orders`",
          lambda f: f.order.number if f.order else None),
    _ours("order.net_total", Type.MONEY, "the order's net total",
          "what was ordered, without tax; of several orders in one currency all together",
          lambda f: f.ordered),
    _ours("order.raised", Type.TEXT, "when the order was raised",
          "when the order was raised, seen from the issue date",
          lambda f: f.raised.value if f.raised else None, *(each.value for each in Raised)),
    _around("pipeline", Scope.RUN, "the pipeline", "name of the pipeline"),
    _around("run.number", Scope.RUN, "the run", "number of the run", Type.NUMBER),
    _around("run.began", Scope.RUN, "the day the run began", "day on which the run began",
            Type.DATE),
    _of_run("mails", "mails that came in during the run"),
    _of_run("files", "files that came in during the run"),
    _of_run("documents", "documents that were read from them"),
    _of_run("posted", "documents of the run that are posted"),
    _of_run("with_people", "documents of the run that wait for people"),
    _of_run("failed", "documents and files of the run that stopped for a technical reason"),
    _of_run("ended", "documents of the run that ended without being posted"),
    _of_run("under_way", "documents of the run that are still on their way"),
    _around("link", Scope.RUN, "its page", "address of its page in the console"),
    _around("mailbox", Scope.MAIL, "the mailbox", "name of the mailbox that it came from"),
    _around("queue", Scope.STOPPED, "the queue", "queue in which it waits"),
    _around("end_reason", Scope.STOPPED, "why it ended", "what was said when it ended"),
    _around("posting.number", Scope.POSTED, "the ledger's number", "number in the ledger"),
    _around("posting.link", Scope.POSTED, "its page in the ledger",
            "address of its page in the ledger"),
    _of_mail("sender.address", Type.TEXT, Scope.MAIL, "the sender's address",
             "address that the mail says it is from"),
    _of_mail("sender.name", Type.TEXT, Scope.MAIL, "the sender",
             "name that the mail says it is from"),
    _of_mail("recipients", Type.TEXT, Scope.MAIL, "the recipients",
             "addresses that it went to, with commas"),
    _of_mail("subject", Type.TEXT, Scope.MAIL, "the subject of the mail"),
    _of_mail("text", Type.TEXT, Scope.MAIL, "the text of the mail"),
    _of_mail("received", Type.DATE, Scope.MAIL, "the day on which it came in"),
    _of_mail("message.kind", Type.TEXT, Scope.MAIL, "the kind of mail",
             "letter, bounce, automatic reply, ...", tuple(kind.value for kind in MailKind)),
    _of_mail("file.name", Type.TEXT, Scope.FILE, "the name of the file"),
    _of_mail("file.type", Type.TEXT, Scope.FILE, "the type of the file",
             "media type of the file"),
    _of_mail("file.size", Type.NUMBER, Scope.FILE, "the size of the file",
             "size of the file in bytes"),
    _of_mail("file.position", Type.NUMBER, Scope.FILE, "the place of the file in its mail",
             "which file of its mail, from 1"),
))  # fmt: skip
"""Every name of the language."""

NAMES: Final[dict[str, Type]] = {name: row.type for name, row in TABLE.items()}
"""Every name with its type."""


def values_of(subject: Subject) -> dict[str, Literal]:
    """Values of all names that have one; besides them the mail's headers and declared fields."""
    told = {**subject.mail, **subject.around}
    found = {name: value for name, value in told.items() if value not in ("", None)}
    reading = subject.facts.reading if subject.facts else None
    for name in reading.fields if reading else ():
        if (value := reading.value(name)) is not None:  # type: ignore[union-attr]
            found[name] = value
    for name, row in TABLE.items():
        value = row.get(subject)
        if value is not None and value != "":
            found[name] = value
    return found


HEADERS: Final = "message.headers"
"""Followed by a header's name in brackets: `message.headers["x-topic"]`."""


def header_name(header: str) -> str:
    """The name by which a mail's header is known to expressions, whatever its capitals."""
    return f'{HEADERS}["{header.lower()}"]'
