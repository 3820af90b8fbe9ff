"""The expression language of pipelines: typed, exact, bounded, without Python objects."""

from veridox.core.rules.evaluate import NotEvaluableError, evaluate
from veridox.core.rules.explain import Looked, look
from veridox.core.rules.functions import FUNCTIONS
from veridox.core.rules.names import (
    NAMES,
    Control,
    Names,
    Scope,
    Subject,
    header_name,
    known_at,
    values_of,
)
from veridox.core.rules.parse import ExpressionError, parse
from veridox.core.rules.syntax import Expression
from veridox.core.rules.typing import compile_condition

__all__ = [
    "FUNCTIONS",
    "NAMES",
    "Control",
    "Expression",
    "ExpressionError",
    "Looked",
    "Names",
    "NotEvaluableError",
    "Scope",
    "Subject",
    "compile_condition",
    "evaluate",
    "header_name",
    "known_at",
    "look",
    "parse",
    "values_of",
]
