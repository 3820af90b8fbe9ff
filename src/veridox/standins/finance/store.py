"""The finance system's own books, in SQLite."""

import json
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from decimal import Decimal, InvalidOperation
from pathlib import Path
from typing import Any

SCHEMA = """
create table if not exists entities (code text primary key, name text not null, currency text);
create table if not exists vendors (
  code text primary key, name text not null, tax_id text, blocked integer not null default 0);
create table if not exists orders (
  number text primary key, entity text not null, vendor text not null, currency text not null,
  net_total text not null, closed integer not null default 0);
create table if not exists bills (
  id integer primary key autoincrement, number text unique, external_reference text unique,
  entity text not null, vendor text not null, kind text not null, vendor_number text not null,
  issue_date text not null, due_date text, order_number text, currency text not null,
  net_total text not null, tax_total text not null, gross_total text not null,
  body text not null, booked_at text not null,
  unique (vendor, kind, vendor_number));
create table if not exists attachments (
  bill integer not null references bills(id), sha256 text not null, name text not null,
  content blob not null, primary key (bill, sha256));
create table if not exists answers (key text primary key, bill integer not null);
"""

CODED = {
    "gl_account": "gl-accounts", "cost_centre": "cost-centres", "tax_code": "tax-codes",
    "project": "projects",
}  # fmt: skip
"""Which list has the codes of a line."""
Error = dict[str, str]


