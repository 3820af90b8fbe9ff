"""Errors of the client. All of them are `VeridoxClientError`."""

from collections.abc import Mapping
from typing import Any


class VeridoxClientError(Exception):
    """Root of the client's errors."""


class NotReachableError(VeridoxClientError):
    """The service does not answer."""


class WaitedTooLongError(VeridoxClientError):
    """What was waited for did not happen in time; it may still."""


class ReportError(VeridoxClientError):
    """A report could not be computed; says why."""


class ProblemError(VeridoxClientError):
    """The service said no, with an RFC 9457 problem document.

    Attributes:
        status: HTTP status.
        problem: the document: `type`, `title`, `detail`, `errors` and more.
    """

    def __init__(self, status: int, problem: Mapping[str, Any]) -> None:
        self.status = status
        self.problem = dict(problem)
        super().__init__(self.explain())

    @property
    def errors(self) -> list[dict[str, Any]]:
        """Each single thing that is wrong, with its path or its line and column."""
        found = self.problem.get("errors")
        return found if isinstance(found, list) else []

    def explain(self) -> str:
        """The detail, then each single thing on a line of its own."""
        lines = [str(self.problem.get("detail") or self.problem.get("title") or self.status)]
        for error in self.errors:
            place = error.get("path") or ""
            if error.get("line"):
                place = f"{error['line']}:{error['column']}"
            hint = f" ({error['hint']})" if error.get("hint") else ""
            lines.append(f"  {place}: {error.get('message', '')}{hint}" if place else
                         f"  {error.get('message', '')}{hint}")  # fmt: skip
        return "\n".join(lines)


class ChangedMeanwhileError(ProblemError):
    """Somebody else changed it since it was read (412): read it again."""
