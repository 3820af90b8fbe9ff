"""How jobs are deferred with their cause, tried again, and run."""

import sys
from collections.abc import Sequence
from datetime import timedelta
from typing import Any

from django.db import connection
from procrastinate import App, BaseRetryStrategy, RetryDecision
from procrastinate.contrib.django import app as app_of_django
from procrastinate.contrib.django.django_connector import DjangoConnector
from procrastinate.jobs import Job
from procrastinate.utils import utcnow

from veridox.service.errors import UnreachableError, VeridoxError

SWITCH = 0.0005
"""Seconds after which a thread of a worker gives way; a tenth of Python's own."""
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


def defer(task: Any, **arguments: Any) -> None:
    """Queue a job in the transaction of the act that calls for it. Raises as `defer_all`."""
    defer_all(task, [arguments])


def defer_all(task: Any, each: Sequence[dict[str, Any]]) -> None:
    """Queue a job for each of these arguments, in the transaction of the act.

    Raises:
        RuntimeError: outside a transaction, or when the queue would be written
            over a connection of its own, where a rollback would leave the job.
    """
    if not connection.in_atomic_block:
        raise RuntimeError("a job is deferred in the transaction of its cause")
    if not isinstance(app_of_django.connector, DjangoConnector):
        raise RuntimeError("the queue is not written through Django's connection")
    if each:
        task.batch_defer(*each)


def worker_app() -> App:
    """An app that runs jobs, beside the one that defers them.

    procrastinate's own management command swaps the connector of the one app,
    and jobs deferred inside jobs then leave Django's transaction. Two apps that
    share their tasks keep the deferring one on Django's connection.
    """
    from django.conf import settings

    running = App(
        connector=DjangoConnector(alias="default").get_worker_connector(),
        worker_defaults=settings.PROCRASTINATE_WORKER_DEFAULTS,
    )
    running.tasks = app_of_django.tasks
    running.periodic_registry = app_of_django.periodic_registry
    return running


async def run_worker(queues: list[str], jobs: int) -> None:
    """Work until told to stop (TERM waits for running jobs)."""
    # Threads that wait for a line in small pieces must not stand in for the interpreter each time.
    sys.setswitchinterval(SWITCH)
    async with worker_app().open_async() as running:
        await running.run_worker_async(queues=queues, concurrency=jobs)


def patiently(attempts: int) -> Patience:
    """The retry strategy of all jobs."""
    return Patience(attempts)
