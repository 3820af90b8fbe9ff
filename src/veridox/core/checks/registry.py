"""All checks, in the order in which people think of them, and all codes.

A check is one function in one module of this package: whatever module lies here is loaded, and
its checks are in the table. Nothing else has to be told of it.
"""

import pkgutil
from importlib import import_module
from typing import Final

from veridox.core import checks
from veridox.core.checks.table import TABLE, Check
from veridox.core.facts import Facts
from veridox.core.findings import CODING, LEDGERS, PLUGINS, RULES, Code, Finding
from veridox.core.reading import Reading

_NOT_CHECKS = {"registry", "table", "evidence", "figures"}

for _module in pkgutil.iter_modules(checks.__path__):
    if _module.name not in _NOT_CHECKS:
        import_module(f"{checks.__name__}.{_module.name}")

CHECKS: Final[tuple[Check, ...]] = tuple(sorted(TABLE.values(), key=lambda row: row.place))

CODES: Final[dict[str, Code]] = {
    **{code: about for row in CHECKS for code, about in row.codes.items()},
    **RULES,
    **PLUGINS,
    **LEDGERS,
    **CODING,
}
"""Every code that a finding may have. Codes are stable: never renamed, never reused."""

ARITHMETIC: Final[tuple[Check, ...]] = tuple(
    row for row in CHECKS if row.run.__module__.endswith((".arithmetic", ".sums"))
)
"""Does it add up: checks that need nothing but the reading."""


def run_arithmetic(reading: Reading) -> tuple[Finding, ...]:
    """Does it add up, without knowing anything but the document."""
    facts = Facts(reading=reading)
    return tuple(finding for row in ARITHMETIC for finding in row.findings(facts))


def run_checks(facts: Facts) -> tuple[Finding, ...]:
    """All findings, with the pipeline's weights, in the order of the checks.

    Raises:
        CheckError: a check failed; says which.
    """
    found: list[Finding] = []
    for row in CHECKS:
        try:
            found += row.findings(facts)
        except Exception as error:
            raise CheckError(row.name, error) from error
    return tuple(found)


class CheckError(Exception):
    """A check failed, by a mistake in it: what it would have said is not known."""

    def __init__(self, name: str, error: Exception) -> None:
        super().__init__(f"the check {name} failed: {type(error).__name__}: {error}")
        self.name = name
