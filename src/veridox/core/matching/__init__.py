"""Which vendor, which order, which earlier document: evidence and score, no database."""

from veridox.core.matching.duplicates import EarlierDocument, number_key
from veridox.core.matching.lines import OrderLineRecord, pair_lines
from veridox.core.matching.orders import OrderRecord, order_key
from veridox.core.matching.vendors import VendorMatch, VendorRecord, choose_vendor, name_key

__all__ = [
    "EarlierDocument",
    "OrderLineRecord",
    "OrderRecord",
    "VendorMatch",
    "VendorRecord",
    "choose_vendor",
    "name_key",
    "number_key",
    "order_key",
    "pair_lines",
]
