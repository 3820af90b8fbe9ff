"""What a pipeline file says, as values."""

from dataclasses import dataclass, field

from veridox.core.checks import CheckSettings
from veridox.core.rules import Expression


@dataclass(frozen=True, kw_only=True, slots=True)
class Folders:
    """Where a mail goes: `done` when all its files have ended, and so on."""

    done: str = "Done"
    people: str = "With people"
    failed: str = "Failed"


@dataclass(frozen=True, kw_only=True, slots=True)
class Collect:
    """One mailbox folder to watch.

    Attributes:
        mailbox: name of a mailbox connection.
        folder: to watch.
        unread: only mails without the read mark.
        with_files: only mails with files.
        subject: words of which one must stand in the subject, empty for any.
        afterwards: where mails go.
    """

    mailbox: str
    folder: str = "INBOX"
    unread: bool = True
    with_files: bool = True
    subject: tuple[str, ...] = ()
    afterwards: Folders = Folders()


@dataclass(frozen=True, kw_only=True, slots=True)
class DeskRule:
    """A condition under which a person looks, and the queue it then waits in."""

    when: Expression
    source: str
    queue: str = "exceptions"


@dataclass(frozen=True, kw_only=True, slots=True)
class Post:
    """Where and as what a cleared document is posted."""

    ledger: str
    kind: str = "bill"


@dataclass(frozen=True, kw_only=True, slots=True)
class Tell:
    """A mail at an event.

    Attributes:
        on: `posted`, `at the desk`, `discarded` or `failed`.
        to: address.
        template: name of a template that ships.
    """

    on: str
    to: str
    template: str


@dataclass(frozen=True, kw_only=True, slots=True)
class Definition:
    """A pipeline that passed its check."""

    name: str
    title: str = ""
    entities: tuple[str, ...] = ()
    collect: tuple[Collect, ...] = ()
    others_aside: bool = True
    check: CheckSettings = field(default_factory=CheckSettings)
    desk: tuple[DeskRule, ...] = ()
    post: Post | None = None
    tell: tuple[Tell, ...] = ()
