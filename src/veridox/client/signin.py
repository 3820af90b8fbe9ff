"""A short session with name and password, to create the first token."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import httpx

from veridox.client.errors import NotReachableError
from veridox.client.transport import checked


class Browser:
    """Signed in by cookie, as the console is."""

    def __init__(self, client: httpx.Client, csrf: str) -> None:
        self._client = client
        self._csrf = csrf

    def post(self, path: str, data: Any) -> dict[str, Any]:
        """A write below `/api/v1`."""
        response = self._client.post(path, json=data, headers={"X-CSRFToken": self._csrf})
        answer: dict[str, Any] = checked(response).json()
        return answer


@contextmanager
def signed_in(
    url: str,
    username: str,
    password: str,
    transport: httpx.BaseTransport | None = None,
    timeout: float = 60.0,
) -> Iterator[Browser]:
    """Sign in, and out again at the end.

    Args:
        timeout: seconds for one request. This is often the first that a service gets after its
            start, and checking a password is slow on purpose.

    Raises:
        ProblemError: name or password is not right (401).
        NotReachableError: no answer.
    """
    base = url.rstrip("/")
    headers = {"Referer": base, "Origin": base}
    with httpx.Client(
        base_url=base + "/api/v1", headers=headers, transport=transport, timeout=timeout
    ) as client:
        try:
            csrf = client.get("/session").json()["csrf"]
            answer = client.post(
                "/session",
                json={"username": username, "password": password},
                headers={"X-CSRFToken": csrf},
            )
        except httpx.TransportError as error:
            raise NotReachableError(f"no answer from {base}: {error}") from error
        csrf = checked(answer).json()["csrf"]
        yield Browser(client, csrf)
        client.delete("/session", headers={"X-CSRFToken": csrf})
