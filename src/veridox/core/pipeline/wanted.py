"""Which mails a pipeline takes: its conditions, and the decision about one mail."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from fnmatch import fnmatchcase

from veridox.core.readers.mail.content import MailContent


@dataclass(frozen=True, kw_only=True, slots=True)
class Wanted:
    """Conditions on mails; all that are given must hold, of a list one word is enough.

    Letters are compared without regard to capitals.

    Attributes:
        unread: only mails without the read mark.
        with_files: only mails with files; the pictures of a signature are none.
        senders, recipients: parts of name or address; with `*` or `?` a pattern of
            the whole address.
        subject, text: words of which one must stand there.
        keyword: a flag that must be set on the server, also when it is set later.
        since: received on this day or later, or so long ago at most.
        before: received before this day.
        file_names: patterns of which one file's name must meet one.
        at_most: mails taken in one round; the rest follows in the next.
    """

    unread: bool = True
    with_files: bool = True
    senders: tuple[str, ...] = ()
    recipients: tuple[str, ...] = ()
    subject: tuple[str, ...] = ()
    text: tuple[str, ...] = ()
    keyword: str = ""
    since: date | timedelta | None = None
    before: date | None = None
    file_names: tuple[str, ...] = ()
    at_most: int = 500

    def since_day(self, today: date) -> date | None:
        """The first day on which a mail may have come."""
        return today - self.since if isinstance(self.since, timedelta) else self.since


@dataclass(frozen=True, kw_only=True, slots=True)
class MailFacts:
    """What is known of a mail before it is fetched.

    Attributes:
        received_at: when the server got it, with a zone; days are counted in UTC.
        people: name and address of each sender.
        recipients: name and address of everyone in To and Cc.
        files: names of its files; unnamed ones as empty texts.
        text: fetches the source of its text parts; called only when a condition asks.
    """

    read: bool
    keywords: frozenset[str]
    received_at: datetime
    people: tuple[tuple[str, str], ...]
    recipients: tuple[tuple[str, str], ...]
    subject: str
    files: tuple[str, ...]
    text: Callable[[], str]


def facts_of_content(mail: MailContent, received_at: datetime) -> MailFacts:
    """The same of a mail taken apart: unread and without keywords, which a server alone knows."""
    return MailFacts(
        read=False,
        keywords=frozenset(),
        received_at=received_at,
        people=((mail.sender_name, mail.sender_address),),
        recipients=tuple(("", address) for address in mail.recipients),
        subject=mail.subject,
        files=tuple(file.name for file in mail.files if not file.left_out),
        text=lambda: mail.text,
    )


@dataclass(frozen=True, kw_only=True, slots=True)
class Condition:
    """One condition and how a mail meets it.

    Attributes:
        name: as in the pipeline file.
        met: whether it holds.
        said: what was found, in words.
        lasting: an unmet one that can never be met later, as flags can.
    """

    name: str
    met: bool
    said: str
    lasting: bool = True


def conditions(wanted: Wanted, mail: MailFacts, today: date) -> Iterator[Condition]:
    """The conditions that are given, cheap ones first; what is not looked at costs nothing."""
    if wanted.unread:
        said = "marked as read" if mail.read else "unread"
        yield Condition(name="unread", met=not mail.read, said=said, lasting=False)
    if wanted.keyword:
        met = wanted.keyword.lower() in {each.lower() for each in mail.keywords}
        said = f"{wanted.keyword} is {'set' if met else 'not set'}"
        yield Condition(name="keyword", met=met, said=said, lasting=False)
    day = mail.received_at.astimezone(UTC).date()
    since = wanted.since_day(today)
    if since is not None:
        yield Condition(name="since", met=day >= since, said=f"received on {day}")
    if wanted.before is not None:
        yield Condition(name="before", met=day < wanted.before, said=f"received on {day}")
    if wanted.senders:
        yield _people("senders", wanted.senders, mail.people)
    if wanted.recipients:
        yield _people("recipients", wanted.recipients, mail.recipients)
    if wanted.subject:
        yield _words("subject", wanted.subject, mail.subject, f"the subject is {mail.subject!r}")
    if wanted.with_files:
        said = f"{len(mail.files)} found" if mail.files else "it has no files"
        yield Condition(name="with_files", met=bool(mail.files), said=said)
    if wanted.file_names:
        yield _file_names(wanted.file_names, mail.files)
    if wanted.text:
        yield _words("text", wanted.text, mail.text(), "none of the words stands in the text")


def unmet(wanted: Wanted, mail: MailFacts, today: date) -> Condition | None:
    """The condition that keeps a mail out; None when it is taken."""
    return next((each for each in conditions(wanted, mail, today) if not each.met), None)


def _words(name: str, words: tuple[str, ...], text: str, otherwise: str) -> Condition:
    # lower(), not casefold(): mail servers do not take ß for ss, and both must agree.
    found = next((word for word in words if word.lower() in text.lower()), None)
    return Condition(
        name=name, met=found is not None, said=f"has {found!r}" if found else otherwise
    )


def _people(name: str, words: tuple[str, ...], people: tuple[tuple[str, str], ...]) -> Condition:
    shown = ", ".join(address or who for who, address in people) or "nobody is named"
    met = any(_is(word, who, address) for word in words for who, address in people)
    return Condition(name=name, met=met, said=shown)


def is_pattern(word: str) -> bool:
    """Whether a word is a pattern of a whole address or name."""
    return "*" in word or "?" in word


def _is(word: str, who: str, address: str) -> bool:
    word, who, address = word.lower(), who.lower(), address.lower()
    if is_pattern(word):
        return fnmatchcase(address, word)
    return word in address or word in who


def _file_names(patterns: tuple[str, ...], names: tuple[str, ...]) -> Condition:
    met = any(fnmatchcase(name.lower(), pattern.lower()) for pattern in patterns for name in names)
    return Condition(
        name="file_names", met=met, said=", ".join(each for each in names if each) or "no names"
    )
