"""The expression language of pipelines: typed, exact, bounded, without Python objects."""

from veridox.core.language.evaluate import evaluate
from veridox.core.language.explain import Looked, look
from veridox.core.language.functions import FUNCTIONS, NotEvaluableError
from veridox.core.language.lists import EVERY, LISTS, Lists, known_at, lists_of
from veridox.core.language.names import (
    NAMES,
    Control,
    Names,
    Scope,
    Subject,
    header_name,
    values_of,
)
from veridox.core.language.parse import ExpressionError, parse
from veridox.core.language.printed import printed
from veridox.core.language.syntax import Expression
from veridox.core.language.typing import compile_condition

__all__ = [
    "EVERY",
    "FUNCTIONS",
    "LISTS",
    "NAMES",
    "Control",
    "Expression",
    "ExpressionError",
    "Lists",
    "Looked",
    "Names",
    "NotEvaluableError",
    "Scope",
    "Subject",
    "compile_condition",
    "evaluate",
    "header_name",
    "known_at",
    "lists_of",
    "look",
    "parse",
    "printed",
    "values_of",
]
