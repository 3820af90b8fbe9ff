"""What a word of a document may state: the classes of the network, in a fixed order."""

from typing import Final

TOTALS: Final = (
    "lines_total",
    "allowances",
    "charges",
    "net_total",
    "tax_total",
    "gross_total",
    "prepaid",
    "withheld",
    "amount_due",
)
HEADER: Final = (
    "number",
    "issue_date",
    "due_date",
    "delivery_date",
    "order_number",
    "delivery_note",
    "preceding_number",
    "seller.name",
    "seller.tax_id",
    "buyer.name",
    "buyer.tax_id",
    "account",
    *TOTALS,
)
"""Header fields; each has a class for its value and one for the words that name it."""
CELLS: Final = (
    "line.id",
    "line.code",
    "line.description",
    "line.quantity",
    "line.unit",
    "line.unit_price",
    "line.price_base",
    "line.discount",
    "line.tax_rate",
    "line.amount",
    "line.gross",
    "line.other",
    "line.group",
)
"""Cells of lines. `line.gross` is an amount with tax beside the one without it, `line.group` the
heading of several lines."""
TAXES: Final = ("tax.rate", "tax.base", "tax.amount")
"""Cells of a table of taxes, and of sums of several rates."""
DISTRACTORS: Final = (
    "seller.address",
    "buyer.address",
    "other.party",
    "other.date",
    "other.id",
    "other.money",
    "other.contact",
    "rounding",
    "group.sum",
    "currency",
)
"""What looks like a value of the header and is none (but the currency)."""
HEADS: Final = (
    "id",
    "code",
    "description",
    "quantity",
    "unit",
    "unit_price",
    "discount",
    "tax_rate",
    "amount",
    "other",
)
TAGS: Final = (
    "text",
    "title",
    *HEADER,
    *CELLS,
    *TAXES,
    *DISTRACTORS,
    *(f"label.{name}" for name in HEADER),
    "label.tax.amount",
    "label.other.id",
    "label.other.date",
    "label.other.party",
    "label.other.money",
    "label.other",
    *(f"header.{name}" for name in HEADS),
)
"""All classes; the weights of the network know them by their place."""
KINDS: Final = (
    "invoice",
    "credit note",
    "till receipt",
    "purchase order",
    "order confirmation",
    "delivery note",
    "statement",
    "reminder",
    "pro forma",
    "terms",
    "other",
)
"""Kinds of documents, in the order of the network's second answer."""
