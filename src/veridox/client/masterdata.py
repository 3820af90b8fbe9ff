"""Master data: lists, imports, syncs, and what waits for a second person."""

import builtins
import json
import time
from collections.abc import Callable, Iterator, Mapping
from datetime import date
from pathlib import Path
from typing import Any

from veridox.client.errors import ReportError
from veridox.client.transport import Transport

KINDS = (
    "entities",
    "vendors",
    "orders",
    "receipts",
    "items",
    "gl-accounts",
    "cost-centres",
    "tax-codes",
    "projects",
    "cards",
    "rates",
    "books",
)
"""Kinds of master data, in the order in which they need each other."""
UNDER_WAY = ("running", "broken")


class MasterRecords:
    """One kind of master data, one of `KINDS`; of receipts, items,
    cards and codes there is the list alone."""

    def __init__(self, transport: Transport, what: str) -> None:
        self._transport = transport
        self.what = what

    def list(self, **filters: Any) -> Iterator[dict[str, Any]]:
        """All records."""
        return self._transport.pages(f"/{self.what}", filters)

    def get(self, key: object, **which: str) -> dict[str, Any]:
        """One record; `ledger` or `entity` where several are called so."""
        wanted = {name: value for name, value in which.items() if value}
        answer: dict[str, Any] = self._transport.send(
            "GET", f"/{self.what}/{key}", params=wanted
        ).json()
        return answer

    def import_table(
        self,
        file: str | Path | bytes,
        name: str = "table.csv",
        *,
        preview: bool = False,
        expects: str = "",
        ledger: str = "",
        mapping: str | Mapping[str, str] = "",
        sheet: str = "",
    ) -> dict[str, Any]:
        """Bring in a table (CSV or XLSX): all rows or none.

        Args:
            file: by path, or bytes with a `name`.
            name: of bytes.
            preview: keep nothing; `changes` and `fates` say what would become of the rows.
            expects: `sha256` of a preview: another file is refused.
            ledger: that its records belong to.
            mapping: name of a saved mapping, or our column for each heading.
            sheet: of a spreadsheet; the first one when empty.
        """
        content = file if isinstance(file, bytes) else Path(file).read_bytes()
        shown = name if isinstance(file, bytes) else Path(file).name
        told = mapping if isinstance(mapping, str) else json.dumps(mapping)
        data = {"preview": "true" if preview else "", "expects": expects, "ledger": ledger,
                "sheet": sheet, "mapping": told}  # fmt: skip
        answer: dict[str, Any] = self._transport.send(
            "POST", f"/{self.what}/import", files={"file": (shown, content)},
            data={key: value for key, value in data.items() if value},
        ).json()  # fmt: skip
        return answer

    def sync(self, ledger: str, *, whole: bool = False) -> dict[str, Any]:
        """Begin a sync from a ledger; `whole` asks for everything, not only for what changed."""
        body = {"ledger": ledger, "whole": whole}
        answer: dict[str, Any] = self._transport.send(
            "POST", f"/{self.what}/sync", json=body
        ).json()
        return answer


class MasterData:
    """What all kinds have in common."""

    def recount(
        self, order: str, *, entity: str = "", mend: bool = False
    ) -> "builtins.list[dict[str, Any]]":
        """Count anew what bills take of an order; `mend` keeps what was counted."""
        path = f"/orders/{order}/recount" + (f"?entity={entity}" if entity else "")
        answer: list[dict[str, Any]] = self._transport.send(
            "POST", path, json={"mend": mend}
        ).json()
        return answer

    def __init__(self, transport: Transport) -> None:
        self._transport = transport

    def standing(self) -> list[dict[str, Any]]:
        """How many records of each kind, how fresh, and what waits for a second person."""
        answer: list[dict[str, Any]] = self._transport.send("GET", "/masterdata").json()
        return answer

    def columns(self, what: str) -> list[dict[str, Any]]:
        """The columns that a table of a kind may have."""
        found = self._transport.send("GET", "/masterdata/columns", params={"what": what})
        answer: list[dict[str, Any]] = found.json()
        return answer

    def rate(self, currency: str, into: str, day: date | None = None) -> dict[str, Any]:
        """What one unit of a currency is worth on a day, today without one: `rate`, the `day` that
        it is of, and its `source`."""
        wanted = {"day": day.isoformat()} if day else {}
        answer: dict[str, Any] = self._transport.send(
            "GET", f"/rates/{currency}/{into}", params=wanted
        ).json()
        return answer

    def loads(self, what: str | None = None) -> Iterator[dict[str, Any]]:
        """Imports and syncs, the newest first."""
        return self._transport.pages("/masterdata/loads", {"what": what})

    def load(self, number: int) -> dict[str, Any]:
        """One import or sync."""
        answer: dict[str, Any] = self._transport.send("GET", f"/masterdata/loads/{number}").json()
        return answer

    def rows(self, number: int) -> bytes:
        """The fate of each row of an import, as CSV."""
        return self._transport.send("GET", f"/masterdata/loads/{number}/rows").content

    def wait(
        self,
        number: int,
        *,
        seconds: float = 3_600,
        progress: Callable[[dict[str, Any]], None] | None = None,
    ) -> dict[str, Any]:
        """Wait until a sync has ended. Raises ReportError when it does not in time."""
        limit = time.monotonic() + seconds
        while (load := self.load(number))["state"] in UNDER_WAY:
            if progress is not None:
                progress(load)
            if time.monotonic() > limit:
                raise ReportError(f"load {number} did not end within {seconds:,.0f} seconds")
            time.sleep(0.3)
        return load

    def held(self, **filters: Any) -> Iterator[dict[str, Any]]:
        """Changes that wait for a second person; others by `state`."""
        return self._transport.pages("/masterdata/held", filters)

    def accept(self, ids: builtins.list[int] | None = None, **which: Any) -> list[dict[str, Any]]:
        """Let changes hold: by ids, or all of a `load` or a `vendor`; `reason` is kept."""
        return self._decide("accept", ids, which)

    def refuse(self, ids: builtins.list[int] | None = None, **which: Any) -> list[dict[str, Any]]:
        """Have changes never hold, with a `reason`."""
        return self._decide("refuse", ids, which)

    def _decide(
        self, act: str, ids: builtins.list[int] | None, which: Mapping[str, Any]
    ) -> builtins.list[dict[str, Any]]:
        body = {"ids": ids or [], **which}
        found = self._transport.send("POST", f"/masterdata/held/{act}", json=body)
        answer: builtins.list[dict[str, Any]] = found.json()
        return answer

    def propose(self, vendor: str, column: str, value: str) -> dict[str, Any]:
        """Propose a name, account, domain, ... of a vendor; a second person accepts it."""
        body = {"column": column, "value": value}
        answer: dict[str, Any] = self._transport.send(
            "POST", f"/vendors/{vendor}/propose", json=body
        ).json()
        return answer

    def mappings(self) -> Iterator[dict[str, Any]]:
        """Saved mappings."""
        return self._transport.pages("/masterdata/mappings", {})

    def save_mapping(
        self,
        name: str,
        what: str,
        columns: Mapping[str, str],
        fixed: Mapping[str, str] | None = None,
    ) -> dict[str, Any]:
        """Save which heading is which of our columns."""
        body = {"name": name, "what": what, "columns": dict(columns), "fixed": dict(fixed or {})}
        answer: dict[str, Any] = self._transport.send(
            "PUT", f"/masterdata/mappings/{name}", json=body
        ).json()
        return answer

    def forget_mapping(self, name: str) -> None:
        """Delete a mapping."""
        self._transport.send("DELETE", f"/masterdata/mappings/{name}")
