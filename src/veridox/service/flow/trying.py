"""Try an expression or a pipeline with what is known here. Reads only, and locks nothing."""

from collections.abc import Callable
from contextlib import contextmanager
from dataclasses import dataclass, replace
from threading import BoundedSemaphore
from typing import Any, Final

from django.utils import timezone

from veridox.core.facts import Known
from veridox.core.language.names import TYPE_OF_FIELD, Names, Subject
from veridox.core.language.parse import ExpressionError, parse
from veridox.core.language.trial import Trial as Tried
from veridox.core.language.trial import try_expression
from veridox.core.language.verdict import currencies_in
from veridox.core.pipeline import Definition, State, as_wanted
from veridox.core.pipeline.edits import EditError
from veridox.core.pipeline.parameters import (
    PREFIX,
    TYPES,
    ParameterError,
    texts_of,
    values_of_texts,
)
from veridox.core.pipeline.stages.check import check
from veridox.core.pipeline.stages.desk import subject_of
from veridox.core.pipeline.trying import as_json, try_case
from veridox.core.posting import Bill
from veridox.core.reading import Reading, reading_to_json
from veridox.pluginhost import ask, asked_as_needed
from veridox.service import wiring
from veridox.service.connections.actions.manage import connection_named
from veridox.service.connections.models import ConnectionKind
from veridox.service.documents.columns import fill_columns
from veridox.service.documents.models import Document
from veridox.service.errors import AdapterError, BadInputError, NotThereError, SlowDownError
from veridox.service.flow.gathering import ground_of
from veridox.service.flow.known import KnownHere
from veridox.service.intake.names import names_of_file
from veridox.service.masterdata.models import Entity
from veridox.service.pipelines.queries import definition_of
from veridox.trials import Trial

LARGEST: Final = 25 * 2**20
"""Bytes of a mail or file that is tried."""
_NEWER_THAN_ALL: Final = 2**62
"""Number of a document that is not there: whatever is stored came before it."""
_AT_ONCE: Final = BoundedSemaphore(2)
PATIENCE: Final = 20.0
"""Seconds that a try waits for others to end."""


def try_on(document: Document, source: str) -> Tried:
    """What an expression gives at the gates for this document, with what is known now."""
    definition = _speaking_of(definition_of(document.pipeline_version), source)
    ground = ground_of(document, definition, locking=False)
    host, given = wiring.plugin_host(), ground.case
    if host is not None and given.plugins_missing:
        with _turn():
            given = ask(host, definition, given)
    case = check(definition, given).case or given
    subject = subject_of(case, case.checked) if case.checked else Subject(facts=case.facts)
    if host is not None:
        subject = replace(subject, calls=asked_as_needed(host))
    declared = {
        each.field.name: TYPE_OF_FIELD[each.field.spec.type] for each in definition.declared
    }
    declared |= {PREFIX + each.name: TYPES[each.type] for each in definition.run.parameters}
    return try_expression(source, subject, declared)


def _speaking_of(definition: Definition, source: str) -> Definition:
    """With the currencies of an expression that the pipeline's own conditions may not name."""
    try:
        named = currencies_in(parse(source))
    except ExpressionError:
        return definition  # trying it tells what is wrong
    every = tuple({*definition.check.currencies, *named})
    return replace(definition, check=replace(definition.check, currencies=every))


@dataclass(frozen=True, kw_only=True, slots=True)
class Wish:
    """How to try.

    Attributes:
        definition: of the pipeline.
        until: place after which it ends; empty for the whole road.
        rehearse: have the ledger say whether it would book.
        values: known beforehand, by field.
        parameters: what is said for the run.
        pictures: pages of each file that are drawn beside.
    """

    definition: Definition
    pictures: int = 0
    parameters: dict[str, str] | None = None
    until: str = ""
    rehearse: bool = False
    values: dict[str, Any] | None = None


