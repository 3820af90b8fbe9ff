"""`veridox receipt`, `item`, `card`: what came in, how it is packed, what was agreed."""

from decimal import Decimal
from typing import Any

import click

from veridox.cli.records import add_import, add_list, add_sync, plain


@click.group()
def receipt() -> None:
    """Goods receipts: what came in of orders, and what went back."""


add_import(receipt, "receipts", "veridox receipt import receipts.csv")
add_sync(receipt, "receipts")
add_list(
    receipt, "receipts", "Goods receipts, the newest first; below zero is what went back.",
    ("number", "booked", "entity", "order", "line", "quantity", "unit", "note"),
    lambda r: (r["number"], r["received_on"], r["entity"], r["order_number"], r["line"],
               plain(r["quantity"]).removesuffix(".00"), r["unit"], r["note"]),
    right=("line", "quantity"),
    filters=(("search", "Number of the receipt or the order."), ("order", "Order number."),
             ("entity", "Entity code."), ("ledger", "Only of this ledger.")),
)  # fmt: skip


@click.group()
def item() -> None:
    """Items: what vendors call them, and how they are packed."""


add_import(item, "items", "veridox item import items.csv")
add_sync(item, "items")
add_list(
    item, "items", "Items by our code.",
    ("item", "vendor", "its code", "description", "unit", "packs"),
    lambda r: (r["code"], f"{r['vendor']} {r['vendor_name']}", r["vendor_code"], r["description"],
               r["unit"], ", ".join(f"{n} = {c}" for n, c in r["packs"].items())),
    filters=(("search", "Words of code or description."), ("vendor", "Vendor code."),
             ("ledger", "Only of this ledger.")),
)  # fmt: skip


@click.group()
def card() -> None:
    """Rate cards: what vendors' charges were agreed to be."""


add_import(card, "cards", "veridox card import rates-2026.csv")
add_sync(card, "cards")
add_list(
    card, "cards", "Agreed charges, the newest first.",
    ("card", "vendor", "charge", "agreed", "from", "holds"),
    lambda r: (r["card"], f"{r['vendor']} {r['vendor_name']}",
               " ".join(each for each in (r["code"], r["wording"]) if each), _agreed(r),
               plain(r["from_quantity"]).removesuffix(".00") if Decimal(r["from_quantity"]) else "",
               _holds(r)),
    right=("from",),
    filters=(("search", "Words of card, code or wording."), ("vendor", "Vendor code."),
             ("day", "Only what is in force on it, such as 2026-11-20."),
             ("ledger", "Only of this ledger.")),
)  # fmt: skip


def _agreed(row: dict[str, Any]) -> str:
    if row["percent"] is not None:
        of = f" of {row['of']}" if row["of"] else ""
        return f"{Decimal(row['percent']).normalize():f} %{of}"
    unit = f" a {row['unit']}" if row["unit"] else ""
    return f"{plain(row['price'])} {row['currency']}{unit}"


def _holds(row: dict[str, Any]) -> str:
    if not row["first"] and not row["last"]:
        return "always"
    return f"{row['first'] or ''} to {row['last'] or ''}".strip()
