"""The catalogue of fields: names, types and business terms of EN 16931-1."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, Final


class FieldType(StrEnum):
    """What a field's value is."""

    TEXT = "text"
    DATE = "date"  # a calendar day without a time
    MONEY = "money"  # amount with currency
    NUMBER = "number"  # a quantity, or a price with all printed decimals
    RATE = "rate"  # percent
    CURRENCY = "currency"  # ISO 4217 code
    CHOICE = "choice"  # one of a closed list


class Kind(StrEnum):
    """What a document is. Only the first three are ever posted."""

    INVOICE = "invoice"
    CREDIT_NOTE = "credit note"
    TILL_RECEIPT = "till receipt"
    PURCHASE_ORDER = "purchase order"
    ORDER_CONFIRMATION = "order confirmation"
    DELIVERY_NOTE = "delivery note"
    STATEMENT = "statement"
    REMINDER = "reminder"
    PRO_FORMA = "pro forma"
    TERMS = "terms"
    OTHER = "other"


POSTED_KINDS: Final = frozenset({Kind.INVOICE, Kind.CREDIT_NOTE, Kind.TILL_RECEIPT})
"""Kinds that may ever become a bill, a credit or an expense."""


@dataclass(frozen=True, kw_only=True, slots=True)
class FieldSpec:
    """One field of the catalogue, or one that a developer declares.

    Attributes:
        type: of its value.
        term: business term of EN 16931-1 (`BT-1`); empty for what the standard does not have.
        title: for people.
        choices: what a choice may be.
        unit: that a number is kept in; empty for none.
        posted: whether a posting would be wrong if it were: what `risk` is about.
        doubted: whether a person looks at it when it alone was read with doubt.
    """

    type: FieldType
    term: str
    title: str
    choices: tuple[str, ...] = ()
    unit: str = ""
    posted: bool = False
    doubted: bool = False

    def to_json(self) -> dict[str, Any]:
        """The shape in which a reading tells of its declared fields."""
        return {
            "type": self.type.value,
            "title": self.title,
            "choices": list(self.choices),
            "unit": self.unit,
        }

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> "FieldSpec":
        """Back from `to_json`. Raises KeyError or ValueError on another shape."""
        return cls(
            type=FieldType(data["type"]), term="", title=data["title"],
            choices=tuple(data["choices"]), unit=data["unit"],
        )  # fmt: skip


def _specs(rows: str) -> dict[str, FieldSpec]:
    specs = {}
    for row in rows.strip().splitlines():
        name, kind, term, title, *marks = (part.strip() for part in row.split("|"))
        specs[name] = FieldSpec(
            type=FieldType(kind),
            term=term,
            title=title,
            posted="posted" in marks,
            doubted="doubted" in marks,
        )
    return specs


FIELDS: Final[dict[str, FieldSpec]] = _specs("""
number            | text     | BT-1   | Invoice number  | posted | doubted
issue_date        | date     | BT-2   | Issue date      | posted | doubted
currency          | currency | BT-5   | Currency        | posted | doubted
tax_currency      | currency | BT-6   | Currency of the books
tax_point         | date     | BT-7   | Tax point
due_date          | date     | BT-9   | Due date        | posted
buyer_reference   | text     | BT-10  | Buyer reference
contract_number   | text     | BT-12  | Contract number
order_number      | text     | BT-13  | Order number    |        | doubted
delivery_note     | text     | BT-16  | Delivery note number
payment_terms     | text     | BT-20  | Payment terms
preceding_number  | text     | BT-25  | Preceding invoice number
delivery_date     | date     | BT-72  | Delivery date
period            | text     | BT-73  | Billing period
seller.name       | text     | BT-27  | Seller          | posted
seller.registration | text   | BT-30  | Seller's registration
seller.tax_id     | text     | BT-31  | Seller's tax id | posted
seller.address    | text     | BT-35  | Seller's address
buyer.name        | text     | BT-44  | Buyer
buyer.tax_id      | text     | BT-48  | Buyer's tax id
buyer.address     | text     | BT-50  | Buyer's address
payee.name        | text     | BT-59  | Payee, where not the seller
payment_means     | text     | BT-81  | Means of payment
payment_reference | text     | BT-83  | Payment reference
account           | text     | BT-84  | Account         | posted | doubted
bic               | text     | BT-86  | Bank (BIC)
lines_total       | money    | BT-106 | Sum of lines
allowances        | money    | BT-107 | Allowances
charges           | money    | BT-108 | Charges
net_total         | money    | BT-109 | Net total       | posted | doubted
tax_total         | money    | BT-110 | Tax total       | posted | doubted
tax_total_accounting | money | BT-111 | Tax total in the books' currency
exemption_reason  | text     | BT-120 | Why no tax is charged
gross_total       | money    | BT-112 | Total with tax  | posted | doubted
prepaid           | money    | BT-113 | Prepaid
rounding          | money    | BT-114 | Rounding
withheld          | money    |        | Tax withheld
amount_due        | money    | BT-115 | Amount due      |        | doubted
""")
"""Header fields by name."""

LINE_CELLS: Final[dict[str, FieldSpec]] = _specs("""
id           | text   | BT-126 | Line
item_code    | text   | BT-155 | Item code
description  | text   | BT-154 | Description
quantity     | number | BT-129 | Quantity
unit         | text   | BT-130 | Unit
unit_price   | number | BT-146 | Unit price
price_base   | number | BT-149 | Price base quantity
discount     | money  | BT-136 | Discount
charge       | money  | BT-141 | Charge
tax_category | text   | BT-151 | Tax category
tax_rate     | rate   | BT-152 | Tax rate
amount       | money  | BT-131 | Amount
order_number | text   |        | Order number
order_line   | text   | BT-132 | Line of the order
""")
"""Cells of a line (BG-25) by name."""

TAX_CELLS: Final[dict[str, FieldSpec]] = _specs("""
category | text  | BT-118 | Category
rate     | rate  | BT-119 | Rate
base     | money | BT-116 | Taxable amount
amount   | money | BT-117 | Tax amount
reason   | text  | BT-120 | Why no tax is charged
""")
"""Cells of a tax line (BG-23) by name."""

ADJUSTMENT_CELLS: Final[dict[str, FieldSpec]] = _specs("""
reason       | text  | BT-97, BT-104 | Reason
base         | money | BT-93, BT-100 | Amount it applies to
percent      | rate  | BT-94, BT-101 | Percent
tax_category | text  | BT-95, BT-102 | Tax category
tax_rate     | rate  | BT-96, BT-103 | Tax rate
amount       | money | BT-92, BT-99  | Amount
""")
"""Cells of an allowance (BG-20) or a charge (BG-21) of the whole bill by name."""
