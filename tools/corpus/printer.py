"""How a supplier prints its bills, remembering what was printed: that is the truth."""

import random
from collections.abc import Sequence
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from babel.dates import format_date

from tools.corpus.bills import Bill, Item
from tools.corpus.wording import phrases, words_of
from tools.grammar.speech import DUE

FACTS = {
    "number": "number", "issued": "issue_date", "due": "due_date", "order": "order_number",
    "note": "delivery_note", "delivered": "delivery_date", "preceding": "preceding_number",
    "our_tax_id": "seller.tax_id", "your_tax_id": "buyer.tax_id", "account": "account",
    "customer": "", "phone": "", "quote": "",
}  # fmt: skip
"""Names of facts, and of the fields that they state; empty for what only stands in the way."""
COLUMNS = {
    "c_id": "id", "c_code": "item_code", "c_name": "description", "c_quantity": "quantity",
    "c_unit": "unit", "c_price": "unit_price", "c_discount": "discount", "c_rate": "tax_rate",
    "c_amount": "amount",
}  # fmt: skip
FROM = {"en": "From", "de": "Von", "fr": "De", "es": "De", "it": "Da", "nl": "Van", "pl": "Sprzedawca",
        "pt": "De", "sv": "Från"}  # fmt: skip
SIGNS = {"EUR": "€", "GBP": "£", "PLN": "zł", "SEK": "kr", "USD": "$", "JPY": "¥", "CHF": "CHF"}


