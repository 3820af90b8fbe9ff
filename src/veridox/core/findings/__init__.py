"""Findings: what a check says about a document, in one shape everywhere."""

from veridox.core.findings.code import ENTITIES, ORDERS, VENDORS, Code
from veridox.core.findings.finding import Finding, Weight
from veridox.core.findings.outside import LEDGERS, PLUGINS, READERS, RULES

__all__ = [
    "ENTITIES",
    "LEDGERS",
    "ORDERS",
    "PLUGINS",
    "READERS",
    "RULES",
    "VENDORS",
    "Code",
    "Finding",
    "Weight",
]
