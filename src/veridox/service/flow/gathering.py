"""Gather a case: all that the service knows of one document, as core's plain values."""

from dataclasses import dataclass, replace

from veridox.core.facts import Chosen, Facts, gather
from veridox.core.findings import Finding
from veridox.core.pipeline import (
    Case,
    Definition,
    Identity,
    LetterFact,
    PostingFact,
    Said,
    Statement,
)
from veridox.core.pipeline.stages.post import under_way
from veridox.pluginhost import answered
from veridox.service import wiring
from veridox.service.documents.coding import by_hand
from veridox.service.documents.columns import numbered_reading
from veridox.service.documents.models import Document, State
from veridox.service.documents.models import Statement as Row
from veridox.service.documents.subject import around_of_file, files_beside
from veridox.service.flow.known import KnownHere
from veridox.service.flow.models import PluginAnswer
from veridox.service.intake.names import names_of_file
from veridox.service.intake.sender import mail_fact
from veridox.service.notices.models import LETTER


@dataclass(frozen=True, kw_only=True, slots=True)
class Ground:
    """A case with the records that it was gathered from.

    Attributes:
        document: locked, when it is to be moved.
        definition: of its pipeline version.
        case: for `advance`.
        known: has the rows of vendor, entity and order by their codes.
    """

    document: Document
    definition: Definition
    case: Case
    known: KnownHere


def ground_of(document: Document, definition: Definition, *, locking: bool = True) -> Ground:
    """The case of a document as it stands now.

    Args:
        document: whose row is locked already when `locking`.
        definition: of its pipeline version.
        locking: take the locks that keep two documents from both being right alone.
    """
    statements = tuple(_statement(row) for row in document.statements.filter(ended_at=None))
    known = KnownHere(document, definition, locking=locking)
    posting = _posting(document)
    reading, number = numbered_reading(document)
    case = Case(
        facts=Facts(reading=reading, settings=definition.check),
        state=State(document.state),
        queue=document.queue,
        reading=number,
        statements=statements,
        mail=names_of_file(document.file),
        files=files_beside(document.file),
        around=around_of_file(document.file),
        posting=posting,
        letter=_letter(document, statements),
        entered_by=_entered_by(document),
        by_hand=by_hand(document),
    )
    if not under_way(case):
        # What changed meanwhile does not stop a bill that may be booked: then nobody asks for it.
        facts = gather(
            known,
            reading,
            settings=definition.check,
            chosen=_chosen(document),
            file_findings=_of_the_file(document),
            arrived=document.received_at.date(),
            mail=mail_fact(document.file),
        )
        case = _with_plugins(replace(case, facts=facts), document)
    return Ground(document=document, definition=definition, case=case, known=known)


def _with_plugins(case: Case, document: Document) -> Case:
    """With what plug-ins said of this version of the reading, under this version."""
    host = wiring.plugin_host()
    if host is None or not host.digest:
        return case
    row = PluginAnswer.objects.filter(
        document=document, reading=case.reading, asked=host.digest,
        pipeline_version=document.pipeline_version_id,
    ).first()  # fmt: skip
    if row is None:
        return replace(case, plugins_missing=True)
    return replace(case, plugins=answered(row.answers))


def _entered_by(document: Document) -> frozenset[str]:
    """People who entered a value: those who made a version of the reading."""
    makers = document.readings.filter(made_by__startswith="person:")
    return frozenset(makers.values_list("made_by", flat=True))


def _of_the_file(document: Document) -> tuple[Finding, ...]:
    return tuple(
        Finding.from_json(each)
        for each in document.file.findings
        if document.holds(each.get("page"))
    )


def _chosen(document: Document) -> dict[str, Chosen]:
    return {
        what: Chosen(code=choice["code"], said=choice["said"])
        for what, choice in document.chosen.items()
    }


def _statement(row: Row) -> Statement:
    return Statement(
        what=Said(row.what),
        by=row.by,
        at=row.said_at,
        reading=row.reading,
        identity=Identity.from_json(row.identity) if row.identity else None,
        finding=Finding.from_json(row.finding) if row.finding else None,
        looked=tuple(row.looked),
        reason=row.reason,
    )


def _posting(document: Document) -> PostingFact | None:
    posting = document.posting
    if posting is None:
        return None
    return PostingFact(
        id=str(posting.pk),
        state=posting.state,
        number=posting.number,
        complete=posting.completed_at is not None,
        differences=tuple(posting.differences),
        problem=posting.problem,
    )


def _letter(document: Document, statements: tuple[Statement, ...]) -> LetterFact | None:
    """The newest letter, where somebody has sent it back."""
    if not any(each.what is Said.SENT_BACK for each in statements):
        return None
    notice = document.notices.filter(event=LETTER).order_by("-pk").first()
    if notice is None:
        return None
    return LetterFact(to=notice.recipient, state=notice.state, problem=notice.problem)
