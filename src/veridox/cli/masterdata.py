"""`veridox entity`, `vendor`, `order`, `rate`, `books`."""

import itertools
import sys
from collections.abc import Callable
from datetime import datetime
from decimal import Decimal
from typing import Any

import click

from veridox.cli.output import json_option, limit_option, moment, pairs, print_json, print_table
from veridox.cli.records import add_import, add_list, add_sync, plain
from veridox.cli.session import Session, pass_session


@click.group()
def entity() -> None:
    """Our own companies."""


add_import(entity, "entities", "veridox entity import entities.csv --preview")
add_sync(entity, "entities")
add_list(
    entity, "entities", "All entities.",
    ("code", "name", "country", "currency", "tax id", "recipients"),
    lambda r: (r["code"], r["name"], r["country"], r["currency"], r["tax_id"],
               ", ".join(r["recipients"])),
)  # fmt: skip


@entity.command("show")
@click.argument("code")
@json_option
@pass_session
def entity_show(session: Session, code: str, as_json: bool) -> None:
    """One of our companies, with its other names and closed periods."""
    row = session.client.entities.get(code)
    if as_json:
        print_json(row)
        return
    pairs([(name.replace("_", " "), " | ".join(value) if isinstance(value, list) else value)
           for name, value in row.items() if name != "updated_at"])  # fmt: skip


# -- vendors


@click.group()
def vendor() -> None:
    """Vendors of the master data, and what waits for a second person."""


add_import(vendor, "vendors", "veridox vendor import vendors.xlsx --preview")
add_sync(vendor, "vendors")
add_list(
    vendor, "vendors", "Vendors by code.",
    ("code", "name", "tax id", "country", "terms", "usual tax", "needs order", "stands"),
    lambda r: (r["code"], r["name"], r["tax_id"], r["country"], r["terms"], _usual(r),
               "yes" if r["needs_order"] else "no", _stands(r)),
    filters=(("search", "Code or words of the name."), ("ledger", "Only of this ledger.")),
)  # fmt: skip


def _usual(row: dict[str, Any]) -> str:
    rates = ", ".join(f"{each} %" for each in row["rates"])
    return " ".join(filter(None, (row["treatment"], rates)))


def _stands(row: dict[str, Any]) -> str:
    if row["gone_at"]:
        return "gone"
    return "blocked" if row["blocked"] else ""


@vendor.command("show")
@click.argument("code")
@click.option("--ledger", default="", help="Where several ledgers have the code.")
@json_option
@pass_session
def vendor_show(session: Session, code: str, ledger: str, as_json: bool) -> None:
    """One vendor with its names, accounts and domains, and what waits."""
    row = session.client.vendors.get(code, ledger=ledger)
    if as_json:
        print_json(row)
        return
    marks: dict[str, list[str]] = {}
    for mark in row["marks"]:
        since = f" (since {mark['since']})" if mark["since"] else ""
        marks.setdefault(mark["kind"], []).append(f"{mark['value']}{since}")
    pairs(
        [
            ("vendor", f"{row['code']} {row['name']}"),
            ("ledger", row["ledger"]),
            ("stands", _stands(row)),
            ("tax id", row["tax_id"]),
            ("country", row["country"]),
            ("contact", row["email"]),
            ("needs order", "yes" if row["needs_order"] else "no"),
            ("terms", row["terms"]),
            ("usual tax", _usual(row)),
            ("group", row["group"]),
            ("language", row["language"]),
            ("merged into", row["merged_into"]),
            *((f"{kind}{'s' if len(found) > 1 else ''}", ", ".join(found))
              for kind, found in marks.items()),
            ("by sync", ", ".join(row["synced"])),
        ]
    )  # fmt: skip
    if row["held"]:
        click.echo("\nwaits for a second person:")
        show_held(row["held"])


def show_held(rows: list[dict[str, Any]]) -> None:
    """Changes that wait, or did."""
    print_table(
        ("id", "vendor", "column", "before", "after", "brought in by", "at", "stands"),
        (
            (
                r["id"], f"{r['vendor']} {r['vendor_name']}", r["column"],
                r["before"] or "(empty)", r["after"], r["by"].partition(":")[2] or r["by"],
                moment(r["at"]), r["state"],
            )
            for r in rows
        ),
        right=("id",),
    )  # fmt: skip


@vendor.command("held")
@click.option(
    "--state",
    type=click.Choice(["waits", "accepted", "refused", "replaced"]),
    default="waits",
    show_default=True,
)
@click.option("--vendor", "code", help="Only of this vendor.")
@click.option("--load", type=int, help="Only of this import or sync.")
@limit_option
@json_option
@pass_session
def vendor_held(
    session: Session, state: str, code: str | None, load: int | None, limit: int, as_json: bool
) -> None:  # fmt: skip
    """Changes of accounts, contacts, domains and blocks that wait for a second person."""
    found = session.client.masterdata.held(state=state, vendor=code, load=load)
    rows = list(itertools.islice(found, limit))
    if as_json:
        print_json(rows)
    elif rows:
        show_held(rows)
    else:
        click.echo("nothing waits" if state == "waits" else f"nothing is {state}")


