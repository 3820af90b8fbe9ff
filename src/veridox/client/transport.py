"""HTTP: retries where they are safe, a key on every write, problems as exceptions."""

import time
import uuid
from collections.abc import Iterator, Mapping
from typing import Any

import httpx

from veridox.client.errors import ChangedMeanwhileError, NotReachableError, ProblemError

TRIES = 4
FIRST_PAUSE = 0.2
_PASSING = {502, 503, 504}


class Transport:
    """One connection pool to one service.

    Writes carry an `Idempotency-Key`, so they can be repeated as safely as reads.
    """

    def __init__(self, url: str, token: str, timeout: float, inner: httpx.BaseTransport | None):
        headers = {"Accept": "application/json", "User-Agent": "veridox-client"}
        if token:
            headers["Authorization"] = f"Bearer {token}"
        self._client = httpx.Client(
            base_url=url.rstrip("/") + "/api/v1",
            headers=headers,
            timeout=timeout,
            transport=inner,
        )

    def close(self) -> None:
        """Close all connections."""
        self._client.close()

    def send(
        self,
        method: str,
        path: str,
        *,
        params: Mapping[str, Any] | None = None,
        json: Any = None,
        files: Any = None,
        data: Mapping[str, str] | None = None,
        version: int | None = None,
    ) -> httpx.Response:
        """A request with its answer.

        Args:
            method: HTTP method.
            path: below `/api/v1`.
            params: of the query; None values are left out.
            json: body as JSON.
            files: body as a form with files (bytes, so that it can be repeated).
            data: further form values.
            version: the version an edit was made on, for `If-Match`.

        Raises:
            NotReachableError: no answer after several tries.
            ProblemError: the service said no.
        """
        headers = {}
        if method not in ("GET", "HEAD"):
            headers["Idempotency-Key"] = str(uuid.uuid4())
        if version is not None:
            headers["If-Match"] = f'"{version}"'
        wanted = {key: value for key, value in (params or {}).items() if value is not None}
        request = self._client.build_request(
            method, path, params=wanted, json=json, files=files, data=data, headers=headers
        )
        return checked(self._patiently(request))

    def _patiently(self, request: httpx.Request) -> httpx.Response:
        pause = FIRST_PAUSE
        for left in range(TRIES - 1, -1, -1):
            try:
                response = self._client.send(request)
            except httpx.TransportError as error:
                if not left:
                    where = f"{request.url.scheme}://{request.url.netloc.decode()}"
                    said = str(error) or type(error).__name__
                    raise NotReachableError(f"no answer from {where}: {said}") from error
            else:
                if response.status_code not in _PASSING or not left:
                    return response
            time.sleep(pause)
            pause *= 2
        raise AssertionError("the last try returns or raises")

    def pages(self, path: str, params: Mapping[str, Any] | None = None) -> Iterator[dict[str, Any]]:
        """All rows of a list, page after page as they are needed."""
        cursor: str | None = None
        while True:
            answer = self.send("GET", path, params={**(params or {}), "cursor": cursor}).json()
            yield from answer["results"]
            cursor = answer["next"]
            if cursor is None:
                return


def checked(response: httpx.Response) -> httpx.Response:
    """A good answer, or the ProblemError that it carries."""
    if response.is_success:
        return response
    try:
        problem = response.json()
    except ValueError:
        problem = {"title": response.reason_phrase, "detail": f"HTTP {response.status_code}"}
    if not isinstance(problem, dict):
        problem = {"detail": str(problem)}
    kind = ChangedMeanwhileError if response.status_code == 412 else ProblemError
    raise kind(response.status_code, problem)
