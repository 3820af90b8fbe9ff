"""Systems of the house: a notice board that takes lines over HTTP, and a book of bills on paper."""

import json
import urllib.error
import urllib.request
from collections.abc import Mapping
from typing import Any

from veridox.plugins import (
    Booked,
    Message,
    NoAnswer,
    Refusal,
    Standing,
    Unreachable,
)


class NoticeBoard:
    """A chat: each message becomes a line on the board."""

    kind = "chat"
    settings = {"url": None, "prefix": "AP"}

    def __init__(self, settings: Mapping[str, Any], secret: str) -> None:
        self._url, self._prefix, self._secret = settings["url"], settings["prefix"], secret

    def send(self, message: Message) -> None:
        """One line; the board leaves out a line whose key it has."""
        line = {"board": message.to, "line": f"{self._prefix}: {message.text}", "key": message.key}
        _post(self._url, line, self._secret)


class PaperBook:
    """A ledger behind an HTTP interface of its own."""

    settings = {"url": None, "book": "bills"}
    repeats_safely = True
    late_window = 5.0

    def __init__(self, settings: Mapping[str, Any], secret: str) -> None:
        self._url = f"{settings['url']}/{settings['book']}"
        self._secret = secret

    def rehearse(self, bill: Mapping[str, Any]) -> Refusal | None:
        """The book takes everything that has a number."""
        return None if bill["number"] else Refusal(reasons=("a bill has a number",))

    def post(self, reference: str, bill: Mapping[str, Any]) -> Booked | Refusal:
        """Write it into the book, once for each reference."""
        answer = _post(f"{self._url}/{reference}", dict(bill), self._secret, books=True)
        return Booked(ledger_id=reference, number=str(answer["number"]), link=self._url)

    def find(self, reference: str) -> Booked | None:
        """Whether the book has it."""
        answer = _post(f"{self._url}/{reference}/look", {}, self._secret)
        if not answer.get("number"):
            return None
        return Booked(ledger_id=reference, number=str(answer["number"]), link=self._url)

    def attach(self, ledger_id: str, name: str, content: bytes, sha256: str) -> None:
        """The book keeps the digest; the page itself goes into the folder beside it."""
        del content
        _post(f"{self._url}/{ledger_id}/attach", {"name": name, "sha256": sha256}, self._secret)

    def read_back(self, ledger_id: str) -> Standing:
        """What stands in the book."""
        answer = _post(f"{self._url}/{ledger_id}/look", {}, self._secret)
        return Standing(
            gross_total=answer["gross_total"], lines=tuple(answer["lines"]),
            attachments=tuple(answer["attachments"]),
        )  # fmt: skip


def _post(url: str, body: dict[str, Any], secret: str, *, books: bool = False) -> dict[str, Any]:
    request = urllib.request.Request(  # noqa: S310 - the address comes from the connection
        url, json.dumps(body).encode(), {"Authorization": f"Bearer {secret}"}
    )
    try:
        with urllib.request.urlopen(request, timeout=5) as answer:  # noqa: S310
            found: dict[str, Any] = json.load(answer)
            return found
    except urllib.error.HTTPError as error:
        raise ValueError(f"the board answered {error.code}") from error
    except (urllib.error.URLError, OSError) as error:
        reason = getattr(error, "reason", error)
        if isinstance(reason, ConnectionRefusedError) or not books:
            raise Unreachable(str(reason)) from error
        raise NoAnswer(str(reason)) from error
