"""What all kinds of master data have on the command line: lists, imports, syncs."""

import itertools
import sys
from collections.abc import Callable
from decimal import Decimal
from pathlib import Path
from typing import Any

import click

from veridox.cli.output import json_option, limit_option, moment, pairs, print_json, print_table
from veridox.cli.session import Session, pass_session
from veridox.client import ProblemError
from veridox.client.masterdata import MasterRecords

MOST = 40
"""Changes that are shown on the screen."""


def _records(session: Session, what: str) -> MasterRecords:
    found: MasterRecords = getattr(session.client, what.replace("-", "_"))
    return found


def add_import(group: click.Group, what: str, example: str) -> None:
    @group.command(
        "import",
        help=f"""Bring in {what} from a table (CSV or XLSX): all rows or none.

    Columns that the table lacks stay as they are. What waits because of it is checked again.
    `--columns` lists the columns.

    Example: {example}
    """,
    )
    @click.argument(
        "file", required=False, type=click.Path(exists=True, dir_okay=False, path_type=Path)
    )
    @click.option("--preview", is_flag=True, help="Show what would change; keep nothing.")
    @click.option(
        "--expects", default="", metavar="HASH", help="Hash of a preview: another file is refused."
    )
    @click.option("--ledger", default="", help="Ledger connection that the records belong to.")
    @click.option("--mapping", default="", help="Name of a saved mapping of headings.")
    @click.option(
        "--column",
        "columns",
        multiple=True,
        metavar="HEADING=COLUMN",
        help="Which of our columns a heading is; several times. Empty: leave it aside.",
    )
    @click.option("--sheet", default="", help="Of a spreadsheet; the first one without it.")
    @click.option(
        "--problems",
        "to",
        type=click.Path(dir_okay=False, path_type=Path),
        help="Where to write the fate of each row, as CSV.",
    )
    @click.option("--columns", "show", is_flag=True, help="List the columns and stop.")
    @json_option
    @pass_session
    def import_(
        session: Session,
        file: Path | None,
        preview: bool,
        expects: str,
        ledger: str,
        mapping: str,
        columns: tuple[str, ...],
        sheet: str,
        to: Path | None,
        show: bool,
        as_json: bool,
    ) -> None:
        if show:
            _show_columns(session, what)
            return
        if file is None:
            raise click.UsageError("name the table that is to be brought in")
        given: Any = mapping
        if columns:
            if mapping:
                raise click.UsageError("give --mapping or --column, not both")
            given = dict(heading(each) for each in columns)
        try:
            done = _records(session, what).import_table(
                file, preview=preview, expects=expects, ledger=ledger, mapping=given, sheet=sheet
            )
        except ProblemError as error:
            number = error.problem.get("load")
            if number is not None and to is not None:
                to.write_bytes(session.client.masterdata.rows(number))
                click.echo(f"the fate of each row is in {to}", err=True)
            elif number is not None:
                click.echo(f"all of them: veridox load rows {number}", err=True)
            raise
        if to is not None:
            to.write_bytes(session.client.masterdata.rows(done["load"]))
        if as_json:
            print_json(done)
        else:
            _told(done, what, preview)


def heading(text: str) -> tuple[str, str]:
    heading, sign, column = text.partition("=")
    if not sign:
        raise click.UsageError(f"{text!r} is not HEADING=COLUMN")
    return heading, column


def _show_columns(session: Session, what: str) -> None:
    print_table(
        ("column", "needed", "several", "guarded", "what it is", "also called"),
        (
            (
                each["name"], "yes" if each["needed"] else "", "yes" if each["several"] else "",
                "yes" if each["guarded"] else "", each["help"], ", ".join(each["aliases"]),
            )
            for each in session.client.masterdata.columns(what)
        ),
    )  # fmt: skip
    click.echo("guarded: a change waits until a second person accepts it; several: parted by |")


