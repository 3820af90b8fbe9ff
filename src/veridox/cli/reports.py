"""`veridox report`."""

import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from itertools import islice
from pathlib import Path
from typing import Any

import click

from veridox.cli.mail import table_form
from veridox.cli.output import json_option, moment, print_json, print_table
from veridox.cli.session import Session, pass_session

MOST = 500
"""Rows that are shown on the screen."""


@click.group()
def report() -> None:
    """Reports."""


@report.command("accounted")
@click.argument("mailbox", required=False)
@click.option("--since", metavar="DAY", help="First day; a week back by default.")
@click.option("--until", metavar="DAY", help="Last day; today by default.")
@click.option(
    "--all", "whole", is_flag=True, help="Every mail, not only those that ask for a look."
)
@click.option("--output", type=click.Path(dir_okay=False, writable=True), help="A .csv or .xlsx.")
@json_option
@click.pass_context
@pass_session
def accounted(
    session: Session,
    context: click.Context,
    mailbox: str | None,
    since: str | None,
    until: str | None,
    whole: bool,
    output: str | None,
    as_json: bool,
) -> None:
    """What came in against what is stored, and what became of each.

    Of one mailbox, or without one of all mailboxes, watched directories and uploads. A
    worker counts; exits with 1 when something is not accounted for.

    Example: veridox report accounted ap-inbox --since 2026-11-01 --all
    """
    form = table_form(output) if output else ""
    client = session.client
    with watched("counting") as progress:
        run = client.run_report(
            "accounted", mailbox=mailbox, since=since, until=until, progress=progress
        )
    found = run["result"]
    if output:
        content = client.report_table(run["id"], form)
        Path(output).write_bytes(content)
        click.echo(f"{output}: {len(content):,} bytes")
    elif as_json:
        print_json({**found, "run": run["id"], "rows": list(client.report_rows(run["id"]))})
    else:
        _show(found)
        usual = () if whole else ("taken in", "not wanted")
        shown = [name for name, count in found["totals"].items() if count and name not in usual]
        _show_rows(client.report_rows(run["id"], ",".join(shown)) if shown else iter(()))
        good = "Everything is" if found["good"] else "NOT everything is"
        click.echo(f"\n{good} accounted for.")
    if not found["good"]:
        context.exit(1)


@contextmanager
def watched(what: str) -> Iterator[Callable[[int, int], None]]:
    """A progress line on a terminal; nothing elsewhere."""
    shown = sys.stderr.isatty()

    def told(done: int, total: int) -> None:
        if shown and total:
            click.echo(f"\r{what}: {done:,} of {total:,} ", nl=False, err=True)

    yield told
    if shown:
        click.echo("\r\x1b[K", nl=False, err=True)


def _show(found: dict[str, Any]) -> None:
    click.echo(
        f"{found['mailbox'] or 'Everything that came in'}, {found['since']} to {found['until']}, "
        f"counted {moment(found['counted_at'])}\n"
    )
    print_table(("mails and files", "count"), found["totals"].items(), right=("count",))
    for problem in found["problems"]:
        click.echo(f"PROBLEM {problem}")
    for each in found["refused_before"]:
        click.echo(
            f"besides {each['count']:,} of {each['mailbox']}, {each['folder']}, that did not meet "
            f"{each['condition']} and lie there no longer"
        )


def _show_rows(rows: Iterator[dict[str, Any]]) -> None:
    # A table needs all its rows to know its widths; more than a screen's worth is for a file.
    some = list(islice(rows, MOST))
    if not some:
        return
    click.echo()
    print_table(
        ("received", "came by", "sender", "subject or name", "stands", "what became of it"),
        (
            (
                moment(row["received_at"]),
                row["source"] + (f", {row['folder']}" if row["folder"] else ""),
                row["sender"],
                row["subject"],
                row["stands"],
                row["why"],
            )
            for row in some
        ),
    )
    if next(rows, None) is not None:
        click.echo(f"the newest {MOST:,}; --output has all")