def _which(command: Callable[..., None]) -> Callable[..., None]:
    command = click.option("--vendor", "code", help="All of this vendor.")(command)
    command = click.option("--load", type=int, help="All of this import or sync.")(command)
    return click.argument("ids", nargs=-1, type=int)(command)


def _chosen(ids: tuple[int, ...], load: int | None, code: str | None) -> dict[str, Any]:
    if not ids and load is None and code is None:
        raise click.UsageError("name the changes by their ids, --load or --vendor")
    which: dict[str, Any] = {"ids": list(ids)}
    return which | ({"load": load} if load is not None else {}) | ({"vendor": code} if code else {})


@vendor.command("accept")
@_which
@click.option("--reason", default="", help="How it was made sure.")
@pass_session
def vendor_accept(
    session: Session, ids: tuple[int, ...], load: int | None, code: str | None, reason: str
) -> None:
    """Let changes hold that somebody else brought in.

    Example: veridox vendor accept 14 15 --reason "called under the number of the contract"
    """
    rows = session.client.masterdata.accept(**_chosen(ids, load, code), reason=reason)
    click.echo(f"{len(rows)} {'change holds' if len(rows) == 1 else 'changes hold'} now")
    show_held(rows)


@vendor.command("refuse")
@_which
@click.option("--reason", required=True, help="Why it shall not hold.")
@pass_session
def vendor_refuse(
    session: Session, ids: tuple[int, ...], load: int | None, code: str | None, reason: str
) -> None:
    """Have changes never hold."""
    rows = session.client.masterdata.refuse(**_chosen(ids, load, code), reason=reason)
    click.echo(f"{len(rows)} {'change is' if len(rows) == 1 else 'changes are'} refused")
    show_held(rows)


@vendor.command("propose")
@click.argument("code")
@click.argument("column")
@click.argument("value")
@pass_session
def vendor_propose(session: Session, code: str, column: str, value: str) -> None:
    """Propose a name, account, domain or the like; another person accepts it.

    Example: veridox vendor propose V1001 names "Brinefold Marine Feeds"
    """
    row = session.client.masterdata.propose(code, column, value)
    click.echo(f"proposed; another person lets it hold: veridox vendor accept {row['id']}")


# -- orders


@click.group()
def order() -> None:
    """Purchase orders."""


add_import(order, "orders", "veridox order import orders.csv")
add_sync(order, "orders")
add_list(
    order, "orders", "Orders by number.",
    ("number", "entity", "vendor", "ordered", "lines", "net total", "state"),
    lambda r: (r["number"], r["entity"], f"{r['vendor']} {r['vendor_name']}", r["ordered_on"],
               len(r["lines"]), f"{plain(r['net_total'])} {r['currency']}", _order_state(r)),
    right=("lines", "net total"),
    filters=(("search", "Number or words of the vendor's name."), ("vendor", "Vendor code."),
             ("entity", "Entity code."), ("closed", "yes or no.")),
)  # fmt: skip


def _order_state(row: dict[str, Any]) -> str:
    if row["gone_at"]:
        return "gone"
    if not row["approved"]:
        return "not approved"
    return "closed" if row["closed"] else "open"


@order.command("show")
@click.argument("number")
@click.option("--entity", "code", default="", help="Where several companies have the number.")
@json_option
@pass_session
def order_show(session: Session, number: str, code: str, as_json: bool) -> None:
    """One order with its lines and what is open of each."""
    row = session.client.orders.get(number, entity=code)
    if as_json:
        print_json(row)
        return
    pairs(
        [
            ("order", row["number"]),
            ("vendor", f"{row['vendor']} {row['vendor_name']}"),
            ("entity", row["entity"]),
            ("ordered", row["ordered_on"]),
            ("net total", f"{plain(row['net_total'])} {row['currency']}"),
            ("state", _order_state(row)),
        ]
    )
    click.echo()
    print_table(
        (
            "line",
            "item",
            "description",
            "quantity",
            "unit",
            "price",
            "invoiced",
            "open",
            "received",
            "receivable",
        ),
        (
            (
                line["position"],
                line["item_code"],
                line["description"],
                plain(line["quantity"]).removesuffix(".00"),
                line["unit"],
                plain(line["unit_price"]),
                plain(line["invoiced"]).removesuffix(".00"),
                plain(line["open"]).removesuffix(".00"),
                _received(line),
                _count(line["receivable"]),
            )
            for line in row["lines"]
        ),
        right=("line", "quantity", "price", "invoiced", "open", "received", "receivable"),
    )
    click.echo()
    print_table(
        ("day", "what", "number", "of it", "document", "state"),
        ((e["day"] or "", e["what"], e["number"], e["text"], e["document"] or "",
          e["state"].replace("_", " ")) for e in row["timeline"]),
    )  # fmt: skip


def _count(number: str | None) -> str:
    return "" if number is None else plain(number).removesuffix(".00")


