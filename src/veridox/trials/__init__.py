"""Mails and files walked through a pipeline with nothing done: for the CLI, the service, tests."""

from veridox.trials.cells import FactsError
from veridox.trials.facts import known_from
from veridox.trials.trial import Trial

__all__ = ["FactsError", "Trial", "known_from"]
