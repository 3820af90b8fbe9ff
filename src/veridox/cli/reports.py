"""`veridox report`."""

from pathlib import Path

import click

from veridox.cli.mail import table_form
from veridox.cli.output import json_option, moment, print_json, print_table
from veridox.cli.session import Session, pass_session


@click.group()
def report() -> None:
    """Reports."""


@report.command("accounted")
@click.argument("mailbox")
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
    mailbox: str,
    since: str | None,
    until: str | None,
    whole: bool,
    output: str | None,
    as_json: bool,
) -> None:
    """What the mail server lists against what is stored, and what became of each mail.

    Exits with 1 when something is not accounted for.

    Example: veridox report accounted ap-inbox --since 2026-11-01 --all
    """
    period = {"since": since, "until": until}
    if output:
        content = session.client.accounted_table(table_form(output), mailbox=mailbox, **period)
        Path(output).write_bytes(content)
        click.echo(f"{output}: {len(content):,} bytes")
        return
    found = session.client.accounted(mailbox, **period)
    if as_json:
        print_json(found)
    else:
        _show(found, whole)
    if not found["good"]:
        context.exit(1)


def _show(found: dict, whole: bool) -> None:  # type: ignore[type-arg]
    click.echo(
        f"{found['mailbox']}, {found['since']} to {found['until']}, "
        f"counted {moment(found['counted_at'])}\n"
    )
    print_table(("mails", "count"), found["totals"].items(), right=("count",))
    usual = ("taken in", "not wanted")
    rows = [row for row in found["rows"] if whole or row["stands"] not in usual]
    if rows:
        click.echo()
        print_table(
            ("received", "folder", "sender", "subject", "stands", "outcome", "what became of it"),
            (
                (
                    moment(row["received_at"]),
                    row["folder"],
                    row["sender"],
                    row["subject"],
                    row["stands"],
                    row["outcome"],
                    row["why"],
                )
                for row in rows
            ),
        )
    good = "Everything is accounted for." if found["good"] else "NOT everything is accounted for."
    click.echo(f"\n{good}")
