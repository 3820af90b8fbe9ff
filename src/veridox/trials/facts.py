"""Master data from a text file, for trying a pipeline where no service is."""

from collections.abc import Callable, Mapping
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Any, Final, TypeVar

import yaml

from veridox.core.coding import CostCentre, GlAccount, LedgerCodes, TaxCode
from veridox.core.facts import ClosedPeriod, EntityRecord, MemoryKnown
from veridox.core.language.typing import nearest
from veridox.core.matching import (
    OrderRecord,
    VendorAccount,
    VendorRecord,
    account_key,
    terms_of,
)
from veridox.core.money import Money
from veridox.core.tax import Treatment

LONGEST: Final = 1_000_000
_KEYS: Final = {
    "vendors": (
        "code",
        "name",
        "names",
        "tax_id",
        "tax_ids",
        "country",
        "accounts",
        "senders",
        "domains",
        "addresses",
        "contact",
        "needs_order",
        "blocked",
        "terms",
        "treatment",
        "rates",
        "group",
        "language",
        "payees",
        "gl_account",
        "cost_centre",
        "supply",
    ),
    "entities": (
        "code",
        "name",
        "names",
        "tax_id",
        "country",
        "currency",
        "recipients",
        "closed",
    ),
    "orders": ("number", "vendor", "net_total", "invoiced", "closed", "entity"),
    "gl_accounts": ("code", "name", "closed", "needs_cost_centre"),
    "cost_centres": ("code", "name", "closed", "owner"),
    "tax_codes": ("code", "name", "closed", "country", "category", "rate", "supply"),
}
_NEEDED: Final = {
    "vendors": ("code", "name"), "entities": ("code", "name"),
    "orders": ("number", "vendor", "net_total"), "gl_accounts": ("code",),
    "cost_centres": ("code",), "tax_codes": ("code",),
}  # fmt: skip


class FactsError(ValueError):
    """A file of facts that cannot be used; says where."""


def known_from(text: str) -> MemoryKnown:
    """Vendors, entities, orders and the ledger's codes, each a list of rows.

    Amounts are written as `1000.00 GBP`; keys are those of the master data. Several values of
    one key are parted by `|`.

    Raises:
        FactsError: what is wrong, and in which row.
    """
    if len(text) > LONGEST:
        raise FactsError(f"the facts have {len(text):,} characters; {LONGEST:,} are the most")
    try:
        # Texts stay texts: a number or a day in YAML is none here.
        data = yaml.load(text, Loader=yaml.BaseLoader)  # noqa: S506 - builds texts only
    except (yaml.YAMLError, RecursionError) as error:
        raise FactsError(f"the facts are not YAML: {str(error).splitlines()[0]}") from error
    if not isinstance(data, dict):
        raise FactsError(f"the facts hold lists under {', '.join(_KEYS)}")
    for key in data:
        if key not in _KEYS:
            raise FactsError(f"unknown key {key!r} {nearest(str(key), list(_KEYS))}".strip())
    return MemoryKnown(
        every_vendor=[_vendor(row) for row in _rows(data, "vendors")],
        every_entity=[_entity(row) for row in _rows(data, "entities")],
        every_order=[_order(row) for row in _rows(data, "orders")],
        codes=_codes(data),
    )


def _rows(data: Mapping[str, Any], key: str) -> list[dict[str, str]]:
    rows = data.get(key) or []
    if not isinstance(rows, list):
        raise FactsError(f"{key} is a list; begin each item with a dash")
    found = []
    for number, row in enumerate(rows, start=1):
        where = f"{key}[{number}]"
        if not isinstance(row, dict) or not all(isinstance(v, str) for v in row.values()):
            raise FactsError(f"{where} holds keys and texts")
        for name in row:
            if name not in _KEYS[key]:
                hint = nearest(str(name), list(_KEYS[key])) or "known: " + ", ".join(_KEYS[key])
                raise FactsError(f"{where}: unknown key {name!r} ({hint})")
        for name in _NEEDED[key]:
            if not row.get(name):
                raise FactsError(f"{where} needs {name!r}")
        found.append({name: value for name, value in row.items() if value})
    return found


def _truth(row: Mapping[str, str], name: str, usual: bool) -> bool:
    text = row.get(name, "true" if usual else "false")
    if text not in ("true", "false"):
        raise FactsError(f"{name} is true or false, not {text!r}")
    return text == "true"


