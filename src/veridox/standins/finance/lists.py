"""Lists of what the system knows: page by page, and what changed since an earlier list.

Every record has the number of the change that wrote it last; a list's stamp is the newest of
these numbers. What was taken out stays as a key with its number, so that whoever asks for
changes is told.
"""

import json
from collections.abc import Iterable, Mapping
from typing import Any

from veridox.standins.finance.store import Books

SCHEMA = """
create table if not exists changes (number integer primary key autoincrement);
create table if not exists records (
  kind text not null, key text not null, body text, change integer not null,
  primary key (kind, key));
create index if not exists records_by_change on records (kind, change);
"""
KEYS = {
    "entities": ("code",),
    "vendors": ("code",),
    "orders": ("entity", "number"),
    "receipts": ("entity", "number", "order_number", "line"),
    "items": ("vendor", "code", "vendor_code"),
    "gl-accounts": ("entity", "code"),
    "cost-centres": ("entity", "code"),
    "tax-codes": ("entity", "code"),
    "projects": ("entity", "code"),
    "cards": ("vendor", "card", "code", "wording", "from_quantity", "first"),
    "rates": ("currency", "into", "day"),
    "books": ("booked_as",),
}
"""What tells the records of a kind apart."""
MOST = 5_000


class ForgottenError(Exception):
    """Where a list was left off is not known any more."""


def key_of(kind: str, record: Mapping[str, Any]) -> str:
    """The key of a record."""
    return "/".join(str(record.get(name, "")) for name in KEYS[kind])


class Lists:
    """Records of all kinds, over the books' own file."""

    def __init__(self, books: Books) -> None:
        self._books = books
        books.script(SCHEMA)

    def put(self, kind: str, records: Iterable[Mapping[str, Any]]) -> int:
        """Write records; one that says what it said before keeps its number."""
        count = 0
        with self._books.writing() as db:
            for record in records:
                key, body = key_of(kind, record), json.dumps(record, sort_keys=True)
                before = db.execute(
                    "select body from records where kind = ? and key = ?", (kind, key)
                ).fetchone()
                if before is not None and before[0] == body:
                    continue
                change = db.execute("insert into changes default values").lastrowid
                db.execute(
                    "insert or replace into records values (?, ?, ?, ?)", (kind, key, body, change)
                )
                count += 1
        return count

    def take_out(self, kind: str, keys: Iterable[str]) -> None:
        """Take records out; their keys stay, for those who ask what changed."""
        with self._books.writing() as db:
            for key in keys:
                change = db.execute("insert into changes default values").lastrowid
                db.execute(
                    "update records set body = null, change = ? where kind = ? and key = ?",
                    (change, kind, key),
                )

    def closed(self, entity: str, day: str) -> str:
        """The closed period of a company's books that a day (YYYY-MM-DD) lies in; else empty."""
        rows = self._books.rows(
            "select body from records where kind = 'entities' and key = ? and body is not null",
            entity,
        )
        for period in json.loads(rows[0]["body"]).get("closed", ()) if rows else ():
            first, _, last = period.partition(" to ")
            if first <= day <= last:
                return str(period)
        return ""

    def page(self, kind: str, since: str, after: str, limit: int) -> dict[str, Any]:
        """One page: everything, or what changed since a stamp.

        Raises:
            ForgottenError: `since` or `after` is none that was given out.
        """
        begin, seen = _number(since), _number(after)
        newest = self._books.rows("select coalesce(max(number), 0) as n from changes")[0]["n"]
        if begin > newest or seen > newest:
            raise ForgottenError(f"{max(begin, seen)} was never given out")
        rows = self._books.rows(
            "select key, body, change from records where kind = ? and change > ?"
            " and (? > 0 or body is not null) order by change limit ?",
            kind, max(begin, seen), begin, min(limit, MOST) + 1,
        )  # fmt: skip
        more = len(rows) > min(limit, MOST)
        rows = rows[: min(limit, MOST)]
        total = self._books.rows(
            "select count(*) as n from records where kind = ? and change > ? and body is not null",
            kind, begin,
        )[0]["n"]  # fmt: skip
        found: list[dict[str, Any]] = []
        for row in rows:
            if row["body"] is not None:
                found += _flat(json.loads(row["body"]))
        return {
            "rows": found,
            "gone": [row["key"] for row in rows if row["body"] is None],
            "next": str(rows[-1]["change"]) if more else "",
            "stamp": str(newest),
            "total": total,
        }


def _number(text: str) -> int:
    if text and not text.isdigit():
        raise ForgottenError(f"{text!r} was never given out")
    return int(text or 0)


def _flat(record: dict[str, Any]) -> list[dict[str, Any]]:
    """A record as rows: an order as one row a line, everything else as itself."""
    lines = record.pop("lines", None)
    return [record] if lines is None else [{**record, **line} for line in lines]
