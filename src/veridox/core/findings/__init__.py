"""Findings: what a check says about a document, in one shape everywhere."""

from veridox.core.findings.code import BOOKS, ENTITIES, ORDERS, RATES, VENDORS, Code
from veridox.core.findings.finding import Finding, Weight
from veridox.core.findings.outside import LEDGERS, PLUGINS, READERS, RULES

__all__ = [
    "BOOKS",
    "ENTITIES",
    "LEDGERS",
    "ORDERS",
    "PLUGINS",
    "RATES",
    "READERS",
    "RULES",
    "VENDORS",
    "Code",
    "Finding",
    "Weight",
]
