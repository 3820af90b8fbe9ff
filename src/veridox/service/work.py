"""How jobs are tried again, and what happens when they are given up."""

from procrastinate import BaseRetryStrategy, RetryDecision
from procrastinate.jobs import Job
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
        from datetime import timedelta

        return RetryDecision(retry_at=utcnow() + timedelta(seconds=seconds))


def patiently(attempts: int) -> Patience:
    """The retry strategy of all jobs."""
    return Patience(attempts)
