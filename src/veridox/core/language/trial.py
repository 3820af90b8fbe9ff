"""Try an expression: its type, its value, how it came about, or what is wrong with it and where."""

from collections.abc import Mapping
from dataclasses import dataclass

from veridox.core.language.evaluate import evaluate
from veridox.core.language.explain import look, shown_value
from veridox.core.language.functions import NotEvaluableError
from veridox.core.language.lists import known_at, lists_of
from veridox.core.language.names import Scope, Subject, values_of
from veridox.core.language.parse import ExpressionError, parse
from veridox.core.language.syntax import Type
from veridox.core.language.typing import type_of


@dataclass(frozen=True, kw_only=True, slots=True)
class Trial:
    """What came of an expression.

    Attributes:
        type: what it yields; empty when it is wrong.
        value: as people write it; empty when there is none.
        said: the expression with the values that it looked at, and what came out.
        why: why it could not be evaluated.
        problem, hint: what is wrong with it, and what may have been meant.
        at: offset of the first character concerned; None when nothing is wrong.
    """

    type: str = ""
    value: str = ""
    said: str = ""
    why: str = ""
    problem: str = ""
    hint: str = ""
    at: int | None = None


def try_expression(
    source: str, subject: Subject | None = None, declared: Mapping[str, Type] | None = None
) -> Trial:
    """Check an expression, and evaluate it for a subject; never raises.

    Args:
        source: its text.
        subject: what names speak of; None to check it alone.
        declared: names beside those of the language, with their types.
    """
    try:
        expression = parse(source)
        kind = type_of(expression, {**known_at(Scope.DECIDED), **(declared or {})})
    except ExpressionError as error:
        return Trial(problem=str(error), hint=error.hint, at=error.at)
    if subject is None:
        return Trial(type=kind.value)
    names, lists = values_of(subject), lists_of(subject)
    codes = {finding.code for finding in subject.findings}
    seen = look(expression, names, codes, lists, subject.facts, subject.calls)
    if kind is Type.TRUTH:
        value = "" if seen.holds is None else shown_value(seen.holds)
        return Trial(type=kind.value, value=value, said=seen.said, why=seen.why)
    try:
        found = evaluate(expression, names, codes, lists, subject.facts, subject.calls)
    except NotEvaluableError as error:
        return Trial(type=kind.value, why=str(error))
    return Trial(type=kind.value, value=shown_value(found))
