"""Pipelines: definition, its check before it runs, and the decision about one document."""

from veridox.core.pipeline.complete import completed
from veridox.core.pipeline.decide import Decision, Outcome, Situation, check_document, decide, risk
from veridox.core.pipeline.definition import (
    Collect,
    Declared,
    Definition,
    DeskRule,
    Folders,
    Post,
    Tell,
)
from veridox.core.pipeline.load import PipelineError, load
from veridox.core.pipeline.nodes import Problem
from veridox.core.pipeline.wanted import (
    Condition,
    MailFacts,
    Wanted,
    conditions,
    is_pattern,
    unmet,
)

__all__ = [
    "Collect",
    "Condition",
    "Decision",
    "Declared",
    "Definition",
    "DeskRule",
    "Folders",
    "MailFacts",
    "Outcome",
    "PipelineError",
    "Post",
    "Problem",
    "Situation",
    "Tell",
    "Wanted",
    "check_document",
    "completed",
    "conditions",
    "decide",
    "is_pattern",
    "load",
    "risk",
    "unmet",
]
