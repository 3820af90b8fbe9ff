"""Findings: what a check says about a document, in one shape everywhere."""

from veridox.core.findings.codes import CODES, Code
from veridox.core.findings.finding import Finding, Weight

__all__ = ["CODES", "Code", "Finding", "Weight"]
