"""All checks, in the order in which people think of them."""

from collections.abc import Callable, Iterable
from typing import Final

from veridox.core.checks.arithmetic import (
    line_amounts,
    lines_sum,
    tax_amounts,
    tax_sum,
    total_due,
    total_sum,
    total_zero,
)
from veridox.core.checks.completeness import (
    digits_mended,
    entity_known,
    fields_present,
    file_findings,
    kind_is_posted,
    read_surely,
)
from veridox.core.checks.dates import issue_date_fits
from veridox.core.checks.duplicates import exact_duplicate, near_duplicate
from veridox.core.checks.facts import Facts
from veridox.core.checks.orders import order_charges, order_fits, order_total
from veridox.core.checks.vendor import vendor_known
from veridox.core.findings import Finding
from veridox.core.reading import Reading

Check = Callable[[Facts], Iterable[Finding]]

CHECKS: Final[tuple[Check, ...]] = (
    file_findings,
    kind_is_posted,
    fields_present,
    read_surely,
    digits_mended,
    entity_known,
    vendor_known,
    exact_duplicate,
    near_duplicate,
    issue_date_fits,
    line_amounts,
    lines_sum,
    tax_amounts,
    tax_sum,
    total_sum,
    total_due,
    total_zero,
    order_fits,
    order_total,
    order_charges,
)

ARITHMETIC: Final[tuple[Check, ...]] = (
    line_amounts,
    lines_sum,
    tax_amounts,
    tax_sum,
    total_sum,
    total_due,
    total_zero,
)
"""Checks that need nothing but the reading."""


def run_arithmetic(reading: Reading) -> tuple[Finding, ...]:
    """Does it add up, without knowing anything but the document."""
    facts = Facts(reading=reading)
    return tuple(finding for check in ARITHMETIC for finding in check(facts))


def run_checks(facts: Facts) -> tuple[Finding, ...]:
    """All findings, with the pipeline's weights, in the order of the checks."""
    weights = facts.settings.weights
    return tuple(
        finding.weighted(weights.get(finding.code, finding.weight))
        for check in CHECKS
        for finding in check(facts)
    )