def try_bytes(wish: Wish, name: str, content: bytes) -> dict[str, Any]:
    """A mail or a file with the facts of now.

    Raises:
        BadInputError: too large, or a value known beforehand cannot be used.
        SlowDownError: others are trying, too.
    """
    if len(content) > LARGEST:
        raise BadInputError(f"{len(content):,} bytes; {LARGEST:,} are tried at most")
    trial = Trial(
        pool=wiring.trial_pool(),
        definition=wish.definition,
        known=_known(wish.definition),
        entities=tuple(Entity.objects.values_list("name", "tax_id")),
        until=wish.until,
        values=wish.values,
        parameters=wish.parameters,
        now=timezone.now(),
        host=wiring.plugin_host(),
        pictures=wish.pictures,
    )
    with _turn():
        try:
            found = trial.of(name, content)
        except EditError as error:
            raise BadInputError(str(error), errors=error.problems) from error
        except ParameterError as error:
            raise BadInputError(str(error)) from error
    return _rehearsed(wish, found)


def try_document(wish: Wish, document: Document) -> dict[str, Any]:
    """A stored document as if it came today, whatever was said of it: with its newest reading.

    Parameters of its run stand where nothing else is said. Raises BadInputError.
    """
    ground = ground_of(document, wish.definition, locking=False)
    names = names_of_file(document.file)
    reading = as_wanted(
        ground.case.facts.reading, wish.definition.completing, names, wish.values or {}
    )
    facts = replace(ground.case.facts, reading=reading)
    case = replace(
        ground.case, facts=facts, state=State.READ, queue="", statements=(), posting=None,
        letter=None, around=_said_for(wish, ground.case.around),
    )  # fmt: skip
    host = wiring.plugin_host()
    if host is not None:
        with _turn():
            case = ask(host, wish.definition, case)
    tried = {
        "file": document.file.name,
        "pages": [],
        **as_json(try_case(wish.definition, case, wish.until)),
    }
    files = [{"name": document.file.name, "read": True, "reason": ""}]
    return _rehearsed(wish, {"mail": None, "collect": [], "files": files, "documents": [tried]})


def _said_for(wish: Wish, around: Names) -> Names:
    parameters = wish.definition.run.parameters
    settled = {each.name for each in parameters if PREFIX + each.name in around}
    try:
        texts = texts_of(parameters, wish.parameters or {}, settled)
        return {**around, **values_of_texts(parameters, texts)}
    except ParameterError as error:
        raise BadInputError(str(error)) from error


def try_from_mailbox(wish: Wish, mailbox: str, folder: str, uid: int) -> dict[str, Any]:
    """A mail that lies on a server; it is looked at and left as it is.

    Raises:
        NotThereError: no such mailbox, folder or mail.
        UnreachableError: the server does not answer.
    """
    connection = connection_named(mailbox, ConnectionKind.MAILBOX)
    with wiring.open_mailbox(connection) as box:
        box.select(folder, look=True)
        pieces, size = [], 0
        for piece in box.fetch(uid) or ():
            size += len(piece)
            if size > LARGEST:
                raise BadInputError(f"the mail is larger than {LARGEST:,} bytes")
            pieces.append(piece)
    if not pieces:
        raise NotThereError(f"there is no mail {uid} in {folder} of {mailbox}")
    return try_bytes(wish, f"mail {uid}", b"".join(pieces))


def _known(definition: Definition) -> Callable[[Reading], Known]:
    def known(reading: Reading) -> Known:
        document = Document(pk=_NEWER_THAN_ALL, received_at=timezone.now())
        fill_columns(document, reading_to_json(reading))
        return KnownHere(document, definition, locking=False)

    return known


@contextmanager
def _turn() -> Any:
    if not _AT_ONCE.acquire(timeout=PATIENCE):
        raise SlowDownError("others are trying pipelines at the moment; try again", retry_after=5)
    try:
        yield
    finally:
        _AT_ONCE.release()


def _rehearsed(wish: Wish, found: dict[str, Any]) -> dict[str, Any]:
    """With what the ledger says to each bill, where that is asked for; it writes nothing."""
    if not wish.rehearse or wish.definition.post is None:
        return found
    for each in found["documents"]:
        if each["bill"] is not None:
            each["rehearsal"] = _say(wish.definition.post.ledger, each["bill"])
    return found


def _say(ledger: str, bill: dict[str, Any]) -> str:
    try:
        opened = wiring.open_ledger(connection_named(ledger, ConnectionKind.LEDGER))
        refusal = opened.rehearse(Bill.from_json(bill))
    except AdapterError as error:
        return f"{ledger} could not be asked: {error}"
    if refusal is None:
        return f"{ledger} would book it"
    return f"{ledger} would refuse it: {'; '.join(refusal.reasons)}"