class Books:
    """All records. One writer at a time."""

    def __init__(self, path: Path, accepts_doubles: bool = False) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self._connection = sqlite3.connect(path, check_same_thread=False, isolation_level=None)
        self._connection.row_factory = sqlite3.Row
        self.accepts_doubles = accepts_doubles
        self._connection.executescript(without_guards(SCHEMA) if accepts_doubles else SCHEMA)
        self._lock = threading.RLock()

    def script(self, text: str) -> None:
        """Run statements that make tables."""
        with self._lock:
            self._connection.executescript(text)

    @contextmanager
    def writing(self) -> Iterator[sqlite3.Connection]:
        """A transaction, alone."""
        with self._lock:
            self._connection.execute("begin immediate")
            try:
                yield self._connection
            except BaseException:
                self._connection.execute("rollback")
                raise
            self._connection.execute("commit")

    def rows(self, query: str, *values: Any) -> list[dict[str, Any]]:
        """Rows as dictionaries."""
        with self._lock:
            return [dict(row) for row in self._connection.execute(query, values)]

    def load(self, entities: list[Any], vendors: list[Any], orders: list[Any]) -> None:
        """Master data, each record replacing one of the same key."""
        with self.writing() as db:
            db.executemany("insert or replace into entities values (?, ?, ?)", entities)
            db.executemany("insert or replace into vendors values (?, ?, ?, ?)", vendors)
            db.executemany("insert or replace into orders values (?, ?, ?, ?, ?, 0)", orders)

    def problems(self, bill: dict[str, Any]) -> list[Error]:
        """The system's own checks of a bill."""
        found: list[Error] = []

        def wrong(field: str, message: str) -> None:
            found.append({"field": field, "message": message})

        for field in ("entity", "vendor", "number", "issue_date", "currency"):
            if not bill.get(field):
                wrong(field, "is needed")
        self._known(bill, wrong)
        amounts = {name: _amount(bill.get(name)) for name in ("net_total", "gross_total")}
        tax = _amount(bill.get("tax_total") or "0")
        for name, amount in amounts.items():
            if amount is None:
                wrong(name, "is not an amount")
        net, gross = amounts["net_total"], amounts["gross_total"]
        if net is not None and gross is not None and tax is not None and net + tax != gross:
            wrong("gross_total", f"is {gross}, but net {net} and tax {tax} make {net + tax}")
        lines = [_amount(line.get("amount")) for line in bill.get("lines") or []]
        if not lines or any(amount is None for amount in lines):
            wrong("lines", "each bill has lines with amounts")
        elif net is not None:
            extra = (_amount(bill.get("charges")) or 0) - (_amount(bill.get("allowances")) or 0)
            together = sum((line for line in lines if line is not None), Decimal(extra))
            if abs(together - net) > Decimal("0.01") * len(lines):
                wrong("lines", f"make {together}, but the net total is {net}")
        for at, line in enumerate(bill.get("lines") or []):
            self._coded(
                line.get("coding"), _amount(line.get("amount")), f"lines[{at}].coding", wrong
            )
        for name, sign in (("charges", 1), ("allowances", -1)):
            amount = (_amount(bill.get(name)) or Decimal(0)) * sign
            self._coded(bill.get(f"{name}_coding"), amount, f"{name}_coding", wrong)
        return found

    def _coded(self, parts: Any, whole: Decimal | None, field: str, wrong: Any) -> None:
        """Codes are in the lists, are open, and are of the whole."""
        parts = parts or []
        amounts = [_amount(part.get("amount")) for part in parts]
        if parts and sum((each or Decimal(0) for each in amounts), Decimal(0)) != whole:
            wrong(field, f"is not {whole} together")
        for part in parts:
            for name, kind in CODED.items():
                code = part.get(name)
                if not code:
                    continue
                rows = self.rows(
                    "select body from records where kind = ? and body is not null"
                    " and key like '%/' || ?", kind, code,
                )  # fmt: skip
                known = [json.loads(row["body"]) for row in rows]
                if not known:
                    wrong(field, f"{code} is not in the list of {kind}")
                elif all(each.get("closed") for each in known):
                    wrong(field, f"{code} is closed")

    def _known(self, bill: dict[str, Any], wrong: Any) -> None:
        if bill.get("entity") and not self.rows(
            "select 1 from entities where code = ?", bill["entity"]
        ):
            wrong("entity", f"{bill['entity']} is not one of our companies")
        vendors = self.rows("select * from vendors where code = ?", bill.get("vendor"))
        if bill.get("vendor") and not vendors:
            wrong("vendor", f"{bill['vendor']} is not set up")
        if vendors and vendors[0]["blocked"]:
            wrong("vendor", f"{bill['vendor']} is blocked")
        named = [("order_number", bill.get("order_number")), *(
            (f"lines[{at}].order_number", line.get("order_number"))
            for at, line in enumerate(bill.get("lines") or [])
        )]  # fmt: skip
        for field, number in named:
            orders = self.rows("select * from orders where number = ?", number) if number else []
            if number and not orders:
                wrong(field, f"{number} does not exist")
            elif orders and orders[0]["vendor"] != bill.get("vendor"):
                wrong(field, f"{number} is with {orders[0]['vendor']}")

    def answered(self, key: str) -> dict[str, Any] | None:
        """The bill that a request with this key booked."""
        rows = self.rows("select bill from answers where key = ?", key)
        return self.bill(rows[0]["bill"]) if rows else None

    def standing(self, bill: dict[str, Any]) -> dict[str, Any] | None:
        """A bill of the same vendor, kind and number."""
        rows = self.rows(
            "select id from bills where vendor = ? and kind = ? and vendor_number = ?",
            bill["vendor"], bill.get("kind") or "bill", bill["number"],
        )  # fmt: skip
        return self.bill(rows[0]["id"]) if rows else None

    def book(self, bill: dict[str, Any], key: str) -> dict[str, Any]:
        """Write a bill and remember the request's key, both or neither."""
        now = datetime.now(UTC)
        with self.writing() as db:
            cursor = db.execute(
                "insert into bills (external_reference, entity, vendor, kind, vendor_number,"
                " issue_date, due_date, order_number, currency, net_total, tax_total, gross_total,"
                " body, booked_at) values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
                (bill.get("external_reference") or None, bill["entity"], bill["vendor"],
                 bill.get("kind") or "bill", bill["number"], bill["issue_date"],
                 bill.get("due_date"), bill.get("order_number"), bill["currency"],
                 bill["net_total"], bill.get("tax_total") or "0", bill["gross_total"],
                 json.dumps(bill), now.isoformat(timespec="milliseconds")),
            )  # fmt: skip
            bill_id = int(cursor.lastrowid or 0)
            prefix = "CR" if bill.get("kind") == "credit" else "BL"
            number = f"{prefix}-{now:%y}-{bill_id:05d}"
            db.execute("update bills set number = ? where id = ?", (number, bill_id))
            if key and not self.accepts_doubles:
                db.execute("insert into answers values (?, ?)", (key, bill_id))
        return self.bill(bill_id) or {}

    def bill(self, bill_id: int) -> dict[str, Any] | None:
        """A bill with its lines and the list of its attachments."""
        rows = self.rows(
            "select bills.*, vendors.name as vendor_name from bills"
            " left join vendors on vendors.code = bills.vendor where id = ?",
            bill_id,
        )
        if not rows:
            return None
        row = rows[0]
        body = json.loads(row.pop("body"))
        row["lines"] = body.get("lines") or []
        said = [row["order_number"], *(line.get("order_number") for line in row["lines"])]
        row["orders"] = list(dict.fromkeys(number for number in said if number))
        for name in ("charges", "allowances", "charges_coding", "allowances_coding"):
            row[name] = body.get(name)
        row["posting_date"] = body.get("posting_date") or row["issue_date"]
        row["attachments"] = self.rows(
            "select sha256, name, length(content) as size from attachments where bill = ?", bill_id
        )
        return row

    def attach(self, bill_id: int, sha256: str, name: str, content: bytes) -> None:
        """Attach a file; the same file again changes nothing."""
        with self.writing() as db:
            db.execute(
                "insert or ignore into attachments values (?, ?, ?, ?)",
                (bill_id, sha256, name, content),
            )

    def attachment(self, bill_id: int, sha256: str) -> tuple[str, bytes] | None:
        """Name and bytes of an attachment."""
        rows = self.rows(
            "select name, content from attachments where bill = ? and sha256 = ?", bill_id, sha256
        )
        return (rows[0]["name"], rows[0]["content"]) if rows else None


def without_guards(schema: str) -> str:
    """The same tables without what keeps a bill from standing in them twice."""
    return schema.replace(",\n  unique (vendor, kind, vendor_number)", "").replace(
        "external_reference text unique", "external_reference text"
    )


def _amount(text: Any) -> Decimal | None:
    if not isinstance(text, str):
        return None
    try:
        number = Decimal(text)
    except InvalidOperation:
        return None
    return number if number.is_finite() else None
