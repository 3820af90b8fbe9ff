"""Pipelines: definition, its check before it runs, and the decision about one document."""

from veridox.core.pipeline.advance import Advance, advance
from veridox.core.pipeline.case import Case, Checked, LetterFact, PostingFact
from veridox.core.pipeline.complete import as_wanted, completed
from veridox.core.pipeline.definition import (
    Collect,
    Declared,
    Definition,
    DeskRule,
    Folders,
    Post,
    Tell,
)
from veridox.core.pipeline.file.load import Examined, PipelineError, examine, load
from veridox.core.pipeline.file.nodes import Problem
from veridox.core.pipeline.statements import Identity, Said, Statement, identity_of
from veridox.core.pipeline.states import ENDED, EVENTS, WITH_PEOPLE, State
from veridox.core.pipeline.wanted import (
    Condition,
    MailFacts,
    Wanted,
    conditions,
    facts_of_content,
    is_pattern,
    unmet,
)

__all__ = [
    "ENDED",
    "EVENTS",
    "WITH_PEOPLE",
    "Advance",
    "Case",
    "Checked",
    "Collect",
    "Condition",
    "Declared",
    "Definition",
    "DeskRule",
    "Examined",
    "Folders",
    "Identity",
    "LetterFact",
    "MailFacts",
    "PipelineError",
    "Post",
    "PostingFact",
    "Problem",
    "Said",
    "State",
    "Statement",
    "Tell",
    "Wanted",
    "advance",
    "as_wanted",
    "completed",
    "conditions",
    "examine",
    "facts_of_content",
    "identity_of",
    "is_pattern",
    "load",
    "unmet",
]
