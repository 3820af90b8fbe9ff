"""Coding: under which accounts, cost centres and tax codes each line of a bill is booked."""

from veridox.core.coding.codes import CostCentre, GlAccount, LedgerCodes, TaxCode
from veridox.core.coding.history import CodedBefore, most_likely, wording_key
from veridox.core.coding.lines import (
    CALLED,
    DIMENSIONS,
    ByHand,
    Coded,
    CodedLine,
    Dimension,
    Part,
    Proposal,
    Share,
    Source,
    code_line,
    coded_at_hand,
    lines_to_code,
    tax_code_of,
)

__all__ = [
    "CALLED",
    "DIMENSIONS",
    "ByHand",
    "Coded",
    "CodedBefore",
    "CodedLine",
    "CostCentre",
    "Dimension",
    "GlAccount",
    "LedgerCodes",
    "Part",
    "Proposal",
    "Share",
    "Source",
    "TaxCode",
    "code_line",
    "coded_at_hand",
    "lines_to_code",
    "most_likely",
    "tax_code_of",
    "wording_key",
]
