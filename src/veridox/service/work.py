"""How jobs are deferred with their cause, and tried again."""

from collections.abc import Sequence
from contextlib import suppress
from datetime import timedelta
from typing import Any

from django.db import connection, transaction
from procrastinate import BaseRetryStrategy, RetryDecision
from procrastinate.contrib.django import app as app_of_django
from procrastinate.contrib.django.django_connector import DjangoConnector
from procrastinate.exceptions import AlreadyEnqueued
from procrastinate.jobs import Job
from procrastinate.tasks import Task
from procrastinate.utils import utcnow

from veridox.service.errors import UnreachableError, VeridoxError

LONGEST_WAIT = 300
"""Seconds between two tries at the most."""


class Patience(BaseRetryStrategy):
    """Try again what may pass, with growing waits; give up at once what will not.

    Another system that cannot be reached is tried `attempts` times, anything
    unexpected three times, and what is simply wrong never.
    """

    def __init__(self, attempts: int) -> None:
        self.attempts = attempts

    def get_retry_decision(self, *, exception: BaseException, job: Job) -> RetryDecision | None:
        """When to try again, None to give up."""
        wait = getattr(exception, "retry_after", None)
        if isinstance(exception, UnreachableError):
            most = self.attempts
        elif isinstance(exception, VeridoxError):
            return None
        else:
            most = min(3, self.attempts)
        if job.attempts + 1 >= most:
            return None
        seconds = wait if wait is not None else min(LONGEST_WAIT, 2 ** min(job.attempts, 9))
        return RetryDecision(retry_at=utcnow() + timedelta(seconds=seconds))


def job(name: str) -> Task:
    """The job of this name. What runs it stays unknown to whoever calls for it: jobs import what
    they do, and what is done imports no jobs.

    Raises:
        LookupError: there is none.
    """
    known = app_of_django.tasks
    if name not in known:
        raise LookupError(f"no job is called {name!r}; there are {', '.join(sorted(known))}")
    return known[name]


def defer(name: str, **arguments: Any) -> None:
    """Queue a job in the transaction of the act that calls for it. Raises as `defer_all`."""
    defer_all(name, [arguments])


def defer_all(name: str, each: Sequence[dict[str, Any]], lock: str = "") -> None:
    """Queue a job for each of these arguments, in the transaction of the act.

    Args:
        name: of the job.
        each: arguments.
        lock: of jobs with the same one, one runs at a time; empty for none.

    Raises:
        LookupError: no job has this name.
        RuntimeError: outside a transaction, or when the queue would be written
            over a connection of its own, where a rollback would leave the job.
    """
    if not connection.in_atomic_block:
        raise RuntimeError("a job is deferred in the transaction of its cause")
    if not isinstance(app_of_django.connector, DjangoConnector):
        raise RuntimeError("the queue is not written through Django's connection")
    task = job(name)
    if each and lock:
        task.configure(lock=lock).batch_defer(*each)
    elif each:
        task.batch_defer(*each)


def defer_once(name: str, lock: str, **arguments: Any) -> None:
    """The same for a job of which one waits at most, and one runs at a time. Raises as `defer_all`.

    One that waits for its turn already will do.
    """
    if not connection.in_atomic_block:
        raise RuntimeError("a job is deferred in the transaction of its cause")
    with suppress(AlreadyEnqueued), transaction.atomic():
        job(name).configure(queueing_lock=lock, lock=lock).defer(**arguments)


def patiently(attempts: int) -> Patience:
    """The retry strategy of all jobs."""
    return Patience(attempts)
