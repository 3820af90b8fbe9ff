"""Orders as the checks know them."""

import re
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from veridox.core.matching.lines import OrderLineRecord
from veridox.core.money import Money


@dataclass(frozen=True, kw_only=True, slots=True)
class OrderRecord:
    """An order of the master data with what was billed on it so far.

    Attributes:
        number: as in the finance system.
        vendor: code of the vendor it was placed with.
        net_total: ordered amount without tax.
        invoiced: net total of other bills on it, posted or on their way, less their charges.
        closed: nothing more may be billed.
        approved: whoever answers for the money has agreed to it.
        gone: the finance system does not list it any more.
        entity: code of the ordering entity.
        ordered_on: the day of the order; None when not known.
        lines: what was ordered; empty where only the total is known.
    """

    number: str
    vendor: str
    net_total: Money
    invoiced: Money
    closed: bool = False
    approved: bool = True
    gone: bool = False
    entity: str = ""
    ordered_on: date | None = None
    lines: tuple[OrderLineRecord, ...] = ()


class Raised(StrEnum):
    """When an order was raised, seen from the bill: the control that orders come first."""

    BEFORE = "before"
    SAME_DAY = "same day"
    AFTERWARDS = "raised afterwards"
    NONE = "no order raised"


def order_key(number: str) -> str:
    """An order number without blanks and separators, upper case."""
    return re.sub(r"[^A-Z0-9]", "", number.upper())
