"""Mails and files walked through a pipeline with nothing done: for the CLI, the service, tests."""

from veridox.trials.facts import FactsError, known_from
from veridox.trials.trial import Trial

__all__ = ["FactsError", "Trial", "known_from"]
