"""`veridox load`, `mapping`: how master data were brought in."""

import itertools
import sys

import click

from veridox.cli.output import json_option, limit_option, moment, print_json, print_table
from veridox.cli.records import heading, show_load
from veridox.cli.session import Session, pass_session
from veridox.client.masterdata import KINDS


@click.group()
def load() -> None:
    """Imports and syncs of master data."""


@load.command("list")
@click.option("--what", type=click.Choice(KINDS))
@limit_option
@json_option
@pass_session
def load_list(session: Session, what: str | None, limit: int, as_json: bool) -> None:
    """Imports and syncs, the newest first."""
    rows = list(itertools.islice(session.client.masterdata.loads(what), limit))
    if as_json:
        print_json(rows)
        return
    print_table(
        ("load", "what", "how", "from", "state", "rows", "new", "changed", "gone", "held", "at"),
        (
            (
                r["id"], r["what"], r["how"], r["file_name"] or r["ledger"], r["state"],
                r["rows"], r["new"], r["changed"], r["gone"], r["held"], moment(r["begun_at"]),
            )
            for r in rows
        ),
        right=("load", "rows", "new", "changed", "gone", "held"),
    )  # fmt: skip


@load.command("show")
@click.argument("number", type=int)
@json_option
@pass_session
def load_show(session: Session, number: int, as_json: bool) -> None:
    """One import or sync."""
    row = session.client.masterdata.load(number)
    if as_json:
        print_json(row)
    else:
        show_load(row)


@load.command("rows")
@click.argument("number", type=int)
@pass_session
def load_rows(session: Session, number: int) -> None:
    """The fate of each row of an import, as CSV on standard output."""
    sys.stdout.buffer.write(session.client.masterdata.rows(number))


@load.command("standing")
@json_option
@pass_session
def load_standing(session: Session, as_json: bool) -> None:
    """How many records of each kind there are, how fresh, and what waits."""
    rows = session.client.masterdata.standing()
    if as_json:
        print_json(rows)
        return
    print_table(
        ("what", "records", "last brought in", "wait for a second person", "under way"),
        (
            (
                r["what"], f"{r['count']:,}", moment(r["fresh"]) or "never", r["held"] or "",
                f"load {r['running']['id']} ({r['running']['state']})" if r["running"] else "",
            )
            for r in rows
        ),
        right=("records", "wait for a second person"),
    )  # fmt: skip


@click.group()
def mapping() -> None:
    """Saved headings of tables."""


@mapping.command("list")
@json_option
@pass_session
def mapping_list(session: Session, as_json: bool) -> None:
    """All saved mappings."""
    rows = list(session.client.masterdata.mappings())
    if as_json:
        print_json(rows)
        return
    print_table(
        ("name", "what", "columns", "fixed", "saved by"),
        (
            (
                r["name"], r["what"],
                ", ".join(f"{k} = {v or '(aside)'}" for k, v in r["columns"].items()),
                ", ".join(f"{k}: {v}" for k, v in r["fixed"].items()),
                r["saved_by"].partition(":")[2],
            )
            for r in rows
        ),
    )  # fmt: skip


@mapping.command("save")
@click.argument("name")
@click.argument("what", type=click.Choice(KINDS))
@click.option("--column", "columns", multiple=True, metavar="HEADING=COLUMN", required=True)
@click.option(
    "--fixed",
    multiple=True,
    metavar="COLUMN=VALUE",
    help="A value for a column that the table lacks.",
)
@pass_session
def mapping_save(
    session: Session, name: str, what: str, columns: tuple[str, ...], fixed: tuple[str, ...]
) -> None:  # fmt: skip
    """Save which heading is which of our columns.

    Example: veridox mapping save our-export vendors --column "Kreditor=code" --column "Name 1=name"
    """
    session.client.masterdata.save_mapping(
        name, what, dict(map(heading, columns)), dict(map(heading, fixed))
    )
    click.echo(f"saved; use it with: veridox ... import FILE --mapping {name}")


@mapping.command("forget")
@click.argument("name")
@pass_session
def mapping_forget(session: Session, name: str) -> None:
    """Delete a mapping."""
    session.client.masterdata.forget_mapping(name)
    click.echo(f"{name} is forgotten")
