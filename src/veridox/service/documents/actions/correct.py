"""A person changes what was read: a new version of the reading, then the checks again."""

from typing import Any

from django.db import transaction

from veridox.core.reading import Reading, reading_from_json, reading_to_json
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.check import apply
from veridox.service.documents.actions.common import locked_for_edit, move_to
from veridox.service.documents.columns import current_reading, fill_columns
from veridox.service.documents.corrections import corrected, differences
from veridox.service.documents.models import Document, ReadingVersion, State
from veridox.service.errors import BadInputError, NotThereError
from veridox.service.trail.record import record


@transaction.atomic
def correct(
    actor: Actor, document_id: int, version: int, changes: dict[str, Any], note: str = ""
) -> Document:
    """Change fields, kind, lines or tax lines of a document at the desk.

    Args:
        actor: who corrects.
        document_id: which document.
        version: the version that was looked at.
        changes: see `corrected`.
        note: why, in the person's words.

    Raises:
        BadInputError: with the path of each value that cannot be used.
        StaleError, TakenError, WrongStateError: see `locked_for_edit`.
    """
    document = locked_for_edit(actor, document_id, version, State.AT_DESK)
    before = current_reading(document)
    pages = frozenset(int(page["number"]) for page in document.file.pages)
    after = corrected(before, changes, pages)
    if reading_to_json(after) == reading_to_json(before):
        raise BadInputError("Nothing is different: every value is as it was.")
    return _store(actor, document, before, after, note, {})


@transaction.atomic
def restore(actor: Actor, document_id: int, version: int, number: int) -> Document:
    """Take an earlier version of the reading as the newest one: corrections undone.

    Raises:
        NotThereError: there is no version of this number.
        BadInputError: it says what the newest says.
        StaleError, TakenError, WrongStateError: see `locked_for_edit`.
    """
    document = locked_for_edit(actor, document_id, version, State.AT_DESK)
    earlier = document.readings.filter(number=number).first()
    if earlier is None:
        raise NotThereError(f"document {document_id} has no reading version {number}")
    before, after = current_reading(document), reading_from_json(earlier.reading)
    if reading_to_json(after) == reading_to_json(before):
        raise BadInputError(f"Version {number} says what the newest version says.")
    note = f"back to version {number}"
    return _store(actor, document, before, after, note, {"restored": number})


def _store(
    actor: Actor,
    document: Document,
    before: Reading,
    after: Reading,
    note: str,
    details: dict[str, Any],
) -> Document:
    newest = document.readings.order_by("-number").first()
    data = reading_to_json(after)
    ReadingVersion.objects.create(
        document=document,
        number=newest.number + 1 if newest else 1,
        reading=data,
        made_by=actor.name,
        note=note,
    )
    fill_columns(document, data)
    # What was accepted and cleared held for the values of before.
    document.accepted, document.cleared_by = [], None
    document.touched = True
    move_to(document, State.READ)
    changes = {"changes": differences(before, after), "note": note, **details}
    record(actor, "document.corrected", "document", document.pk, changes)
    apply(actor, document)
    return document