def _received(line: dict[str, Any]) -> str:
    """What came in, and in brackets what went back, or what nobody can count."""
    if line["received"] is None:
        return "needed" if line["needs_receipt"] else ""
    beside = [f"{_count(line['returned'])} back"] if Decimal(line["returned"]) else []
    beside += [f"{each} not counted" for each in line["unclear"]]
    return _count(line["received"]) + (f" ({', '.join(beside)})" if beside else "")


@order.command("recount")
@click.argument("number")
@click.option("--entity", "code", default="", help="Where several companies have the number.")
@click.option("--mend", is_flag=True, help="Keep what was counted where it differs.")
@json_option
@pass_session
def order_recount(session: Session, number: str, code: str, mend: bool, as_json: bool) -> None:
    """Pair the bills of an order anew, and compare that with what is kept of each.

    Exits with 1 where something differs and is not mended.
    """
    rows = session.client.masterdata.recount(number, entity=code, mend=mend)
    differing = [row for row in rows if not row["equal"]]
    if as_json:
        print_json(rows)
    else:
        for row in differing:
            click.echo(f"document {row['document']} ({row['number']}): kept {_uses(row['kept'])}; "
                       f"counted {_uses(row['counted'])}")  # fmt: skip
        done = " and kept as counted" if mend and differing else ""
        click.echo(
            f"{len(rows)} bill{'' if len(rows) == 1 else 's'} of {number}, "
            f"{len(differing)} {'differs' if len(differing) == 1 else 'differ'}{done}"
        )
    if differing and not mend:
        sys.exit(1)


def _uses(uses: list[dict[str, Any]]) -> str:
    told = ", ".join(
        f"{plain(use['quantity']) if use['quantity'] else plain(use['amount'])} of line "
        f"{use['position']}" for use in uses
    )  # fmt: skip
    return told or "nothing"


# -- rates and books


@click.group()
def rate() -> None:
    """Rates of exchange by day."""


add_import(rate, "rates", "veridox rate import rates.csv")
add_sync(rate, "rates")
add_list(
    rate, "rates", "Rates, the newest first.",
    ("day", "one", "is", "of", "source"),
    lambda r: (r["day"], r["currency"], f"{Decimal(r['rate']).normalize():f}", r["into"],
               r["source"]),
    right=("is",), filters=(("currency", "On either side."),),
)  # fmt: skip


@rate.command("show")
@click.argument("currency")
@click.argument("into")
@click.option(
    "--day", type=click.DateTime(["%Y-%m-%d"]), help="Such as 2026-03-31; today without it."
)
@json_option
@pass_session
def rate_show(
    session: Session, currency: str, into: str, day: datetime | None, as_json: bool
) -> None:
    """What one unit of a currency is worth on a day, as the checks take it.

    Example: veridox rate show EUR GBP --day 2026-11-05
    """
    row = session.client.masterdata.rate(currency, into, day.date() if day else None)
    if as_json:
        print_json(row)
        return
    pairs(
        [
            (f"1 {row['currency']}", f"{Decimal(row['rate']).normalize():f} {row['into']}"),
            ("rate of", row["day"]),
            ("source", row["source"]),
        ]
    )


@click.group()
def books() -> None:
    """What stands in the ledgers' books."""


add_import(books, "books", "veridox books import listing.xlsx --ledger main-books")
add_sync(books, "books")
add_list(
    books, "books", "Bills and credits as the ledger lists them, the newest first.",
    ("booked as", "vendor", "number", "issued", "total", "open", "order", "ours"),
    lambda r: (r["booked_as"], f"{r['vendor']} {r['vendor_name']}", r["number"], r["issue_date"],
               f"{plain(r['gross_total'])} {r['currency']}", plain(r["open_amount"]),
               r["order_number"], "yes" if r["reference"] else ""),
    right=("total", "open"),
    filters=(("search", "Number of the vendor or of the ledger."), ("vendor", "Vendor code."),
             ("ledger", "Only of this ledger.")),
)  # fmt: skip


@books.command("show")
@click.argument("booked_as")
@click.option("--ledger", default="", help="Where several ledgers have the number.")
@json_option
@pass_session
def books_show(session: Session, booked_as: str, ledger: str, as_json: bool) -> None:
    """What stands in the books under a number, and the document that it came from."""
    row = session.client.books.get(booked_as, ledger=ledger)
    if as_json:
        print_json(row)
        return
    open_amount = row["open_amount"]
    pairs(
        [
            ("booked as", row["booked_as"]),
            ("ledger", row["ledger"]),
            ("vendor", f"{row['vendor']} {row['vendor_name']}"),
            ("entity", row["entity"]),
            (row["kind"], row["number"]),
            ("issued", row["issue_date"]),
            ("total", f"{plain(row['gross_total'])} {row['currency']}"),
            ("open", f"{plain(open_amount)} {row['currency']}" if open_amount else "not told"),
            ("order", row["order_number"]),
            ("document", str(row["document"] or "not posted from here")),
            ("gone", moment(row["gone_at"])),
        ]
    )