def _told(done: dict[str, Any], what: str, preview: bool) -> None:
    begin = "would import" if preview else "imported"
    waits = f", {done['held']} with a part that waits for a second person" if done["held"] else ""
    click.echo(
        f"{begin} {done['rows']} {what}: {done['new']} new, {done['changed']} changed, "
        f"{done['same']} as before{waits} ({done['form']})"
    )
    if done["aside"]:
        click.echo(f"columns left aside: {', '.join(done['aside'])}")
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
    more = len(changes) - MOST + done["more_changes"]
    if more > 0:
        click.echo(f"and {more} more changes; every row: veridox load rows {done['load']}")
    if preview:
        click.echo(f"nothing was kept; to bring in this very file: --expects {done['sha256']}")
    elif done["held"]:
        click.echo(f"another person lets it hold: veridox vendor accept --load {done['load']}")


def add_sync(group: click.Group, what: str) -> None:
    @group.command(
        "sync",
        help=f"""Bring in {what} from a ledger: what changed since last time.

    Example: veridox {group.name} sync main-books
    """,
    )
    @click.argument("ledger")
    @click.option("--whole", is_flag=True, help="Ask for everything, not only for what changed.")
    @click.option("--no-wait", is_flag=True, help="Do not wait until it has ended.")
    @json_option
    @pass_session
    def sync(session: Session, ledger: str, whole: bool, no_wait: bool, as_json: bool) -> None:
        load = _records(session, what).sync(ledger, whole=whole)
        if not no_wait:
            shows = _progress if sys.stderr.isatty() else None
            load = session.client.masterdata.wait(load["id"], progress=shows)
        if as_json:
            print_json(load)
        else:
            show_load(load)
        if load["state"] in ("refused", "broken"):
            sys.exit(1)


def _progress(load: dict[str, Any]) -> None:
    of = f" of {load['expected']:,}" if load["expected"] else ""
    click.echo(f"\r{load['rows']:,}{of} rows ({load['state']})", nl=False, err=True)


def show_load(load: dict[str, Any]) -> None:
    """An import or sync, with what came of it."""
    whole = "everything" if load["whole"] else "what changed"
    pairs(
        [
            ("load", f"{load['id']} {load['what']} by {load['how']}"),
            ("from", load["file_name"] or f"{load['ledger']}, {whole}"),
            ("state", load["state"]),
            ("rows", f"{load['rows']:,}"),
            ("new", load["new"]),
            ("changed", load["changed"]),
            ("as before", load["same"]),
            ("taken out", load["gone"] or None),
            ("held", load["held"] or None),
            ("wrong", load["wrong"] or None),
            ("problem", load["problem"]),
            ("by", load["by"]),
            ("ended", moment(load["ended_at"])),
        ]
    )


def add_list(
    group: click.Group,
    what: str,
    about: str,
    columns: tuple[str, ...],
    row: Callable[[dict[str, Any]], tuple[Any, ...]],
    right: tuple[str, ...] = (),
    filters: tuple[tuple[str, str], ...] = (),
) -> None:
    @group.command("list", help=about)
    @limit_option
    @json_option
    @pass_session
    def list_(session: Session, /, limit: int, as_json: bool, **wanted: str | None) -> None:
        found = _records(session, what).list(**{k: v for k, v in wanted.items() if v is not None})
        rows = list(itertools.islice(found, limit))
        if as_json:
            print_json(rows)
        elif rows:
            print_table(columns, map(row, rows), right=right)
        else:
            click.echo(f"no {what} here; bring them in with: veridox {group.name} import")

    for name, about_option in reversed(filters):
        list_ = click.option(f"--{name}", help=about_option)(list_)


def plain(text: str | None) -> str:
    """A decimal text with two places at least and no trailing zeros beyond."""
    if text is None:
        return ""
    number = Decimal(text)
    places = max(2, -int(number.normalize().as_tuple().exponent))
    return f"{number:,.{places}f}"
