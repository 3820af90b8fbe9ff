"""Chances as odds: sums of log-odds weigh what speaks for and against."""

import math

from veridox.core.extract.thresholds import NEVER

_LIMIT = 30.0
"""Log-odds beyond which a chance is no different from 0 or 1."""


def log_odds(chance: float, least: float = NEVER) -> float:
    """Of a chance in [0, 1], taken to be no nearer to 0 or 1 than `least`."""
    chance = min(max(chance, least), 1 - least)
    return math.log(chance / (1 - chance))


def chance_of(weighed: float) -> float:
    """The chance that has such log-odds."""
    return 1 / (1 + math.exp(-min(max(weighed, -_LIMIT), _LIMIT)))
