"""The client: `Veridox` and its resources."""

import time
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any, Self

import httpx

from veridox.client.errors import WaitedTooLongError
from veridox.client.records import Document, File, document_of, file_of
from veridox.client.transport import Transport

SETTLED = frozenset(
    {"at_desk", "asked", "with_approver", "waiting", "failed",
     "posted", "kept", "returned", "discarded", "aside"}
)  # fmt: skip
"""States in which a document waits for people or has ended."""


class Files:
    """Files: hand in, look, wait."""

    def __init__(self, transport: Transport) -> None:
        self._transport = transport

    def upload(self, file: str | Path | bytes, *, pipeline: str, name: str = "") -> File:
        """Hand in a file by path, or bytes with a name."""
        if isinstance(file, bytes):
            content, shown = file, name or "upload.pdf"
        else:
            content, shown = Path(file).read_bytes(), name or Path(file).name
        answer = self._transport.send(
            "POST", "/files", files={"file": (shown, content)}, data={"pipeline": pipeline}
        )
        return file_of(answer.json())

    def get(self, file_id: int) -> File:
        """A file with its documents."""
        data = self._transport.send("GET", f"/files/{file_id}").json()
        documents = tuple(
            document_of(self._transport.send("GET", f"/documents/{each}").json())
            for each in data["documents"]
        )
        return file_of(data, documents)

    def wait(self, file_id: int, *, timeout: float = 60.0) -> File:
        """Until all documents of a file wait for people or have ended.

        Raises:
            WaitedTooLongError: after `timeout` seconds.
        """
        limit = time.monotonic() + timeout
        pause = 0.1
        while True:
            file = self.get(file_id)
            settled = all(document.state in SETTLED for document in file.documents)
            if file.state != "received" and settled:
                return file
            if time.monotonic() > limit:
                states = ", ".join(each.state for each in file.documents) or file.state
                raise WaitedTooLongError(f"file {file_id} is {states} after {timeout:g} s")
            time.sleep(pause)
            pause = min(pause * 1.5, 1.0)

    def list(self, **filters: Any) -> Iterator[File]:
        """Files, newest first."""
        return (file_of(row) for row in self._transport.pages("/files", filters))

    def content(self, file_id: int) -> bytes:
        """The original bytes."""
        return self._transport.send("GET", f"/files/{file_id}/content").content


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
        answer = self._transport.send(
            "POST",
            f"/documents/{document.id}/{act}",
            json={"reason": reason},
            version=document.version,
        )
        return document_of(answer.json())

    def post(self, document: Document, reason: str = "") -> Document:
        """Let it through although something was found."""
        return self._act(document, "post", reason)

    def discard(self, document: Document, reason: str) -> Document:
        """End it without posting."""
        return self._act(document, "discard", reason)

    def again(self, document: Document) -> Document:
        """Go on with one that failed."""
        return self._act(document, "again", "")

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


class Records:
    """Records that are plain data: mails, vendors, orders, pipelines and so on."""

    def __init__(self, transport: Transport, path: str) -> None:
        self._transport = transport
        self._path = path

    def list(self, **filters: Any) -> Iterator[dict[str, Any]]:
        """All records."""
        return self._transport.pages(self._path, filters)

    def get(self, key: object) -> dict[str, Any]:
        """One record."""
        answer: dict[str, Any] = self._transport.send("GET", f"{self._path}/{key}").json()
        return answer

    def create(self, data: Mapping[str, Any]) -> dict[str, Any]:
        """A new record."""
        answer: dict[str, Any] = self._transport.send("POST", self._path, json=dict(data)).json()
        return answer

    def call(self, method: str, path: str, data: Any = None) -> dict[str, Any]:
        """Any other operation below this path."""
        answer: dict[str, Any] = self._transport.send(
            method, f"{self._path}/{path}", json=data
        ).json()
        return answer

    def import_csv(self, content: bytes, name: str = "table.csv") -> int:
        """Import a CSV table; returns how many records it brought."""
        answer = self._transport.send(
            "POST", f"{self._path}/import", files={"file": (name, content)}
        )
        return int(answer.json()["imported"])


class Veridox:
    """A service, by address and token. Use it as a context manager.

    Args:
        url: for example `http://127.0.0.1:8440`.
        token: from `veridox token create`.
        timeout: seconds for one request.
        transport: another httpx transport, for tests.
    """

    def __init__(
        self,
        url: str,
        *,
        token: str,
        timeout: float = 30.0,
        transport: httpx.BaseTransport | None = None,
    ) -> None:
        self._transport = Transport(url, token, timeout, transport)
        self.files = Files(self._transport)
        self.documents = Documents(self._transport)
        self.messages = Records(self._transport, "/messages")
        self.entities = Records(self._transport, "/entities")
        self.vendors = Records(self._transport, "/vendors")
        self.orders = Records(self._transport, "/orders")
        self.pipelines = Records(self._transport, "/pipelines")
        self.connections = Records(self._transport, "/connections")
        self.tokens = Records(self._transport, "/tokens")
        self.trail = Records(self._transport, "/trail")

    def health(self) -> dict[str, Any]:
        """Whether the service is well."""
        answer: dict[str, Any] = self._transport.send("GET", "/health").json()
        return answer

    def close(self) -> None:
        """Close all connections."""
        self._transport.close()

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()
