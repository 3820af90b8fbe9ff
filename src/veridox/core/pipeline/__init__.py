"""Pipelines: definition, its check before it runs, and the decision about one document."""

from veridox.core.pipeline.decide import Decision, Outcome, Situation, check_document, decide, risk
from veridox.core.pipeline.definition import (
    Collect,
    Definition,
    DeskRule,
    Folders,
    Post,
    Tell,
)
from veridox.core.pipeline.load import PipelineError, load
from veridox.core.pipeline.nodes import Problem

__all__ = [
    "Collect",
    "Decision",
    "Definition",
    "DeskRule",
    "Folders",
    "Outcome",
    "PipelineError",
    "Post",
    "Problem",
    "Situation",
    "Tell",
    "check_document",
    "decide",
    "load",
    "risk",
]
