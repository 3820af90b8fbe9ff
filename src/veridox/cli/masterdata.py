"""`veridox entity`, `vendor`, `order`: lists and imports."""

import itertools
from pathlib import Path

import click

from veridox.cli.output import json_option, limit_option, pairs, print_json, print_table
from veridox.cli.session import Session, pass_session
from veridox.client.veridox import Records

TABLE = click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))


PREVIEW = click.option("--preview", is_flag=True, help="Show what would change; keep nothing.")
MOST = 40
"""Changes that are shown on the screen."""


def _import(records: Records, file: Path, what: str, preview: bool) -> None:
    done = records.import_csv(file.read_bytes(), file.name, preview=preview)
    begin = "would import" if preview else "imported"
    click.echo(
        f"{begin} {done['rows']} {what}: {done['new']} new, {done['changed']} changed, "
        f"{done['same']} as before"
    )
    # What somebody should look at comes first.
    changes = sorted(done["changes"], key=lambda each: (not each["told"], each["line"]))
    if changes:
        print_table(
            ("row", "record", "column", "before", "after", "look at"),
            (
                (
                    each["line"], each["key"], each["column"], each["before"] or "(empty)",
                    each["after"] or "(empty)", each["told"],
                )
                for each in changes[:MOST]
            ),
            right=("row",),
        )  # fmt: skip
    if len(changes) > MOST:
        click.echo(f"and {len(changes) - MOST} more changes")
    if preview:
        click.echo("nothing was kept; without --preview it is")


@click.group()
def entity() -> None:
    """Our own companies."""


@entity.command("import")
@TABLE
@PREVIEW
@pass_session
def entity_import(session: Session, file: Path, preview: bool) -> None:
    """Import entities from CSV (code, name, country, currency, tax_id)."""
    _import(session.client.entities, file, "entities", preview)


@entity.command("list")
@json_option
@pass_session
def entity_list(session: Session, as_json: bool) -> None:
    """All entities."""
    rows = list(session.client.entities.list())
    if as_json:
        print_json(rows)
    else:
        columns = ("code", "name", "country", "currency", "tax_id")
        print_table(columns, ([row[column] for column in columns] for row in rows))


@click.group()
def vendor() -> None:
    """Vendors of the master data."""


@vendor.command("import")
@TABLE
@PREVIEW
@pass_session
def vendor_import(session: Session, file: Path, preview: bool) -> None:
    """Import vendors from CSV (code, name, tax_id, country, email, needs_order, blocked).

    Columns that the table lacks stay as they are. Documents that wait because of their
    vendor are checked again.
    """
    _import(session.client.vendors, file, "vendors", preview)


@vendor.command("list")
@click.option("--search", help="Code or words of the name.")
@limit_option
@json_option
@pass_session
def vendor_list(session: Session, search: str | None, limit: int, as_json: bool) -> None:
    """Vendors by code."""
    rows = list(itertools.islice(session.client.vendors.list(search=search), limit))
    if as_json:
        print_json(rows)
        return
    print_table(
        ("code", "name", "tax id", "country", "needs order", "blocked"),
        (
            (
                row["code"],
                row["name"],
                row["tax_id"],
                row["country"],
                "yes" if row["needs_order"] else "no",
                "blocked" if row["blocked"] else "",
            )
            for row in rows
        ),
    )


@click.group()
def order() -> None:
    """Purchase orders."""


@order.command("import")
@TABLE
@PREVIEW
@pass_session
def order_import(session: Session, file: Path, preview: bool) -> None:
    """Import orders from CSV, one row a line (see docs/guide.md for the columns)."""
    _import(session.client.orders, file, "orders", preview)


@order.command("list")
@click.option("--search", help="Number or words of the vendor's name.")
@limit_option
@json_option
@pass_session
def order_list(session: Session, search: str | None, limit: int, as_json: bool) -> None:
    """Orders by number."""
    rows = list(itertools.islice(session.client.orders.list(search=search), limit))
    if as_json:
        print_json(rows)
        return
    print_table(
        ("number", "entity", "vendor", "ordered", "lines", "net total", "state"),
        (
            (
                row["number"],
                row["entity"],
                f"{row['vendor']} {row['vendor_name']}",
                row["ordered_on"],
                len(row["lines"]),
                f"{float_free(row['net_total'])} {row['currency']}",
                "closed" if row["closed"] else "open",
            )
            for row in rows
        ),
        right=("lines", "net total"),
    )


def float_free(text: str) -> str:
    """A decimal text with two places at least and no trailing zeros beyond."""
    from decimal import Decimal

    number = Decimal(text)
    places = max(2, -int(number.normalize().as_tuple().exponent))
    return f"{number:,.{places}f}"


@order.command("show")
@click.argument("number")
@json_option
@pass_session
def order_show(session: Session, number: str, as_json: bool) -> None:
    """One order with its lines."""
    row = session.client.orders.get(number)
    if as_json:
        print_json(row)
        return
    pairs(
        [
            ("order", row["number"]),
            ("vendor", f"{row['vendor']} {row['vendor_name']}"),
            ("entity", row["entity"]),
            ("ordered", row["ordered_on"]),
            ("net total", f"{float_free(row['net_total'])} {row['currency']}"),
            ("state", "closed" if row["closed"] else "open"),
        ]
    )
    click.echo()
    print_table(
        ("line", "item", "description", "quantity", "unit", "price"),
        (
            (
                line["position"],
                line["item_code"],
                line["description"],
                float_free(line["quantity"]).removesuffix(".00"),
                line["unit"],
                float_free(line["unit_price"]),
            )
            for line in row["lines"]
        ),
        right=("line", "quantity", "price"),
    )
