"""The expression language of pipelines: typed, exact, bounded, without Python objects."""

from veridox.core.rules.evaluate import NotEvaluableError, evaluate
from veridox.core.rules.names import FILE_NAMES, MAIL_NAMES, NAMES, Names, header_name
from veridox.core.rules.parse import ExpressionError, parse
from veridox.core.rules.syntax import Expression
from veridox.core.rules.typing import compile_condition

__all__ = [
    "FILE_NAMES",
    "MAIL_NAMES",
    "NAMES",
    "Expression",
    "ExpressionError",
    "Names",
    "NotEvaluableError",
    "compile_condition",
    "evaluate",
    "header_name",
    "parse",
]
