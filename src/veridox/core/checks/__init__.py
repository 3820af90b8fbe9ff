"""Checks: functions from facts to findings, and the table of them."""

from veridox.core.checks.registry import (
    CHECKS,
    CODES,
    CheckError,
    run_arithmetic,
    run_checks,
)

__all__ = ["CHECKS", "CODES", "CheckError", "run_arithmetic", "run_checks"]
