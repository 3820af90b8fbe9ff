"""Taxes on sales: rates by country and day, tax ids, why a bill may carry no tax."""

from veridox.core.tax.ids import country_of, holds
from veridox.core.tax.rates import EU, RateStanding, rates_of, source_of, standing
from veridox.core.tax.reasons import REASONS, Treatment, reason_in, treatment_of

__all__ = [
    "EU",
    "REASONS",
    "RateStanding",
    "Treatment",
    "country_of",
    "holds",
    "rates_of",
    "reason_in",
    "source_of",
    "standing",
    "treatment_of",
]
