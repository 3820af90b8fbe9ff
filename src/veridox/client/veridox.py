"""The client: `Veridox` and its resources."""

import json
import time
from collections.abc import Callable, Iterator, Mapping
from datetime import date
from pathlib import Path
from typing import Any, Self

import httpx

from veridox.client.documents import Documents
from veridox.client.errors import ReportError, WaitedTooLongError
from veridox.client.masterdata import MasterData, MasterRecords
from veridox.client.pipelines import Pipelines
from veridox.client.records import File, document_of, file_of, part_of
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

    def upload(
        self,
        file: str | Path | bytes,
        *,
        pipeline: str,
        name: str = "",
        known: Mapping[str, Any] | None = None,
    ) -> File:
        """Hand in a file by path, or bytes with a name.

        Args:
            file: path or content.
            pipeline: name of a published pipeline.
            name: shown instead of the path's.
            known: values known beforehand, by field name; they count as given.
        """
        data = {"pipeline": pipeline}
        if known:
            data["known"] = json.dumps(dict(known), default=str)
        answer = self._transport.send("POST", "/files", files=part_of(file, name), data=data)
        return file_of(answer.json())

    def take(self, file_id: int) -> File:
        """Read a file that was left out or set aside."""
        return file_of(self._transport.send("POST", f"/files/{file_id}/take").json())

    def leave(self, file_id: int, reason: str) -> File:
        """Say that a file which could not be opened need not be looked at any more."""
        data = {"reason": reason}
        return file_of(self._transport.send("POST", f"/files/{file_id}/leave", json=data).json())

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

    def export(self, form: str = "csv", **filters: Any) -> bytes:
        """The records as a file, where the service offers one: `csv` or `xlsx`."""
        path = f"{self._path}/export"
        return self._transport.send("GET", path, params={"as": form, **filters}).content


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
        self.entities = MasterRecords(self._transport, "entities")
        self.vendors = MasterRecords(self._transport, "vendors")
        self.orders = MasterRecords(self._transport, "orders")
        self.receipts = MasterRecords(self._transport, "receipts")
        self.items = MasterRecords(self._transport, "items")
        self.gl_accounts = MasterRecords(self._transport, "gl-accounts")
        self.cost_centres = MasterRecords(self._transport, "cost-centres")
        self.tax_codes = MasterRecords(self._transport, "tax-codes")
        self.projects = MasterRecords(self._transport, "projects")
        self.cards = MasterRecords(self._transport, "cards")
        self.rates = MasterRecords(self._transport, "rates")
        self.books = MasterRecords(self._transport, "books")
        self.masterdata = MasterData(self._transport)
        self.pipelines = Pipelines(self._transport)
        self.connections = Records(self._transport, "/connections")
        self.people = Records(self._transport, "/people")
        self.tokens = Records(self._transport, "/tokens")
        self.trail = Records(self._transport, "/trail")

    def hand_in_mail(
        self, file: str | Path | bytes, *, pipeline: str, name: str = "mail.eml"
    ) -> dict[str, Any]:
        """Hand in one mail (.eml, .msg) with its files, as if it had come to a mailbox."""
        shown = name if isinstance(file, bytes) else ""
        answer = self._transport.send(
            "POST", "/messages", files=part_of(file, shown), data={"pipeline": pipeline}
        )
        found: dict[str, Any] = answer.json()
        return found

    def peek(self, mailbox: str, **asked: Any) -> dict[str, Any]:
        """Which mails of a folder would be taken (`folder`, `pipeline`, `limit`)."""
        given = {name: value for name, value in asked.items() if value is not None}
        answer = self._transport.send("GET", f"/mailboxes/{mailbox}/peek", params=given)
        found: dict[str, Any] = answer.json()
        return found

    def try_rule(self, expression: str, document: int | None = None) -> dict[str, Any]:
        """What an expression gives for a document, or whether it is right; nothing is changed."""
        body = {"expression": expression, "document": document}
        answer: dict[str, Any] = self._transport.send("POST", "/rules/try", json=body).json()
        return answer

    def run_report(
        self,
        kind: str,
        *,
        seconds: float = 3_600,
        progress: Callable[[int, int], None] | None = None,
        **wanted: Any,
    ) -> dict[str, Any]:
        """Have a worker compute a report, and wait for it.

        Args:
            kind: `accounted` (with `mailbox`, `since`, `until`; without a mailbox everything
                that came in) or `trail` (with `head`, a head that was kept).
            seconds: to wait at most.
            progress: called with how many were looked at, of how many.
            wanted: see `kind`; None is left out.

        Returns:
            The run with its `result`; its rows come by `report_rows`.

        Raises:
            ReportError: it failed, or did not end in time.
        """
        given = {key: value for key, value in wanted.items() if value is not None}
        run: dict[str, Any] = self._transport.send(
            "POST", "/reports/runs", json={"kind": kind, **given}
        ).json()
        limit = time.monotonic() + seconds
        while run["state"] not in ("done", "failed"):
            if time.monotonic() > limit:
                raise ReportError(f"run {run['id']} did not end within {seconds:,.0f} seconds")
            time.sleep(0.2)
            run = self._transport.send("GET", f"/reports/runs/{run['id']}").json()
            if progress is not None:
                progress(run["done"], run["total"])
        if run["state"] == "failed":
            raise ReportError(run["problem"])
        return run

    def report_rows(self, run_id: int, stands: str | None = None) -> Iterator[dict[str, Any]]:
        """Rows of a run, newest first, page by page."""
        return self._transport.pages(f"/reports/runs/{run_id}/rows", {"stands": stands})

    def report_table(self, run_id: int, form: str = "csv") -> bytes:
        """Rows of a run as a file: `csv` or `xlsx`."""
        path = f"/reports/runs/{run_id}/export"
        return self._transport.send("GET", path, params={"as": form}).content

    def trail_head(self) -> dict[str, Any]:
        """The newest entry's number and seal, to be kept elsewhere."""
        head: dict[str, Any] = self._transport.send("GET", "/trail/head").json()
        return head

    def notices(self, state: str | None = None) -> Iterator[dict[str, Any]]:
        """Mails and chat messages, newest first; `state` is prepared, sent or failed."""
        return self._transport.pages("/notices", {"state": state})

    def send_notice_again(self, notice_id: int) -> dict[str, Any]:
        """Send once more what was refused."""
        answer: dict[str, Any] = self._transport.send("POST", f"/notices/{notice_id}/again").json()
        return answer

    def service(self) -> dict[str, Any]:
        """Whether the installation is held, and what does not work."""
        answer: dict[str, Any] = self._transport.send("GET", "/service").json()
        return answer

    def let_go_on(self, reason: str) -> dict[str, Any]:
        """Let an installation that is held collect, post and tell again."""
        answer: dict[str, Any] = self._transport.send(
            "POST", "/service/go-on", json={"reason": reason}
        ).json()
        return answer

    def health(self) -> dict[str, Any]:
        """Whether the service is well."""
        answer: dict[str, Any] = self._transport.send("GET", "/health").json()
        return answer

    def today(self, day: date | None = None, zone: str = "UTC") -> dict[str, Any]:
        """What came in on a calendar day in a time zone, what was posted, what waits."""
        params = {"day": day.isoformat() if day else None, "zone": zone}
        answer: dict[str, Any] = self._transport.send("GET", "/today", params=params).json()
        return answer

    def search(self, words: str) -> dict[str, Any]:
        """The best `documents`, `vendors`, `orders` and `mails` for some words."""
        answer: dict[str, Any] = self._transport.send("GET", "/search", params={"q": words}).json()
        return answer

    def close(self) -> None:
        """Close all connections."""
        self._transport.close()

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()
