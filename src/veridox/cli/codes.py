"""`veridox gl-account`, `cost-centre`, `project`, `tax-code`: the codes of the ledgers' lists."""

from decimal import Decimal
from typing import Any

import click

from veridox.cli.records import add_import, add_list, add_sync

_FILTERS = (
    ("search", "Beginning of the code, or words of the name."),
    ("entity", "Entity code; codes of all companies are listed, too."),
    ("ledger", "Only of this ledger."),
)


def _closed(row: dict[str, Any]) -> str:
    return "closed" if row["closed"] else "open"


@click.group("gl-account")
def gl_account() -> None:
    """Accounts of the general ledger."""


add_import(gl_account, "gl-accounts", "veridox gl-account import accounts.csv")
add_sync(gl_account, "gl-accounts")
add_list(
    gl_account, "gl-accounts", "GL accounts by code.",
    ("account", "name", "entity", "cost centre", "state"),
    lambda r: (r["code"], r["name"], r["entity"],
               "needed" if r["needs_cost_centre"] else "", _closed(r)),
    filters=_FILTERS,
)  # fmt: skip


@click.group("cost-centre")
def cost_centre() -> None:
    """Cost centres, and who answers for them."""


add_import(cost_centre, "cost-centres", "veridox cost-centre import centres.csv")
add_sync(cost_centre, "cost-centres")
add_list(
    cost_centre, "cost-centres", "Cost centres by code.",
    ("cost centre", "name", "entity", "owner", "state"),
    lambda r: (r["code"], r["name"], r["entity"], r["owner"], _closed(r)),
    filters=_FILTERS,
)  # fmt: skip


@click.group("project")
def project() -> None:
    """Projects that costs are booked to, and who leads them."""


add_import(project, "projects", "veridox project import projects.csv")
add_sync(project, "projects")
add_list(
    project, "projects", "Projects by code.",
    ("project", "name", "entity", "owner", "state"),
    lambda r: (r["code"], r["name"], r["entity"], r["owner"], _closed(r)),
    filters=_FILTERS,
)  # fmt: skip


@click.group("tax-code")
def tax_code() -> None:
    """Tax codes, and what each is for."""


add_import(tax_code, "tax-codes", "veridox tax-code import tax-codes.csv")
add_sync(tax_code, "tax-codes")
add_list(
    tax_code, "tax-codes", "Tax codes by code.",
    ("tax code", "name", "entity", "country", "category", "rate", "of", "state"),
    lambda r: (r["code"], r["name"], r["entity"], r["country"], r["category"],
               "" if r["rate"] is None else f"{Decimal(r['rate']).normalize():f} %", r["supply"],
               _closed(r)),
    right=("rate",), filters=_FILTERS,
)  # fmt: skip
