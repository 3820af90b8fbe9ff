"""A person changes what was read: a new version of the reading, then the checks again."""

from typing import Any

from django.db import transaction

from veridox.core.facts import said_of
from veridox.core.facts.gathering import SAID_OF
from veridox.core.language.typing import nearest
from veridox.core.matching import called_like, order_of_row
from veridox.core.matching.vendors import NAME_THRESHOLD
from veridox.core.pipeline.edits import EditError, corrected, differences
from veridox.core.reading import Origin, Reading, reading_from_json, reading_to_json
from veridox.core.reading.reading import cell_text
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked_for_edit
from veridox.service.documents.actions.new_reading import new_reading
from veridox.service.documents.actions.say import ANSWERED, no_longer
from veridox.service.documents.columns import current_reading
from veridox.service.documents.models import Document, State
from veridox.service.documents.orders import order_records, orders_of_bill
from veridox.service.errors import BadInputError, NotThereError
from veridox.service.flow.actions.advance import walk
from veridox.service.masterdata.actions.held import propose
from veridox.service.masterdata.actions.items import learn_code
from veridox.service.masterdata.models import Entity, Vendor
from veridox.service.masterdata.records import vendor_record


@transaction.atomic
def correct(
    actor: Actor, document_id: int, version: int, changes: dict[str, Any], note: str = ""
) -> Document:
    """Change fields, kind, lines or tax lines of a document at the desk, or say who it is.

    Args:
        actor: who corrects.
        document_id: which document.
        version: the version that was looked at.
        changes: see `corrected`; besides `vendor` and `entity`, the codes of who a
            person says the seller and the buyer are (null takes a choice back).
        note: why, in the person's words.

    Raises:
        BadInputError: with the path of each value that cannot be used.
        StaleError, TakenError, WrongStateError: see `locked_for_edit`.
    """
    document = locked_for_edit(actor, document_id, version, State.AT_DESK)
    before = current_reading(document)
    choices = {what: changes[what] for what in SAID_OF if what in changes}
    values = {key: value for key, value in changes.items() if key not in choices}
    pages = frozenset(int(page["number"]) for page in document.file.pages)
    try:
        after = corrected(before, values, pages)
    except EditError as error:
        raise BadInputError(str(error), errors=error.problems) from error
    chosen = _choose(actor, document, after, choices)
    same = reading_to_json(after) == reading_to_json(before)
    if same and not chosen:
        raise BadInputError("Nothing is different: every value is as it was.")
    if same:
        return recheck(actor, document, {"chosen": chosen, "note": note}, "document.chosen")
    details = {"chosen": chosen} if chosen else {}
    return _store(actor, document, before, after, note, details)


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
    new_reading(actor, document, after, note)
    _learn_items(actor, document, after)
    changes = {"changes": differences(before, after), "note": note, **details}
    return recheck(actor, document, changes, "document.corrected")


def _learn_items(actor: Actor, document: Document, reading: Reading) -> None:
    """Which line of the order a person says a line is teaches the vendor's code for its item."""
    vendor, orders = document.vendor, order_records(orders_of_bill(document))
    own = [each for each in orders if vendor is not None and each.vendor == vendor.code]
    if vendor is None or not own:
        return
    ordered = {
        (order.number, str(line.position)): line.item_code for order in own for line in order.lines
    }
    for row in reading.lines:
        said, theirs = row.get("order_line"), cell_text(row, "item_code") or ""
        if said is None or said.origin is not Origin.PERSON:
            continue
        number = own[0].number if len(own) == 1 else order_of_row(row, own)
        ours = ordered.get((number, str(said.value).lstrip("0")), "")
        if ours and theirs and ours != theirs:
            learn_code(actor, vendor, ours, theirs)


def recheck(actor: Actor, document: Document, details: dict[str, Any], act: str) -> Document:
    """A person said something new of it, so it may go on; what the ledger said is answered.

    What was accepted holds where the same is found of the same values.
    """
    no_longer(document, actor, *ANSWERED)
    document.touched = True
    walk(actor, document, act, details)
    return document


def _choose(
    actor: Actor, document: Document, reading: Reading, choices: dict[str, Any]
) -> dict[str, str | None]:
    """Keep who a person says the seller or buyer is, with the values it was said of."""
    errors: list[dict[str, str]] = []
    changed: dict[str, str | None] = {}
    known: dict[str, Any] = {"vendor": Vendor, "entity": Entity}
    for what, code in choices.items():
        before = (document.chosen.get(what) or {}).get("code")
        row = known[what].objects.filter(code=code).first() if isinstance(code, str) else None
        if code is not None and row is None:
            errors.append({"path": what, "message": _no_such(what, known[what], code)})
        elif code is None and before is not None:
            document.chosen.pop(what)
            changed[what] = None
        elif code is not None:
            said = said_of(reading, what)
            if before != code or document.chosen[what]["said"] != said:
                document.chosen[what] = {"code": code, "said": said, "by": actor.name}
                changed[what] = code
                if isinstance(row, Vendor):
                    _propose_name(actor, row, reading)
    if errors:
        raise BadInputError("That cannot be chosen.", errors=errors)
    return changed


def _propose_name(actor: Actor, vendor: Vendor, reading: Reading) -> None:
    """A name that a person took for a vendor's is proposed to the master data: nothing learns it
    silently, and it holds once a second person accepts it."""
    name = (reading.text("seller.name") or "").strip()
    record = vendor_record(vendor)
    if name and called_like(name, record) < NAME_THRESHOLD:
        propose(actor, vendor, "names", name)


def _no_such(what: str, model: Any, code: object) -> str:
    hint = nearest(str(code), list(model.objects.values_list("code", flat=True)[:5_000]))
    return f"there is no {what} {code!r}" + (f"; {hint}" if hint else "")
