"""A reading walked along a pipeline's road with nothing done: what it saw, what it would do.

The same program as in the service (`advance`), with facts from whoever knows them. Effects are not
applied but told: the bill as it would be posted, and every text as it would go out.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any, Final

from veridox.core.facts import Known, MailFact, gather
from veridox.core.findings import Finding
from veridox.core.language import Names, Subject
from veridox.core.pipeline.advance import Advance, advance
from veridox.core.pipeline.case import Case
from veridox.core.pipeline.complete import as_wanted
from veridox.core.pipeline.definition import Definition
from veridox.core.pipeline.effects import Notify, PreparePosting
from veridox.core.pipeline.stages.desk import subject_of
from veridox.core.pipeline.stages.road import ROAD
from veridox.core.pipeline.telling import Told, told_at
from veridox.core.pipeline.trace import shown
from veridox.core.posting import Bill, bill_of_facts
from veridox.core.reading import Reading, reading_to_json

READ: Final = "read"
UNTIL: Final = (READ, *(place.name for place in ROAD if place.stage is not None))
"""Places after which a try may end."""
LATER: Final = {
    "link": "(its page in the console)",
    "posting.number": "(the ledger's number)",
    "posting.link": "(its page in the ledger)",
}
"""Stands where a text names what is there only once it happened."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Given:
    """What goes with a reading.

    Attributes:
        mail: names of the mail and the file.
        files: names of each file of the mail.
        around: names that a service would know, as its mailbox.
        known: values known beforehand, by field.
        findings: of the reader.
        today: the day on which it came in.
        fact: what its mail tells the checks.
    """

    mail: Names = field(default_factory=dict)
    files: tuple[Names, ...] = ()
    around: Names = field(default_factory=dict)
    known: Mapping[str, object] = field(default_factory=dict)
    findings: tuple[Finding, ...] = ()
    today: date | None = None
    fact: MailFact = field(default_factory=MailFact)


Ask = Callable[[Definition, Case], Case]
"""Gives the case with what plug-ins said of it."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Sent:
    """What would be told at an event."""

    event: str
    told: Told


@dataclass(frozen=True, kw_only=True, slots=True)
class Tried:
    """What a pipeline would do with a document.

    Attributes:
        reading: as the pipeline wants it.
        advance: of the road; None when it was tried until it was read.
        ended_early: whether every stage that was tried let it through.
        bill: as it would be posted; None where it would not be.
        sent: what would be told whom.
    """

    reading: Reading
    advance: Advance | None = None
    ended_early: bool = False
    bill: Bill | None = None
    sent: tuple[Sent, ...] = ()


def try_reading(
    definition: Definition,
    reading: Reading,
    known: Known,
    given: Given,
    until: str = "",
    ask: Ask | None = None,
) -> Tried:
    """Walk a reading along the road; nothing is done.

    Args:
        definition: of the pipeline.
        reading: of one document of a file.
        known: who knows vendors, orders, earlier documents.
        given: what goes with it.
        until: place after which it ends, one of `UNTIL`; empty for the whole road.
        ask: asks plug-ins, where there are any.

    Raises:
        EditError: a value known beforehand cannot be used.
    """
    reading = as_wanted(reading, definition.completing, given.mail, given.known)
    if until == READ:
        return Tried(reading=reading, ended_early=True)
    facts = gather(
        known, reading, settings=definition.check, chosen={}, file_findings=given.findings,
        arrived=given.today, mail=given.fact,
    )  # fmt: skip
    case = Case(facts=facts, mail=given.mail, files=given.files, around=given.around)
    if ask is not None:
        case = ask(definition, case)
    return try_case(definition, case, until)


def try_case(definition: Definition, case: Case, until: str = "") -> Tried:
    """The same with all that is known of a document already."""
    names = [place.name for place in ROAD]
    road = ROAD[: names.index(until) + 1] if until in names else ROAD
    result = advance(definition, case, road)
    early = len(road) < len(ROAD) and all(step.then == "on" for step in result.trace)
    tried = Tried(reading=case.facts.reading, advance=result, ended_early=early)
    if early:
        return tried
    subject = _subject(case, result)
    sent = [
        Sent(event=effect.event, told=told)
        for effect in result.effects if isinstance(effect, Notify)
        for told in told_at(definition, effect.event, subject)
    ]  # fmt: skip
    bill = None
    if any(isinstance(effect, PreparePosting) for effect in result.effects):
        coded = result.checked.coding if result.checked else ()
        bill = bill_of_facts(case.facts, coded)
        booked = replace(subject, around={**subject.around, **LATER})
        sent += [Sent(event="posted", told=told) for told in told_at(definition, "posted", booked)]
    return replace(tried, bill=bill, sent=tuple(sent))


def _subject(case: Case, result: Advance) -> Subject:
    around = {**case.around, "link": LATER["link"]}
    if result.queue:
        around["queue"] = result.queue
    checked = result.checked
    known = subject_of(case, checked) if checked else Subject(
        mail=case.mail, files=case.files, facts=case.facts
    )  # fmt: skip
    return replace(known, reasons=result.reasons, around=around)


def as_json(tried: Tried) -> dict[str, Any]:
    """What a try gave, for programs and the console."""
    result = tried.advance
    checked = result.checked if result else None
    findings = checked.findings if checked else ()
    return {
        "reading": reading_to_json(tried.reading, findings),
        "steps": shown(result.trace) if result else [],
        "state": "" if result is None or tried.ended_early else result.state.value,
        "queue": "" if result is None else result.queue,
        "reasons": [] if result is None or tried.ended_early else list(result.reasons),
        "bill": tried.bill.to_json() if tried.bill else None,
        "sent": [_sent(each) for each in tried.sent],
        "rehearsal": None,
    }


def _sent(sent: Sent) -> dict[str, Any]:
    told, outgoing = sent.told, sent.told.outgoing
    looked = told.looked
    return {
        "event": sent.event,
        "when": looked.said if looked else "",
        "goes": outgoing is not None and not outgoing.problem,
        "problem": outgoing.problem if outgoing else looked.why if looked else "",
        "to": outgoing.to if outgoing else "",
        "channel": outgoing.channel if outgoing else told.tell.channel,
        "subject": outgoing.subject if outgoing else "",
        "text": outgoing.text if outgoing else "",
    }
