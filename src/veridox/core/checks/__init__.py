"""Checks: functions from facts to findings."""

from veridox.core.checks.facts import (
    CheckSettings,
    EntityRecord,
    Facts,
    OrderTolerance,
    choose_entity,
)
from veridox.core.checks.registry import CHECKS, UNACCEPTABLE, run_arithmetic, run_checks

__all__ = [
    "CHECKS",
    "UNACCEPTABLE",
    "CheckSettings",
    "EntityRecord",
    "Facts",
    "OrderTolerance",
    "choose_entity",
    "run_arithmetic",
    "run_checks",
]
