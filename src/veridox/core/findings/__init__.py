"""Findings: what a check says about a document, in one shape everywhere."""

from veridox.core.findings.code import (
    BOOKS,
    CARDS,
    ENTITIES,
    ITEMS,
    ORDERS,
    RATES,
    RECEIPTS,
    VENDORS,
    Code,
)
from veridox.core.findings.finding import Finding, Weight
from veridox.core.findings.outside import CODING, LEDGERS, PLUGINS, READERS, RULES

__all__ = [
    "BOOKS",
    "CARDS",
    "CODING",
    "ENTITIES",
    "ITEMS",
    "LEDGERS",
    "ORDERS",
    "PLUGINS",
    "RATES",
    "READERS",
    "RECEIPTS",
    "RULES",
    "VENDORS",
    "Code",
    "Finding",
    "Weight",
]
