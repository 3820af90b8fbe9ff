"""A bill as it is posted: frozen, typed, and the same text each time it is written."""

import hashlib
import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from typing import Any

from veridox.core.coding import FOOT, CodedLine
from veridox.core.facts import Facts
from veridox.core.matching import order_of_row
from veridox.core.money import Money
from veridox.core.reading import Kind, Reading, Row
from veridox.core.reading.reading import cell_money, cell_number, cell_text


@dataclass(frozen=True, kw_only=True, slots=True)
class BillCode:
    """A part of a line with what it is booked under; codes by dimension, those that are said."""

    amount: Money
    codes: Mapping[str, str]

    def to_json(self) -> dict[str, str]:
        """The amount as text, and each code."""
        return {"amount": self.amount.plain(), **self.codes}

    @classmethod
    def from_json(cls, data: Mapping[str, str], currency: str) -> "BillCode":
        """Back from `to_json`."""
        codes = {name: code for name, code in data.items() if name != "amount"}
        return cls(amount=Money.of(data["amount"], currency), codes=codes)


@dataclass(frozen=True, kw_only=True, slots=True)
class BillLine:
    """A line of a bill.

    Attributes:
        description, item_code, unit: texts; empty where none is stated.
        amount: without tax (BT-131).
        quantity, unit_price: as printed; None where not stated.
        tax_rate: in percent (BT-152).
        order_number, order_line: of the master data, where the bill is of several orders; empty
            else, and where no line of an order is known.
        coding: under what it is booked, in parts that are its amount; empty where it is not coded.
    """

    description: str
    amount: Money
    item_code: str = ""
    unit: str = ""
    quantity: Decimal | None = None
    unit_price: Decimal | None = None
    tax_rate: Decimal | None = None
    order_number: str = ""
    order_line: str = ""
    coding: tuple[BillCode, ...] = ()

    def to_json(self) -> dict[str, Any]:
        """Amounts as text with a decimal point; what is not stated is left out."""
        found: dict[str, Any] = {
            "description": self.description, "amount": self.amount.plain()
        }  # fmt: skip
        for name in ("item_code", "unit", "order_number", "order_line"):
            if text := getattr(self, name):
                found[name] = text
        for name in ("quantity", "unit_price", "tax_rate"):
            if (number := getattr(self, name)) is not None:
                found[name] = format(number, "f")
        if self.coding:
            found["coding"] = [each.to_json() for each in self.coding]
        return found

    @classmethod
    def from_json(cls, data: Mapping[str, Any], currency: str) -> "BillLine":
        """Back from `to_json`. Raises KeyError or ValueError on another shape."""
        numbers = {
            name: Decimal(data[name]) if name in data else None
            for name in ("quantity", "unit_price", "tax_rate")
        }
        return cls(
            description=data["description"],
            amount=Money.of(data["amount"], currency),
            item_code=data.get("item_code", ""),
            unit=data.get("unit", ""),
            order_number=data.get("order_number", ""),
            order_line=data.get("order_line", ""),
            coding=tuple(BillCode.from_json(each, currency) for each in data.get("coding", ())),
            **numbers,
        )


_CODED = ("charges_coding", "allowances_coding")
_TOTALS = ("net_total", "tax_total", "gross_total", "charges", "allowances")


@dataclass(frozen=True, kw_only=True, slots=True)
class Bill:
    """A bill in our own shape, with the names of EN 16931. Amounts of a credit are positive.

    Attributes:
        vendor, entity: codes of the master data.
        kind: `bill` or `credit`.
        number, issue_date, due_date, currency: as read (BT-1, BT-2, BT-9, BT-5).
        posting_date: day on which it enters the books, where that is not the issue date: its
            period is closed. None otherwise.
        order_number: of the master data, empty for none; of several orders the lines say it.
        net_total, tax_total, gross_total, charges, allowances: BT-109, BT-110, BT-112, BT-108,
            BT-107; None where not stated.
        charges_coding, allowances_coding: under what these are booked, in parts that are their
            amount; empty where they are not coded. Of allowances parts are below zero.
        lines: at least one where a net total is stated.
    """

    vendor: str
    entity: str
    kind: str
    number: str
    currency: str
    issue_date: date | None = None
    due_date: date | None = None
    posting_date: date | None = None
    order_number: str = ""
    net_total: Money | None = None
    tax_total: Money | None = None
    gross_total: Money | None = None
    charges: Money | None = None
    allowances: Money | None = None
    charges_coding: tuple[BillCode, ...] = ()
    allowances_coding: tuple[BillCode, ...] = ()
    lines: tuple[BillLine, ...] = ()

    @property
    def codings(self) -> dict[str, tuple[BillCode, ...]]:
        """Under what all of it is booked, by what people call it: `line 1`, ..., `charges`."""
        lines = {f"line {at}": line.coding for at, line in enumerate(self.lines, 1)}
        return {**lines, "charges": self.charges_coding, "allowances": self.allowances_coding}

    def to_json(self) -> dict[str, Any]:
        """The shape in which it is stored and sent: amounts as text with a decimal point."""
        found: dict[str, Any] = {
            "entity": self.entity or None,
            "vendor": self.vendor or None,
            "kind": self.kind,
            "number": self.number or None,
            "issue_date": self.issue_date.isoformat() if self.issue_date else None,
            "due_date": self.due_date.isoformat() if self.due_date else None,
            "order_number": self.order_number or None,
            "currency": self.currency or None,
        }
        if self.posting_date is not None:
            found["posting_date"] = self.posting_date.isoformat()
        for name in _TOTALS:
            money = getattr(self, name)
            found[name] = money.plain() if money is not None else None
        for name in _CODED:
            if parts := getattr(self, name):
                found[name] = [each.to_json() for each in parts]
        found["lines"] = [line.to_json() for line in self.lines]
        return found

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> "Bill":
        """Back from `to_json`. Raises KeyError or ValueError on another shape."""
        currency = data["currency"] or ""

        def money(name: str) -> Money | None:
            amount = data.get(name)
            return Money.of(amount, currency) if amount is not None else None

        def day(name: str) -> date | None:
            return date.fromisoformat(data[name]) if data.get(name) else None

        return cls(
            vendor=data.get("vendor") or "",
            entity=data.get("entity") or "",
            kind=data["kind"],
            number=data.get("number") or "",
            currency=currency,
            issue_date=day("issue_date"),
            due_date=day("due_date"),
            posting_date=day("posting_date"),
            order_number=data.get("order_number") or "",
            net_total=money("net_total"),
            tax_total=money("tax_total"),
            gross_total=money("gross_total"),
            charges=money("charges"),
            allowances=money("allowances"),
            lines=tuple(BillLine.from_json(line, currency) for line in data["lines"]),
            **{
                name: tuple(BillCode.from_json(each, currency) for each in data.get(name, ()))
                for name in _CODED
            },
        )

    @property
    def digest(self) -> str:
        """SHA-256 of its canonical text: another digest, another bill."""
        text = json.dumps(self.to_json(), sort_keys=True, ensure_ascii=False)
        return hashlib.sha256(text.encode()).hexdigest()


