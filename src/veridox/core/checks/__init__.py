"""Checks: functions from facts to findings."""

from veridox.core.checks.facts import (
    CheckSettings,
    EntityChoice,
    EntityRecord,
    Facts,
    OrderTolerance,
    choose_entity,
)
from veridox.core.checks.registry import CHECKS, run_arithmetic, run_checks

__all__ = [
    "CHECKS",
    "CheckSettings",
    "EntityChoice",
    "EntityRecord",
    "Facts",
    "OrderTolerance",
    "choose_entity",
    "run_arithmetic",
    "run_checks",
]
