"""Every pipeline that posts looks at the risk: where it names no limit, it gets one."""

from typing import Final

from veridox.core.language import Expression, compile_condition
from veridox.core.language.syntax import Binary, Constant, Name
from veridox.core.pipeline.definition import DeskRule

USUAL: Final = "risk > 10 %"
"""The gate of a pipeline that names none (docs/guide.md says how to name another)."""


def with_risk_gate(desk: tuple[DeskRule, ...]) -> tuple[DeskRule, ...]:
    """The desk's rules, with the usual risk gate unless one of them is a risk gate already.

    A rule is one when it stops whatever is above a limit, whatever else holds:
    `risk > 5 %`, or that joined to more by `or`. With `and` it is not.
    """
    if any(_stops_by_risk(rule.when) for rule in desk):
        return desk
    return (*desk, DeskRule(when=compile_condition(USUAL), source=USUAL, queue="unsure"))


def _stops_by_risk(expression: Expression) -> bool:
    if not isinstance(expression, Binary):
        return False
    if expression.operator == "or":
        return _stops_by_risk(expression.left) or _stops_by_risk(expression.right)
    return (
        expression.operator in (">", ">=")
        and isinstance(expression.left, Name)
        and expression.left.name == "risk"
        and isinstance(expression.right, Constant)
    )
