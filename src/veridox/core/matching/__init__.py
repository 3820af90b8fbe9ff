"""Which vendor, which order, which earlier document: evidence and score, no database."""

from veridox.core.matching.duplicates import EarlierDocument, number_bare, number_key
from veridox.core.matching.lines import OrderLineRecord, pair_lines
from veridox.core.matching.orders import OrderRecord, order_key
from veridox.core.matching.vendors import (
    VendorChoice,
    VendorMatch,
    VendorRecord,
    choose_vendor,
    name_key,
    registration,
    same_tax_id,
    tax_key,
)

__all__ = [
    "EarlierDocument",
    "OrderLineRecord",
    "OrderRecord",
    "VendorChoice",
    "VendorMatch",
    "VendorRecord",
    "choose_vendor",
    "name_key",
    "number_bare",
    "number_key",
    "order_key",
    "pair_lines",
    "registration",
    "same_tax_id",
    "tax_key",
]
