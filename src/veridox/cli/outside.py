"""`veridox notice` and `veridox service`: what went out, and whether anything may."""

import itertools

import click

from veridox.cli.output import json_option, limit_option, moment, print_json, print_table
from veridox.cli.session import Session, pass_session


@click.group()
def notice() -> None:
    """Letters, mails and chat messages."""


@notice.command("list")
@click.option("--state", type=click.Choice(["prepared", "sent", "failed"]), help="Only these.")
@limit_option
@json_option
@pass_session
def notice_list(session: Session, state: str | None, limit: int, as_json: bool) -> None:
    """Newest first, with what the mail server or chat system said.

    Example: veridox notice list --state failed
    """
    rows = list(itertools.islice(session.client.notices(state), limit))
    if as_json:
        print_json(rows)
        return
    print_table(
        ("id", "prepared", "event", "state", "to", "subject", "document", "problem"),
        (
            (
                row["id"],
                moment(row["prepared_at"]),
                "letter" if row["event"] == "returned" else row["event"],
                row["state"],
                row["recipient"] or f"#{row['channel']}",
                row["subject"] or row["text"][:60],
                row["document"],
                row["problem"],
            )
            for row in rows
        ),
        right=("id", "document"),
    )


@notice.command("again")
@click.argument("number", metavar="NOTICE", type=int)
@pass_session
def notice_again(session: Session, number: int) -> None:
    """Send once more what was refused; a letter takes its document along."""
    row = session.client.send_notice_again(number)
    click.echo(f"notice {row['id']} goes to {row['recipient'] or '#' + row['channel']} again")


@click.group()
def service() -> None:
    """The installation itself."""


@service.command("status")
@json_option
@click.pass_context
@pass_session
def status(session: Session, context: click.Context, as_json: bool) -> None:
    """Whether it works on the outside, and what does not work. Exits with 1 when held."""
    found = {**session.client.service(), "health": session.client.health()}
    if as_json:
        print_json(found)
    else:
        for part, said in found["health"]["parts"].items():
            click.echo(f"{part}: {said}")
        for trouble in found["troubles"]:
            since = f" (since {moment(trouble['since'])})" if trouble["since"] else ""
            click.echo(f"{trouble['part']}: {trouble['problem']}{since}")
        if found["held_since"]:
            click.echo(f"HELD since {moment(found['held_since'])}: {found['held_reason']}")
    if found["held_since"]:
        context.exit(1)


@service.command("go-on")
@click.option("--reason", required=True, help="Why it may: nothing else does its work.")
@pass_session
def go_on(session: Session, reason: str) -> None:
    """Let an installation whose database was restored elsewhere collect and post again.

    Example: veridox service go-on --reason "the old machine is switched off"
    """
    session.client.let_go_on(reason)
    click.echo("it collects, posts and tells again as soon as its workers have restarted")
