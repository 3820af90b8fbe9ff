"""What a pipeline file says, as values."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Final

from veridox.core.checks import CODES
from veridox.core.coding import Dimension
from veridox.core.facts import CheckSettings
from veridox.core.findings import Weight
from veridox.core.language import Expression
from veridox.core.language.texts import Text
from veridox.core.pipeline.parameters import Parameter
from veridox.core.pipeline.schedule import Schedule
from veridox.core.pipeline.wanted import Wanted
from veridox.core.reading import ExtraField, Value


@dataclass(frozen=True, kw_only=True, slots=True)
class Folders:
    """Where a mail goes: `done` when all its files have ended, and so on.

    `keyword` is set on a mail as soon as it is stored, empty for none.
    """

    done: str = "Done"
    people: str = "With people"
    failed: str = "Failed"
    keyword: str = ""


BODIES = ("never", "without files", "always")
"""When a mail's own text is a document: `without files` when it brings nothing else."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Collect:
    """One source: a mailbox folder or a directory to watch.

    Attributes:
        mailbox: name of a mailbox connection; empty for a directory.
        folder: of the mailbox; nested ones with `/`.
        watch: directory below the service's folder for drops; empty for a mailbox.
        only: which mails are taken.
        files: types of files that are read, empty for all that can be.
        body: when the mail's own text is a document, one of `BODIES`.
        afterwards: where mails (or dropped files) go.
    """

    mailbox: str = ""
    folder: str = "INBOX"
    watch: str = ""
    only: Wanted = field(default_factory=Wanted)
    files: tuple[str, ...] = ()
    body: str = "never"
    afterwards: Folders = field(default_factory=Folders)


@dataclass(frozen=True, kw_only=True, slots=True)
class Declared:
    """A field that the pipeline reads beside the catalogue's.

    Attributes:
        field: what it is and where it stands on a page.
        source: where it comes from when the page does not state it (`from: =subject`).
        default: what it is when nothing states it, an expression.
        fixed: the same, a value.
    """

    field: ExtraField
    source: Expression | None = None
    default: Expression | None = None
    fixed: Value | None = None


@dataclass(frozen=True, kw_only=True, slots=True)
class DeskRule:
    """A condition under which a person looks.

    Attributes:
        when: the condition.
        source: its text.
        queue: in which it then waits.
        because: why, for clerks; empty for the condition in words.
    """

    when: Expression
    source: str
    queue: str = "exceptions"
    because: str = ""


WAITS: Final = frozenset(code for code, about in CODES.items() if about.waits)
"""Codes that are waited for where a pipeline says nothing."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Wait:
    """What is waited for instead of asking a person, and for how long.

    Attributes:
        codes: of findings; a document that only these stop waits.
        tell_after: days after which people are told; None for never.
        at_most: days after which it goes to the desk; None for never.
    """

    codes: frozenset[str] = WAITS
    tell_after: int | None = None
    at_most: int | None = None


@dataclass(frozen=True, kw_only=True, slots=True)
class CheckRule:
    """A check of the developer's own.

    Attributes:
        name: what people call it.
        when: the condition under which it is told.
        source: its text.
        weight: of the finding.
        say: its sentence.
        hint: what clerks can do.
    """

    name: str
    when: Expression
    source: str
    say: Text
    weight: Weight = Weight.WARN
    hint: str = ""


Said = str | Expression
"""A code, or where it comes from."""


@dataclass(frozen=True, kw_only=True, slots=True)
class CodingShare:
    """A part of a line, with codes of its own: so much percent, an amount, or what is left."""

    percent: Decimal | None = None
    amount: Decimal | None = None
    codes: Mapping[Dimension, Said] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True, slots=True)
class CodingRule:
    """Codes of the lines for which a condition holds.

    Attributes:
        when: the condition; None for all lines.
        source: its text.
        codes: by dimension.
        shares: how such a line is split; empty for not at all.
    """

    when: Expression | None = None
    source: str = ""
    codes: Mapping[Dimension, Said] = field(default_factory=dict)
    shares: tuple[CodingShare, ...] = ()


@dataclass(frozen=True, kw_only=True, slots=True)
class Coding:
    """What lines are booked under.

    Attributes:
        need: dimensions that each line must have.
        rules: of the developer's own; the first that says a code prevails.
    """

    need: frozenset[Dimension] = frozenset()
    rules: tuple[CodingRule, ...] = ()


@dataclass(frozen=True, kw_only=True, slots=True)
class Post:
    """Where and as what a cleared document is posted; `coding` None where lines are not coded."""

    ledger: str
    kind: str = "bill"
    coding: Coding | None = None


@dataclass(frozen=True, kw_only=True, slots=True)
class Tell:
    """A mail or a chat message at an event.

    Attributes:
        on: name of the event.
        when: a condition that must hold too; None for always.
        to: address of the mail; empty for a chat message, or where `to_from` says it.
        to_from: where the address comes from: names that people or master data decide.
        template: name of a text that ships; empty for a text of the pipeline.
        subject, text: of the pipeline.
        channel: of the chat; empty for a mail.
    """

    on: str
    when: Expression | None = None
    to: str = ""
    to_from: Expression | None = None
    template: str = ""
    subject: Text | None = None
    text: Text | None = None
    channel: str = ""

    @property
    def is_mail(self) -> bool:
        """Whether it goes by mail."""
        return not self.channel


@dataclass(frozen=True, kw_only=True, slots=True)
class Through:
    """Names of the connections that letters, mails and chat messages go through.

    Empty where the pipeline names none: then there must be only one of its kind.
    """

    outbox: str = ""
    chat: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class RunSettings:
    """When a pipeline runs.

    Attributes:
        schedule: when a run begins by itself; None when it collects all the time.
        ends: of one that collects all the time: with the `day`, or `inbox empty`.
        zone: time zone of days and hours; empty for the service's.
        at_once: files of it that are read at once; 0 for no limit of its own.
        parameters: what is said when a run begins.
    """

    schedule: Schedule | None = None
    ends: str = "day"
    zone: str = ""
    at_once: int = 0
    parameters: tuple[Parameter, ...] = ()


@dataclass(frozen=True, kw_only=True, slots=True)
class Definition:
    """A pipeline that passed its check."""

    name: str
    title: str = ""
    entities: tuple[str, ...] = ()
    run: RunSettings = field(default_factory=RunSettings)
    collect: tuple[Collect, ...] = ()
    others_aside: bool = True
    declared: tuple[Declared, ...] = ()
    told_by_mail: tuple[Declared, ...] = ()
    check: CheckSettings = field(default_factory=CheckSettings)
    rules: tuple[CheckRule, ...] = ()
    wait: Wait = Wait()
    desk: tuple[DeskRule, ...] = ()
    post: Post | None = None
    tell: tuple[Tell, ...] = ()
    through: Through = field(default_factory=Through)

    @property
    def conditions(self) -> tuple[Expression, ...]:
        """All that is asked of a document once its facts are known."""
        told = (each.when for each in self.tell if each.when is not None)
        return (*(each.when for each in self.rules), *(each.when for each in self.desk), *told)

    @property
    def completing(self) -> tuple[Declared, ...]:
        """All fields that do not only come from pages: its own, and those that the mail tells."""
        return (*self.declared, *self.told_by_mail)