class Printer:
    """One supplier's habits, and one bill.

    Args:
        bill: what is billed.
        vendor: seeds the supplier's habits; the same supplier prints all its bills alike.
        held_back: whether its words are those of held-back families.
    """

    def __init__(self, bill: Bill, vendor: str, *, held_back: bool) -> None:
        self.bill = bill
        self.chance = random.Random(f"vendor {vendor} {bill.language} {bill.currency}")
        self.words = words_of(bill.language, self.chance, held_back=held_back)
        self.words["quote"] = {"en": "Quote no.", "de": "Angebot"}.get(bill.language, "Ref.")
        english = bill.language == "en"
        self._point = english or bill.currency in ("CHF", "JPY")
        groups = {"en": [","], "fr": ["\u202f", "\u00a0", " "], "sv": [" ", "\u00a0"],
                  "pl": [" ", "\u00a0"]}.get(bill.language, [".", ".", ".", ""])  # fmt: skip
        self._group = "'" if bill.currency == "CHF" else "," if self._point else (
            self.chance.choice(groups)
        )  # fmt: skip
        self._place = self.chance.choice(["", "", "sign", "code", "code after", "sign after"])
        self._dates = self.chance.choice(
            ["d MMMM y", "d MMM y", "dd/MM/yyyy", "dd.MM.yyyy", "dd-MM-yyyy", "yyyy-MM-dd",
             "dd.MM.yy", "dd/MM/yy"]
        )  # fmt: skip
        self.columns = self._columns()
        self.shown: dict[str, str] = {}
        self.labels: dict[str, str] = {}
        self.rows: list[dict[str, str]] = []
        self.tax_rows: list[dict[str, str]] = []
        self.low_seller = False
        self.words["from"] = FROM[bill.language]

    def _columns(self) -> list[str]:
        chance = self.chance
        first = [["c_code", "c_name"], ["c_name"], ["c_id", "c_code", "c_name"], ["c_id", "c_name"],
                 ["c_name", "c_code"]]  # fmt: skip
        middle = [["c_quantity", "c_unit", "c_price"], ["c_quantity", "c_price"],
                  ["c_price", "c_quantity"], ["c_quantity", "c_price"]]  # fmt: skip
        columns = [*chance.choice(first), *chance.choice(middle)]
        if any(item.discount for item in self.bill.items):
            columns.append("c_discount")
        if chance.random() < 0.35:
            columns.append("c_rate")
        columns.append("c_amount")
        if chance.random() < 0.12:
            columns.remove("c_quantity")
            columns.insert(0, "c_quantity")
        return columns

    # -- values as text

    def number(self, value: Decimal, places: int) -> str:
        """A number in the supplier's way."""
        text = f"{abs(value):,.{places}f}"
        if self._point:
            text = text.replace(",", self._group)
        else:
            text = text.replace(",", "_").replace(".", ",").replace("_", self._group)
        return f"-{text}" if value < 0 else text

    def quantity(self, value: Decimal) -> str:
        """Without needless zeros."""
        value = value.normalize()
        return self.number(value, max(0, -int(value.as_tuple().exponent)))

    def price(self, value: Decimal) -> str:
        """With all its places."""
        return self.number(value, max(0, -int(value.as_tuple().exponent)))

    def amount(self, value: Decimal, *, sign: bool = False) -> str:
        """Money; with the currency's sign or code where the supplier prints it (totals)."""
        value = -value if self.bill.negative and self.bill.kind == "credit note" else value
        text = self.number(value, 0 if self.bill.currency == "JPY" else 2)
        if not sign or not self._place:
            return text
        name = SIGNS[self.bill.currency] if "sign" in self._place else self.bill.currency
        self.shown["currency"] = self.bill.currency
        if "after" in self._place:
            return f"{text} {name}"
        return f"{name}{text}" if len(name) == 1 else f"{name} {text}"

    def day(self, value: date) -> str:
        """A date in the supplier's way."""
        return str(format_date(value, self._dates, locale=self.bill.language))

    # -- what is printed

    def fact(self, name: str) -> tuple[str, str] | None:
        """Label and value of a fact; None where the bill has none."""
        bill = self.bill
        if name == "preceding" and bill.kind != "credit note":
            return None
        values: dict[str, Any] = {
            "number": bill.number, "issued": bill.issued, "due": bill.due, "order": bill.order,
            "note": bill.note, "delivered": bill.delivered, "preceding": bill.preceding,
            "our_tax_id": bill.tax_id, "your_tax_id": bill.buyer_tax_id, "account": bill.account,
            "customer": bill.customer, "phone": bill.phone, "quote": bill.quote,
        }  # fmt: skip
        value = values[name]
        field = FACTS[name]
        if field:
            plain = value.isoformat() if isinstance(value, date) else value
            self.shown[field] = plain.replace(" ", "") if name == "account" else plain
            self.labels[field] = self.words[name]
        return self.words[name], self.day(value) if isinstance(value, date) else value

    def facts(self, *names: str) -> list[tuple[str, str]]:
        """Those facts of a list that the bill has."""
        return [found for name in names if (found := self.fact(name)) is not None]

    def some_facts(self, least: int = 2) -> list[tuple[str, str]]:
        """Number and date, and what else this supplier always states, in its order."""
        others = ["due", "order", "customer", "delivered", "note", "your_tax_id", "quote"]
        chosen = self.chance.sample(others, self.chance.randrange(least, len(others)))
        first = ["number", "issued"] if self.chance.random() < 0.75 else ["issued", "number"]
        return self.facts(*first, "preceding", *chosen)

    def title(self) -> str:
        """What the document calls itself."""
        return self.words["credit" if self.bill.kind == "credit note" else "invoice"]

    def seller(self) -> str:
        """The supplier's name."""
        self.shown["seller.name"] = self.bill.seller[0]
        return self.bill.seller[0]

    def buyer(self) -> tuple[str, ...]:
        """Name and address."""
        self.shown["buyer.name"] = self.bill.buyer[0]
        return self.bill.buyer

    def heads(self, columns: Sequence[str] = ()) -> list[str]:
        """Column headers."""
        return [self.words[name] for name in columns or self.columns]

    def lines(
        self, columns: Sequence[str] = (), *, code_in_name: bool = False, more: bool = True
    ) -> list[list[str]]:
        """The cells of all lines."""
        columns = columns or self.columns
        found = []
        for number, item in enumerate(self.bill.items, start=1):
            texts = self._cells(number, item)
            if code_in_name and "c_code" not in columns:
                texts["c_name"] = f"{item.code} {texts['c_name']}"
            elif not more:
                texts["c_name"] = item.name
            if item.discount and "c_discount" not in columns:
                less = self.words["allowance"]
                texts["c_name"] += f", {less} {self.quantity(item.discount)} %"
            self.rows.append(self._true_row(item, number, columns))
            found.append([texts[name] for name in columns])
        return found

    def _cells(self, number: int, item: Item) -> dict[str, str]:
        percent = f"{self.quantity(item.discount)}" if item.discount else ""
        return {
            "c_id": str(number), "c_code": item.code, "c_name": f"{item.name} {item.more}",
            "c_quantity": self.quantity(item.quantity), "c_unit": item.unit,
            "c_price": self.price(item.price), "c_discount": percent,
            "c_rate": self.quantity(item.rate), "c_amount": self.amount(item.amount),
        }  # fmt: skip

    def _true_row(self, item: Item, number: int, columns: Sequence[str]) -> dict[str, str]:
        values = {
            "c_id": str(number), "c_code": item.code, "c_name": item.name,
            "c_quantity": str(item.quantity), "c_unit": item.unit, "c_price": str(item.price),
            "c_rate": str(item.rate), "c_amount": str(item.amount),
        }  # fmt: skip
        return {COLUMNS[name]: values[name] for name in columns if name in values}

    def totals(self) -> list[tuple[str, str, str]]:
        """Name, label and amount of each row of the totals."""
        bill = self.bill
        found: list[tuple[str, str, str]] = []
        if (bill.allowance or bill.charge) and self.chance.random() < 0.7:
            found.append(self._total("lines_total", "lines_total", bill.lines_total))
        if bill.allowance:
            found.append(self._taken_off("allowance", "allowances", bill.allowance))
        if bill.charge:
            found.append(self._total("charge", "charges", bill.charge))
        found.append(self._total("net", "net_total", bill.net))
        if not bill.reverse:
            found += self._taxes()
        found.append(self._total("gross", "gross_total", bill.gross))
        left = bill.gross
        if bill.prepaid:
            found.append(self._taken_off("prepaid", "prepaid", bill.prepaid))
            left -= bill.prepaid
        if bill.withheld is not None:
            rate, amount = bill.withheld.rate, bill.withheld.amount
            found.append(self._taken_off("withheld", "withheld", amount, rate=rate))
            left -= amount
        if left != bill.gross:
            found.append(self._total("due_amount", "amount_due", left))
        elif DUE.search(self.words["gross"]):
            # Who calls the total what is to be paid states both.
            self.shown["amount_due"] = str(left)
        return found

    def _total(self, name: str, field: str, value: Decimal) -> tuple[str, str, str]:
        self.shown[field] = str(value)
        self.labels[field] = self.words[name]
        return name, self.words[name], self.amount(value, sign=True)

    def _taken_off(
        self, name: str, field: str, value: Decimal, rate: Decimal = Decimal(0)
    ) -> tuple[str, str, str]:
        self.shown[field] = str(value)
        self.labels[field] = self.words[name]
        label = self.words[name].replace("{rate}", self.quantity(rate))
        return name, label, self.amount(-value)

    def _taxes(self) -> list[tuple[str, str, str]]:
        bill = self.bill
        found = []
        for tax in bill.taxes:
            label = self.words["tax"].replace("{rate}", self.quantity(tax.rate))
            found.append(("tax", label, self.amount(tax.amount, sign=True)))
            self.tax_rows.append({"rate": str(tax.rate), "amount": str(tax.amount)})
        if len(bill.taxes) == 1:
            self.shown["tax_total"] = str(bill.tax)
        elif self.chance.random() < 0.5:
            found.append(self._total("tax_sum", "tax_total", bill.tax))
        return found

    def totals_again(self) -> tuple[str, str]:
        """What is to be paid, as on a slip."""
        bill = self.bill
        left = bill.gross - bill.prepaid - (bill.withheld.amount if bill.withheld else 0)
        name = "due_amount" if left != bill.gross else "gross"
        field = "amount_due" if left != bill.gross else "gross_total"
        return self._total(name, field, left)[1:]

    def sign(self) -> str:
        """The currency as it stands beside amounts."""
        self.shown["currency"] = self.bill.currency
        return self.chance.choice([SIGNS[self.bill.currency], self.bill.currency])

    def groups(self) -> tuple[str, ...]:
        """Headings of groups of lines."""
        number = self.chance.randrange(100, 999)
        return (self.words["note"] + f" {self.bill.note}", f"{number} {self.bill.items[0].name}",
                self.bill.items[-1].name, f"{self.words['delivered']} {self.day(self.bill.issued)}")  # fmt: skip

    def noise(self, count: int) -> list[tuple[str, str]]:
        """What looks like facts and is none: labels that name nothing sought, with all kinds of values."""
        chance = self.chance
        labels = phrases()[self.bill.language]["other"]
        ago = self.bill.issued - timedelta(days=chance.randrange(1, 400))
        values = (
            lambda: self.day(ago), lambda: self.day(ago), lambda: str(chance.randrange(10, 10**7)),
            lambda: f"{chance.choice('ABHKR')}{chance.randrange(10, 10**5)}", lambda: f"HRB {chance.randrange(10**4)}",
            lambda: self.number(Decimal(chance.randrange(100, 10**5)) / 100, 2) + " kg",
            lambda: f"{chance.randrange(1, 9)} / {chance.randrange(9, 20)}", lambda: "ada@merrowmere.example",
            lambda: chance.choice(["Ada Brinefold", "Bo Sedgewick", "DAP Merrowmere", "net"]),
        )  # fmt: skip
        return [(chance.choice(labels), chance.choice(values)()) for _ in range(count)]

    def stray_day(self) -> str:
        """A day that nothing names, as of a print-out; mostly none."""
        if self.chance.random() > 0.2:
            return ""
        later = self.bill.issued + timedelta(days=self.chance.randrange(-30, 40))
        return f"{self.day(later)} {self.chance.choice(['', '14:22', '1/1', '08:05:11'])}".strip()

    def currency_note(self) -> str:
        """Names the currency where no amount does."""
        if "currency" in self.shown:
            return ""
        self.shown["currency"] = self.bill.currency
        code = self.bill.currency
        notes = {"en": f"All amounts in {code}", "de": f"Alle Beträge in {code}",
                 "fr": f"Montants en {code}", "es": f"Importes en {code}",
                 "it": f"Importi in {code}", "nl": f"Bedragen in {code}", "pl": f"Kwoty w {code}",
                 "pt": f"Valores em {code}", "sv": f"Belopp i {code}"}  # fmt: skip
        return notes[self.bill.language]

    def remarks(self) -> list[str]:
        """Terms, thanks, reverse charge."""
        found = [self.words["terms"].replace("{days}", str(self.bill.days)), self.words["thanks"]]
        if self.bill.reverse:
            found.insert(0, self.words["reverse"])
        note = self.currency_note()
        return [note, *found] if note else found

    def truth(self) -> dict[str, Any]:
        """What was printed, as a line of the manifest."""
        return {
            "language": self.bill.language, "kind": self.bill.kind, "fields": self.shown,
            "lines": self.rows, "tax_lines": self.tax_rows, "labels": self.labels,
        }  # fmt: skip