def bill_of(reading: Reading, *, vendor: str, entity: str, order_number: str = "") -> Bill:
    """The bill that a reading asks to be posted, for the parties that it was matched with."""
    return Bill(
        vendor=vendor,
        entity=entity,
        kind="credit" if reading.kind is Kind.CREDIT_NOTE else "bill",
        number=reading.text("number") or "",
        currency=reading.currency or "",
        issue_date=reading.day("issue_date"),
        due_date=reading.day("due_date"),
        order_number=order_number,
        net_total=reading.money("net_total"),
        tax_total=reading.money("tax_total"),
        gross_total=reading.money("gross_total"),
        charges=reading.money("charges"),
        allowances=reading.money("allowances"),
        lines=_lines(reading),
    )


def bill_of_facts(facts: Facts, coded: Iterable[CodedLine] = ()) -> Bill:
    """The bill of a document, with whatever parties it was matched with, and its lines' codes."""
    bill = bill_of(
        facts.reading,
        vendor=facts.vendor.code if facts.vendor else "",
        entity=facts.entity.code if facts.entity else "",
        order_number=facts.order.number if facts.order and not facts.further_orders else "",
    )
    if facts.further_orders:
        bill = replace(bill, lines=_of_orders(facts, bill.lines))
    coded = list(coded)
    by_line = [each for each in coded if each.at >= 0]
    if by_line:
        lines = [replace(line, coding=_coding(each))
                 for line, each in zip(bill.lines, by_line, strict=True)]  # fmt: skip
        foot = {FOOT[each.at]: _coding(each) for each in coded if each.at in FOOT}
        bill = replace(
            bill, lines=tuple(lines), charges_coding=foot.get("charges", ()),
            allowances_coding=foot.get("allowances", ()),
        )  # fmt: skip
    moved = facts.posting_day != facts.issued
    return replace(bill, posting_date=facts.posting_day) if moved else bill


def _of_orders(facts: Facts, lines: tuple[BillLine, ...]) -> tuple[BillLine, ...]:
    """Lines with the order, and its line, that each is of."""
    rows = [at for at, row in enumerate(facts.reading.lines) if cell_money(row, "amount")]
    if len(rows) != len(lines):
        return lines  # no table was found
    found = []
    for at, line in zip(rows, lines, strict=True):
        pair = facts.pairs[at] if at < len(facts.pairs) else None
        if pair is not None:
            number, place = pair.order.number, str(pair.line.position)
        else:
            number, place = order_of_row(facts.reading.lines[at], facts.orders), ""
        found.append(replace(line, order_number=number, order_line=place))
    return tuple(found)


def _coding(line: CodedLine) -> tuple[BillCode, ...]:
    parts = [
        BillCode(amount=part.amount, codes={d.value: each.code for d, each in part.codes.items()})
        for part in line.parts
    ]
    return tuple(parts) if any(part.codes for part in parts) else ()


def _lines(reading: Reading) -> tuple[BillLine, ...]:
    lines = tuple(line for row in reading.lines if (line := _line(row)) is not None)
    net = reading.money("net_total")
    if lines or net is None:
        return lines
    # No table was found: the bill has one line with the net total.
    text = f"As per {reading.kind.value} {reading.text('number') or ''}".strip()
    return (BillLine(description=text, amount=net),)


def _line(row: Row) -> BillLine | None:
    amount = cell_money(row, "amount")
    if amount is None:
        return None
    return BillLine(
        description=cell_text(row, "description") or cell_text(row, "item_code") or "",
        amount=amount,
        item_code=cell_text(row, "item_code") or "",
        unit=cell_text(row, "unit") or "",
        quantity=cell_number(row, "quantity"),
        unit_price=cell_number(row, "unit_price"),
        tax_rate=cell_number(row, "tax_rate"),
    )
