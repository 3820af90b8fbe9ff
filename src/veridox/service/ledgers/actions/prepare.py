"""Reserve a bill's number, and store its posting before anything is sent."""

from django.db import IntegrityError, transaction

from veridox.core.posting import Bill, PostingState
from veridox.service.connections.actions.manage import connection_named
from veridox.service.connections.models import ConnectionKind
from veridox.service.documents.models import Document
from veridox.service.ledgers.models import BillReservation, Posting
from veridox.service.masterdata.families import family_of
from veridox.service.work import defer


def reserve(document: Document, *, once_more: bool = False) -> bool:
    """Take the right to this vendor's number; False when another document has it.

    `once_more` takes another one beside those that others have: two people said that the vendor
    really used the number twice.

    Without a date of issue the year of receipt counts. Nothing is posted without a vendor.
    """
    vendor = document.vendor
    if vendor is None:
        raise ValueError("a document without a vendor is never cleared")
    give_free(document)
    wanted = {
        "family": family_of(vendor.code, vendor.tax_id), "kind": document.kind,
        "number_key": document.number_key, "year": document.year,
    }  # fmt: skip
    turn = BillReservation.objects.filter(**wanted).count() if once_more else 0
    try:
        with transaction.atomic():
            BillReservation.objects.create(document=document, vendor=vendor, turn=turn, **wanted)
    except IntegrityError:
        return False
    return True


def give_free(document: Document) -> None:
    """Nothing of it will be posted: another may have its number."""
    BillReservation.objects.filter(document=document).delete()


def prepare(document: Document, ledger: str, bill: Bill) -> Posting:
    """Store the posting and queue it; the caller saves the document.

    One that was refused keeps its id; after a cancelled one there is a new one.
    """
    posting = document.posting
    if posting is not None:
        posting = Posting.objects.select_for_update().get(pk=posting.pk)
    if posting is None or posting.state == PostingState.CANCELLED:
        posting = Posting(document=document)
    posting.ledger = connection_named(ledger, ConnectionKind.LEDGER)
    posting.bill = bill.to_json()
    if posting.state != PostingState.UNSURE:
        # An unsure posting may be booked already: it is looked up first, always.
        posting.state = PostingState.PREPARED
    posting.problem = ""
    posting.save()
    document.posting = posting
    defer("post", posting_id=str(posting.pk))
    return posting
