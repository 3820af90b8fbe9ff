"""Master data from a text file, for trying a pipeline where no service is."""

from collections.abc import Mapping
from datetime import date
from decimal import Decimal
from typing import Any, Final

import yaml

from veridox.core.coding import CostCentre, GlAccount, LedgerCodes, Project, TaxCode
from veridox.core.facts import ClosedPeriod, EntityRecord, MemoryKnown
from veridox.core.language.typing import nearest
from veridox.core.matching import VendorAccount, VendorRecord, account_key, terms_of
from veridox.core.tax import Treatment
from veridox.trials.cells import FactsError, read_as, several, truth
from veridox.trials.goods import Orders, cards_from, orders_from

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
    "orders": (
        "number",
        "vendor",
        "net_total",
        "invoiced",
        "closed",
        "entity",
        "approved",
        "ordered_on",
        "currency",
    ),
    "order_lines": (
        "order",
        "line",
        "item_code",
        "description",
        "quantity",
        "unit",
        "unit_price",
        "invoiced",
        "needs_receipt",
        "gl_account",
        "cost_centre",
        "project",
    ),
    "receipts": ("order_number", "line", "quantity", "unit"),
    "items": ("vendor", "code", "vendor_code", "unit", "packs"),
    "cards": (
        "vendor",
        "card",
        "code",
        "wording",
        "currency",
        "unit",
        "price",
        "percent",
        "of",
        "from_quantity",
        "first",
        "last",
    ),
    "gl_accounts": ("code", "name", "closed", "needs_cost_centre"),
    "cost_centres": ("code", "name", "closed", "owner"),
    "projects": ("code", "name", "closed", "owner"),
    "tax_codes": ("code", "name", "closed", "country", "category", "rate", "supply"),
}
_NEEDED: Final = {
    "vendors": ("code", "name"), "entities": ("code", "name"),
    "orders": ("number", "vendor"), "order_lines": ("order", "line", "quantity", "unit_price"),
    "receipts": ("order_number", "line", "quantity"), "items": ("vendor",),
    "cards": ("vendor", "card", "currency"), "gl_accounts": ("code",), "cost_centres": ("code",),
    "projects": ("code",), "tax_codes": ("code",),
}  # fmt: skip


def known_from(text: str) -> MemoryKnown:
    """Vendors, entities, orders, what came in of them, items, rate cards and the ledger's codes,
    each a list of rows with the columns of its table.

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
    of_orders = Orders(
        orders=_rows(data, "orders"), lines=_rows(data, "order_lines"),
        receipts=_rows(data, "receipts"), items=_rows(data, "items"),
    )  # fmt: skip
    return MemoryKnown(
        every_vendor=[_vendor(row) for row in _rows(data, "vendors")],
        every_entity=[_entity(row) for row in _rows(data, "entities")],
        every_order=orders_from(of_orders),
        cards=cards_from(_rows(data, "cards")),
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


def _vendor(row: Mapping[str, str]) -> VendorRecord:
    return VendorRecord(
        code=row["code"], name=row["name"], tax_id=row.get("tax_id", ""),
        needs_order=truth(row, "needs_order", True), blocked=truth(row, "blocked", False),
        contact=row.get("contact", ""), country=row.get("country", ""),
        group=row.get("group", ""), language=row.get("language", ""),
        accounts=tuple(_account(each) for each in several(row, "accounts")),
        terms=read_as(terms_of, row.get("terms", "")),
        treatment=read_as(Treatment, row["treatment"]) if "treatment" in row else None,
        rates=tuple(read_as(Decimal, each) for each in several(row, "rates")),
        names=several(row, "names"), tax_ids=several(row, "tax_ids"),
        senders=several(row, "senders"), domains=several(row, "domains"),
        addresses=several(row, "addresses"), payees=several(row, "payees"),
        gl_account=row.get("gl_account", ""), cost_centre=row.get("cost_centre", ""),
        supply=row.get("supply", ""),
    )  # fmt: skip


def _codes(data: Mapping[str, Any]) -> LedgerCodes:
    return LedgerCodes(
        accounts={
            row["code"]: GlAccount(
                code=row["code"], name=row.get("name", ""), closed=truth(row, "closed", False),
                needs_cost_centre=truth(row, "needs_cost_centre", False),
            )
            for row in _rows(data, "gl_accounts")
        },
        cost_centres={
            row["code"]: CostCentre(
                code=row["code"], name=row.get("name", ""), owner=row.get("owner", ""),
                closed=truth(row, "closed", False),
            )
            for row in _rows(data, "cost_centres")
        },
        projects={
            row["code"]: Project(
                code=row["code"], name=row.get("name", ""), owner=row.get("owner", ""),
                closed=truth(row, "closed", False),
            )
            for row in _rows(data, "projects")
        },
        tax_codes=tuple(
            TaxCode(
                code=row["code"], name=row.get("name", ""), closed=truth(row, "closed", False),
                country=row.get("country", ""), category=row.get("category", ""),
                rate=read_as(Decimal, row["rate"]) if "rate" in row else None,
                supply=row.get("supply", ""),
            )
            for row in _rows(data, "tax_codes")
        ),
    )  # fmt: skip


def _account(text: str) -> VendorAccount:
    """An account, with the day since which it is known after it: `GB71... 2026-10-01`."""
    number, _, since = text.rpartition(" ") if text[-10:].count("-") == 2 else (text, "", "")
    return VendorAccount(
        number=account_key(number), since=read_as(date.fromisoformat, since) if since else None
    )


def _entity(row: Mapping[str, str]) -> EntityRecord:
    closed = []
    for each in several(row, "closed"):
        first, _, last = each.partition(" to ")
        closed.append(
            ClosedPeriod(first=read_as(date.fromisoformat, first),
                         last=read_as(date.fromisoformat, last or first))
        )  # fmt: skip
    return EntityRecord(
        code=row["code"], name=row["name"], tax_id=row.get("tax_id", ""),
        country=row.get("country", ""), currency=row.get("currency", ""), closed=tuple(closed),
        names=several(row, "names"), recipients=several(row, "recipients"),
    )  # fmt: skip