def _vendor(row: Mapping[str, str]) -> VendorRecord:
    return VendorRecord(
        code=row["code"], name=row["name"], tax_id=row.get("tax_id", ""),
        needs_order=_truth(row, "needs_order", True), blocked=_truth(row, "blocked", False),
        contact=row.get("contact", ""), country=row.get("country", ""),
        group=row.get("group", ""), language=row.get("language", ""),
        accounts=tuple(_account(each) for each in _several(row, "accounts")),
        terms=_read(terms_of, row.get("terms", "")),
        treatment=_read(Treatment, row["treatment"]) if "treatment" in row else None,
        rates=tuple(_read(Decimal, each) for each in _several(row, "rates")),
        names=_several(row, "names"), tax_ids=_several(row, "tax_ids"),
        senders=_several(row, "senders"), domains=_several(row, "domains"),
        addresses=_several(row, "addresses"), payees=_several(row, "payees"),
        gl_account=row.get("gl_account", ""), cost_centre=row.get("cost_centre", ""),
        supply=row.get("supply", ""),
    )  # fmt: skip


def _codes(data: Mapping[str, Any]) -> LedgerCodes:
    return LedgerCodes(
        accounts={
            row["code"]: GlAccount(
                code=row["code"], name=row.get("name", ""), closed=_truth(row, "closed", False),
                needs_cost_centre=_truth(row, "needs_cost_centre", False),
            )
            for row in _rows(data, "gl_accounts")
        },
        cost_centres={
            row["code"]: CostCentre(
                code=row["code"], name=row.get("name", ""), owner=row.get("owner", ""),
                closed=_truth(row, "closed", False),
            )
            for row in _rows(data, "cost_centres")
        },
        tax_codes=tuple(
            TaxCode(
                code=row["code"], name=row.get("name", ""), closed=_truth(row, "closed", False),
                country=row.get("country", ""), category=row.get("category", ""),
                rate=_read(Decimal, row["rate"]) if "rate" in row else None,
                supply=row.get("supply", ""),
            )
            for row in _rows(data, "tax_codes")
        ),
    )  # fmt: skip


T = TypeVar("T")


def _several(row: Mapping[str, str], name: str) -> tuple[str, ...]:
    """Several texts of one cell, parted by `|`."""
    return tuple(each.strip() for each in row.get(name, "").split("|") if each.strip())


def _read(how: Callable[[str], T], text: str) -> T:
    try:
        return how(text)
    except (ValueError, InvalidOperation) as error:
        raise FactsError(f"{text!r}: {error}") from error


def _account(text: str) -> VendorAccount:
    """An account, with the day since which it is known after it: `GB71... 2026-10-01`."""
    number, _, since = text.rpartition(" ") if text[-10:].count("-") == 2 else (text, "", "")
    return VendorAccount(
        number=account_key(number), since=_read(date.fromisoformat, since) if since else None
    )


def _entity(row: Mapping[str, str]) -> EntityRecord:
    closed = []
    for each in _several(row, "closed"):
        first, _, last = each.partition(" to ")
        closed.append(
            ClosedPeriod(first=_read(date.fromisoformat, first),
                         last=_read(date.fromisoformat, last or first))
        )  # fmt: skip
    return EntityRecord(
        code=row["code"], name=row["name"], tax_id=row.get("tax_id", ""),
        country=row.get("country", ""), currency=row.get("currency", ""), closed=tuple(closed),
        names=_several(row, "names"), recipients=_several(row, "recipients"),
    )  # fmt: skip


def _money(text: str) -> Money:
    amount, _, currency = text.partition(" ")
    try:
        return Money(amount=Decimal(amount), currency=currency)
    except (InvalidOperation, ValueError) as error:
        raise FactsError(f"{text!r} is no amount; write it as 1000.00 GBP") from error


def _order(row: Mapping[str, str]) -> OrderRecord:
    total = _money(row["net_total"])
    invoiced = _money(row["invoiced"]) if "invoiced" in row else _nothing(total)
    return OrderRecord(
        number=row["number"], vendor=row["vendor"], net_total=total, invoiced=invoiced,
        closed=_truth(row, "closed", False), entity=row.get("entity", ""),
    )  # fmt: skip


def _nothing(total: Money) -> Money:
    """Nothing, in the same currency."""
    return Money(amount=Decimal(0), currency=total.currency)
