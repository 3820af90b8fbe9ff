"""A reader: the tide list of the ferry company, one bill a file, a line for each crossing."""

from collections.abc import Iterator, Mapping
from typing import Any


class TideList:
    """`TIDE;number;day;currency;seller`, then `crossing;amount` lines, then `TOTAL;amount`."""

    suffixes = (".tide",)

    def read(self, name: str, content: bytes) -> Iterator[Mapping[str, Any]]:
        """One invoice. Raises ValueError when it is no such list."""
        rows = [line.split(";") for line in content.decode("utf-8").splitlines() if line]
        if not rows or rows[0][0] != "TIDE" or rows[-1][0] != "TOTAL":
            raise ValueError(f"{name} is no tide list")
        _, number, day, currency, seller = rows[0]
        lines = [{"description": what, "amount": amount} for what, amount in rows[1:-1]]
        yield {
            "kind": "invoice",
            "fields": {
                "number": number, "issue_date": day, "currency": currency, "seller.name": seller,
                "net_total": rows[-1][1], "gross_total": rows[-1][1],
            },
            "lines": lines,
        }  # fmt: skip
