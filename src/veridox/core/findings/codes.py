"""The list of finding codes. Codes are stable: never renamed, never reused."""

from dataclasses import dataclass
from typing import Final


@dataclass(frozen=True, kw_only=True, slots=True)
class Code:
    """All that is known of a code, in one place: page, weight, desk and new checks ask here.

    Attributes:
        title: one line, what was found.
        why: why it matters, and when it is rightly ignored.
        rule: the standard's rule it follows, where one exists.
        lowered: whether a pipeline may give it a lower weight. Vendor, entity, duplicates,
            bank, totals and doubtful values are never lowered.
        accepted: whether a person may post all the same, with a reason. Else what is
            wrong must be put right first.
        helped: whether new master data may end it, so that an import checks again.
        alone: whether a document that it stopped may go on by itself once a new check
            is clean; else a person has to let it go on.
        ledgers: whether the ledger says it: no check of ours can find it anew, so it
            stands until a person decides.
    """

    title: str
    why: str
    rule: str = ""
    lowered: bool = False
    accepted: bool = True
    helped: bool = False
    alone: bool = True
    ledgers: bool = False


CODES: Final[dict[str, Code]] = {
    # -- files and pages
    "file.empty": Code(
        title="The file has no content",
        why="A file of zero bytes was attached; ask the sender for it again.",
    ),
    "file.broken": Code(
        title="The file cannot be opened",
        why="It is cut off or damaged; the original is kept unchanged.",
    ),
    "file.password": Code(
        title="The file is protected by a password",
        why="Without the password nothing in it can be read.",
    ),
    "file.too_large": Code(
        title="The file is beyond the limits",
        why="Limits on size and pages keep one file from holding up all others.",
    ),
    "file.limit": Code(
        title="Reading the file was stopped",
        why="It used more time or memory than any honest document needs, or crashed the reader.",
    ),
    "page.no_text": Code(
        title="The pages show no text",
        why="They are blank, or show a picture in which no words can be read.",
    ),
    "page.text_differs": Code(
        title="A page's own text is not what it shows",
        why="Old or faked text lay under the page, or its font names no letters; what the page "
        "shows was read instead.",
        lowered=True,
    ),
    # -- structured invoices
    "einvoice.differs": Code(
        title="The structured invoice and its page differ",
        why="One file holds an invoice for machines and one for people; both must say the same.",
        rule="EN 16931: the structured form is the invoice",
    ),
    "einvoice.invalid": Code(
        title="A structured invoice holds values that are none",
        why="It does not keep to its standard; nothing is guessed.",
        rule="EN 16931-3",
    ),
    "einvoice.national": Code(
        title="A national form of e-invoice that is not read",
        why="It is kept and shown; its values have to be entered by a person.",
    ),
    "payment.code_differs": Code(
        title="The payment code asks for something else",
        why="Print and QR code of one bill must name the same account and amount.",
        rule="EPC069-12; Swiss QR-bill",
    ),
    # -- completeness
    "field.missing": Code(
        title="A needed field is missing",
        why="The pipeline needs it, and it was not found on the pages.",
        rule="EN 16931 BR-02 to BR-16",
        accepted=False,
    ),
    "field.unsure": Code(
        title="A value was read with doubt",
        why="One of its signs could not be recognised for sure on a picture, or little on the page "
        "says that it is what it was taken for.",
    ),
    "field.mended": Code(
        title="A misread digit was mended",
        why="Two or more sums or products of a scan did not hold, and all do with one digit "
        "changed into one that it is easily taken for. Only the page says which it is.",
    ),
    "kind.not_posted": Code(
        title="Not a kind of document that is posted",
        why="Statements, reminders, delivery notes and the like are never paid as invoices.",
        accepted=False,
    ),
    # -- arithmetic
    "line.amount": Code(
        title="A line's amount is not quantity times price",
        why="Small differences come from rounded prices; larger ones are slips or misreadings.",
        rule="EN 16931 BT-131",
        lowered=True,
    ),
    "lines.sum": Code(
        title="The lines do not add up to the net total",
        why="A line is missing, was misread, or the vendor added up wrongly.",
        rule="EN 16931 BR-CO-10, BR-CO-13",
    ),
    "tax.amount": Code(
        title="A tax amount is not base times rate",
        why="Differences of a minor unit come from rounding per line.",
        rule="EN 16931 BR-CO-17",
        lowered=True,
    ),
    "tax.sum": Code(
        title="The tax amounts do not add up to the total tax",
        why="A tax line is missing or wrong.",
        rule="EN 16931 BR-CO-14",
    ),
    "total.sum": Code(
        title="Net and tax do not add up to the total",
        why="Paying the printed total would pay too much or too little.",
        rule="EN 16931 BR-CO-15",
    ),
    "total.unchecked": Code(
        title="The total could not be checked",
        why="Net or tax is not stated, so nothing vouches for the total.",
    ),
    "total.due": Code(
        title="What is left to pay does not follow from the total",
        why="A deposit, or tax withheld by the buyer, was left out or misread.",
        rule="EN 16931 BR-CO-16",
    ),
    "total.zero": Code(
        title="The bill asks for nothing",
        why="A total of zero is most often misread, or no bill at all.",
    ),
    # -- dates
    "date.future": Code(
        title="The issue date lies in the future",
        why="A misread date, or a bill that is not due to be booked yet.",
        lowered=True,
    ),
    "date.old": Code(
        title="The issue date lies long ago",
        why="A misread date, or an old bill that was most likely paid long ago.",
        lowered=True,
    ),
    # -- vendor, entity
    "vendor.unknown": Code(
        title="No vendor in the master data fits",
        why="Bills are only posted to vendors that the finance system knows.",
        accepted=False,
        helped=True,
    ),
    "vendor.unclear": Code(
        title="More than one vendor fits",
        why="A person has to choose; guessing could pay the wrong one.",
        accepted=False,
        helped=True,
    ),
    "vendor.contradicted": Code(
        title="What the bill says of the seller contradicts itself",
        why="Name and tax id are those of different companies: a misreading, or a forged bill. "
        "A person chooses the vendor.",
        accepted=False,
        alone=False,
        helped=True,
    ),
    "vendor.blocked": Code(
        title="The vendor is blocked",
        why="The finance system does not allow bills of this vendor at present.",
        accepted=False,
        helped=True,
    ),
    "entity.unknown": Code(
        title="It is not clear which of our entities is billed",
        why="The bill must stand in the right company's books.",
        accepted=False,
        helped=True,
    ),
    "entity.contradicted": Code(
        title="What the bill says of the buyer contradicts itself",
        why="Name and tax id are those of different companies; a person says whose bill it is.",
        accepted=False,
        alone=False,
        helped=True,
    ),
    # -- duplicates
    "duplicate.exact": Code(
        title="We had this document before",
        why="Same vendor, kind, number and year: paying it again would pay twice.",
        accepted=False,
        alone=False,
    ),
    "duplicate.near": Code(
        title="We had this number before, written otherwise",
        why="Same vendor, kind and year, and a number that differs in separators only: most often "
        "the same bill, typed again.",
        alone=False,
    ),
    "duplicate.in_ledger": Code(
        title="The ledger already holds a bill of this vendor and number",
        why="It was entered there by another way; posting again would pay twice.",
        accepted=False,
        alone=False,
        ledgers=True,
    ),
    # -- orders
    "order.missing": Code(
        title="No order number is stated",
        why="Vendors that deliver on orders must name one.",
        lowered=True,
        helped=True,
    ),
    "order.unknown": Code(
        title="The order number is not known",
        why="Nobody here ordered under this number, or the order list is out of date.",
        lowered=True,
        helped=True,
    ),
    "order.closed": Code(
        title="The order is closed",
        why="Everything ordered was already invoiced or the order was cancelled.",
        lowered=True,
        helped=True,
    ),
    "order.vendor": Code(
        title="The order belongs to another vendor",
        why="A mistyped number, or somebody bills on another's order.",
        helped=True,
    ),
    "order.entity": Code(
        title="The order belongs to another of our companies",
        why="One of ours ordered and another is billed: the bill would stand in the wrong books.",
        helped=True,
    ),
    "order.currency": Code(
        title="Order and invoice are in different currencies",
        why="Amounts cannot be compared without an agreed rate.",
        helped=True,
    ),
    "order.total": Code(
        title="More is invoiced than was ordered",
        why="All bills on this order together exceed its net total beyond the tolerance.",
        lowered=True,
        helped=True,
    ),
    "order.charges": Code(
        title="Freight and other charges exceed their limit",
        why="The order does not name them; a small amount is usual, a large one is not.",
        lowered=True,
        helped=True,
    ),
    # -- posting
    "ledger.refused": Code(
        title="The ledger refuses the bill",
        why="The ledger's own checks say no; its reason is quoted.",
        alone=False,
        ledgers=True,
    ),
    "posting.unsure": Code(
        title="Whether the bill was booked is not known",
        why="The ledger did not answer and cannot rule out a late booking: look before retrying.",
        alone=False,
        ledgers=True,
    ),
    "posting.differs": Code(
        title="The booked bill differs from what was sent",
        why="Read back from the ledger, total, lines or attachments are not the same.",
        lowered=True,
    ),
}
