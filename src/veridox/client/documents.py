"""Documents of the service: look, correct, act at the desk."""

from collections.abc import Iterator, Mapping, Sequence
from datetime import date
from typing import Any

from veridox.client.records import Document, document_of
from veridox.client.transport import Transport


class Documents:
    """Documents: look, correct, and act at the desk."""

    def __init__(self, transport: Transport) -> None:
        self._transport = transport

    def list(self, **filters: Any) -> Iterator[Document]:
        """Documents, newest first; filters as in the REST reference."""
        return (document_of(row) for row in self._transport.pages("/documents", filters))

    def desk(self, **filters: Any) -> Iterator[Document]:
        """Documents that wait at the desk, oldest first."""
        return (document_of(row) for row in self._transport.pages("/desk", filters))

    def get(self, document_id: int) -> Document:
        """One document with its reading and findings."""
        return document_of(self._transport.send("GET", f"/documents/{document_id}").json())

    def correct(self, document: Document, changes: Mapping[str, Any], note: str = "") -> Document:
        """Change fields of the version that was looked at.

        Args:
            document: as it was looked at.
            changes: `fields`, `kind`, `lines` as in the REST reference.
            note: why.

        Raises:
            ChangedMeanwhileError: somebody else was faster; nothing was changed.
        """
        answer = self._transport.send(
            "PATCH",
            f"/documents/{document.id}/fields",
            json={**changes, "note": note},
            version=document.version,
        )
        return document_of(answer.json())

    def _act(self, document: Document, act: str, reason: str) -> Document:
        return self._send(document, act, {"reason": reason})

    def _send(self, document: Document, act: str, body: Mapping[str, Any]) -> Document:
        answer = self._transport.send(
            "POST", f"/documents/{document.id}/{act}", json=dict(body), version=document.version
        )
        return document_of(answer.json())

    def post(self, document: Document, reason: str = "") -> Document:
        """Let it through although something was found."""
        return self._act(document, "post", reason)

    def prove(self, document: Document, code: str, how: str) -> Document:
        """Say how a finding was proven that takes two people; another one then posts it."""
        return self._send(document, "prove", {"code": code, "how": how})

    def discard(self, document: Document, reason: str) -> Document:
        """End it without posting."""
        return self._act(document, "discard", reason)

    def again(
        self, document: Document, stage: str = "", *, newest_version: bool = False, reason: str = ""
    ) -> Document:
        """Process it again from `check` or `read`; one that failed goes on where it stopped.

        With `newest_version` under the newest version of its pipeline. What people accepted or
        decided before holds no more.
        """
        body = {"stage": stage, "newest_version": newest_version, "reason": reason}
        return self._send(document, "again", body)

    def why(self, document_id: int) -> Sequence[dict[str, Any]]:
        """Its walks along the road, newest first: each stage, what it looked at, what followed."""
        answer: Sequence[dict[str, Any]] = self._transport.send(
            "GET", f"/documents/{document_id}/why"
        ).json()
        return answer

    def in_ledger(self, document_id: int) -> Sequence[dict[str, Any]]:
        """What the ledger lists for it, with what is open beside what the bill asks for."""
        answer: Sequence[dict[str, Any]] = self._transport.send(
            "GET", f"/documents/{document_id}/in-ledger"
        ).json()
        return answer

    def reopen(self, document: Document) -> Document:
        """Bring a discarded one back; it is checked anew."""
        return self._act(document, "reopen", "")

    def restore(self, document: Document, number: int) -> Document:
        """Take an earlier version of the reading as the newest one."""
        return self._send(document, "restore", {"number": number})

    def hold(self, document: Document, until: date | None, reason: str = "") -> Document:
        """Keep it out of the desk's list until a day; None ends a hold."""
        day = until.isoformat() if until else None
        return self._send(document, "hold", {"until": day, "reason": reason})

    def code(
        self, document: Document, lines: Mapping[int | str, Mapping[str, Any] | None]
    ) -> Document:
        """Say under what lines are booked: by number (or `charges`, `allowances`) their
        `gl_account`, `cost_centre`, `tax_code`, `project` and `shares`; None takes back what was
        said."""
        return self._send(document, "coding", {"lines": {str(at): v for at, v in lines.items()}})

    def call(self, document: Document, reason: str) -> Document:
        """Call one that waits for what comes by itself to the desk, with why."""
        return self._send(document, "call", {"reason": reason})

    def let_wait(self, document: Document) -> Document:
        """Let one that was called to the desk wait again."""
        return self._send(document, "let-wait", {"reason": ""})

    def letter(self, document_id: int) -> dict[str, str]:
        """A draft of the letter to its vendor: `to`, `subject`, `text`. Nothing is sent."""
        path = f"/documents/{document_id}/letter"
        answer: dict[str, str] = self._transport.send("GET", path).json()
        return answer

    def send_back(self, document: Document, letter: Mapping[str, str]) -> Document:
        """End it as returned and send the letter to its vendor."""
        return self._send(document, "return", dict(letter))

    def take(self, document_id: int, *, person: str = "", over: bool = False) -> Document:
        """Work on it alone, or give it to a colleague; `over` takes it from who has it."""
        body = {"person": person, "over": over}
        path = f"/documents/{document_id}/take"
        return document_of(self._transport.send("POST", path, json=body).json())

    def release(self, document_id: int) -> Document:
        """Give it free."""
        path = f"/documents/{document_id}/release"
        return document_of(self._transport.send("POST", path, json={}).json())

    def comment(self, document_id: int, text: str) -> dict[str, Any]:
        """Say something about it; its story keeps it."""
        path = f"/documents/{document_id}/comments"
        answer: dict[str, Any] = self._transport.send("POST", path, json={"text": text}).json()
        return answer

    def words(self, document_id: int, page: int = 1) -> dict[str, Any]:
        """A page's `text`, and its `words` with boxes in points from the top left."""
        path = f"/documents/{document_id}/pages/{page}/words"
        answer: dict[str, Any] = self._transport.send("GET", path).json()
        return answer

    def orders(self, document_id: int) -> dict[str, Any]:
        """The `orders` that it names, and in `pairs` for each of its lines the order's line."""
        path = f"/documents/{document_id}/orders"
        answer: dict[str, Any] = self._transport.send("GET", path).json()
        return answer

    def waiting(self) -> dict[str, Any]:
        """What waits at the desk, counted by queue, reason and person."""
        answer: dict[str, Any] = self._transport.send("GET", "/desk/waiting").json()
        return answer

    def export(self, form: str = "csv", **filters: Any) -> bytes:
        """The list as a file: `csv` or `xlsx`; filters and `columns` as in the REST reference."""
        params = {"as": form, **filters}
        return self._transport.send("GET", "/documents/export", params=params).content

    def history(self, document_id: int) -> dict[str, Any]:
        """Its story: `events` of the trail and `readings` by version."""
        answer: dict[str, Any] = self._transport.send(
            "GET", f"/documents/{document_id}/history"
        ).json()
        return answer

    def page(self, document_id: int, page: int = 1, dpi: int = 110) -> bytes:
        """A page as PNG."""
        return self._transport.send(
            "GET", f"/documents/{document_id}/pages/{page}", params={"dpi": dpi}
        ).content
