"""`veridox mail`: what came in, what became of it, and what would be taken."""

import itertools
from pathlib import Path
from typing import Any

import click

from veridox.cli.output import json_option, limit_option, moment, pairs, print_json, print_table
from veridox.cli.session import Session, pass_session

OUTCOMES = ("under way", "done", "with people", "failed", "set aside", "repeat")


@click.group()
def mail() -> None:
    """Mails: what came in, and what became of each."""


@mail.command("list")
@click.option("--search", help="Words of sender, subject, text or a file's name.")
@click.option("--sender", help="Part of the sender's name or address.")
@click.option("--outcome", type=click.Choice(OUTCOMES), help="What became of them.")
@click.option("--place", type=click.Choice(["arrived", "done", "people", "failed"]))
@click.option("--received-from", metavar="DAY", help="Received on this day or later.")
@click.option("--received-to", metavar="DAY", help="Received before this day.")
@limit_option
@json_option
@pass_session
def mail_list(session: Session, /, limit: int, as_json: bool, **filters: str | None) -> None:
    """Mails, newest first.

    Example: veridox mail list --outcome "with people"
    """
    rows = list(itertools.islice(session.client.messages.list(**filters), limit))
    if as_json:
        print_json(rows)
        return
    print_table(
        ("id", "received", "sender", "subject", "outcome", "files"),
        (
            (
                row["id"],
                moment(row["received_at"]),
                row["forwarded_from"] or row["sender_address"],
                row["subject"],
                row["outcome"],
                "; ".join(f"{file['name']}: {file['outcome']}" for file in row["file_outcomes"]),
            )
            for row in rows
        ),
        right=("id",),
    )


@mail.command("show")
@click.argument("message", type=int)
@click.option("--parts", is_flag=True, help="Also every part of its structure.")
@json_option
@pass_session
def mail_show(session: Session, message: int, parts: bool, as_json: bool) -> None:
    """A mail with its files and what became of them."""
    row = session.client.messages.get(message)
    if as_json:
        print_json(row)
        return
    inner = row["forwarded"]
    pairs(
        [
            ("from", f"{row['sender_name']} <{row['sender_address']}>".strip()),
            (
                "forwarded from",
                f"{inner['sender_name']} <{inner['sender_address']}>" if inner else "",
            ),
            ("to", ", ".join(row["recipients"])),
            ("subject", row["subject"]),
            ("received", moment(row["received_at"])),
            ("taken in", moment(row["taken_at"])),
            ("kind", f"{row['kind']}: {row['kind_reason']}" if row["kind_reason"] else row["kind"]),
            ("outcome", row["outcome"]),
            ("set aside", row["aside_reason"]),
            ("mailbox", row["mailbox"]),
            ("handed in by", row["handed_in_by"]),
            ("lies in", row["folder"]),
            ("repeat of", row["repeat_of"]),
            ("message id", row["message_id"]),
            ("links", " ".join(row["links"][:5])),
            ("defects", "; ".join(row["defects"])),
        ]
    )
    if row["text"].strip():
        click.echo("\n" + row["text"].strip()[:2000])
    click.echo()
    print_table(
        ("file", "name", "type", "outcome", "documents", "reason"),
        (
            (
                file["id"],
                " in ".join([file["name"], *reversed(file["within"])]),
                file["media_type"],
                file["outcome"],
                " ".join(map(str, file["documents"])),
                file["reason"],
            )
            for file in row["files"]
        ),
    )
    if parts:
        click.echo()
        print_table(
            ("part", "type", "bytes", "became"),
            (
                (part["path"], part["media_type"], part["size"], part["became"])
                for part in row["parts"]
            ),
            right=("bytes",),
        )


@mail.command("peek")
@click.argument("mailbox")
@click.option("--folder", help="Which one, where several are watched.")
@click.option("--pipeline", help="Whose conditions, where several watch.")
@click.option("--limit", default=50, show_default=True, help="Newest mails looked at.")
@click.option("--why", is_flag=True, help="Each condition with what was found.")
@json_option
@pass_session
def mail_peek(
    session: Session,
    mailbox: str,
    folder: str | None,
    pipeline: str | None,
    limit: int,
    why: bool,
    as_json: bool,
) -> None:
    """Which mails of a folder would be taken, and what decides. Changes nothing there.

    Example: veridox mail peek ap-inbox --why
    """
    answer = session.client.peek(mailbox, folder=folder, pipeline=pipeline, limit=limit)
    if as_json:
        print_json(answer)
        return
    click.echo(f"{answer['mailbox']}, {answer['folder']}, for {answer['pipeline']}\n")
    if not answer["mails"]:
        click.echo("The folder is empty.")
        return
    print_table(
        ("uid", "received", "sender", "subject", "files", "stands", "decides"),
        (
            (
                row["uid"],
                moment(row["received_at"]),
                row["sender"],
                row["subject"],
                len(row["files"]),
                row["stands"],
                _said(row, why),
            )
            for row in answer["mails"]
        ),
        right=("uid", "files"),
    )


def _said(row: dict[str, Any], why: bool) -> str:
    if why and row["conditions"]:
        return "; ".join(
            f"{'yes' if each['met'] else 'NO'} {each['name']}: {each['said']}"
            for each in row["conditions"]
        )
    return ": ".join(filter(None, (row["decides"], row["said"])))


@mail.command("again")
@click.argument("message", type=int)
@click.option("--reason", required=True, help="Why, for the trail.")
@pass_session
def mail_again(session: Session, message: int, reason: str) -> None:
    """Process what was set aside or failed in a mail; nothing is read twice.

    Example: veridox mail again 7 --reason "it is an invoice after all"
    """
    row = session.client.messages.call("POST", f"{message}/again", {"reason": reason})
    click.echo(f"mail {message} is {row['outcome']}")


@mail.command("aside")
@click.argument("message", type=int)
@click.option("--reason", required=True, help="Why, for the trail.")
@pass_session
def mail_aside(session: Session, message: int, reason: str) -> None:
    """Set a mail aside: nothing in it is to be processed.

    Example: veridox mail aside 9 --reason "a newsletter"
    """
    row = session.client.messages.call("POST", f"{message}/aside", {"reason": reason})
    click.echo(f"mail {message} is {row['outcome']}")


@mail.command("take")
@click.argument("file", type=int)
@pass_session
def mail_take(session: Session, file: int) -> None:
    """Read a file that was left out or set aside.

    Example: veridox mail take 12
    """
    row = session.client.files.take(file)
    click.echo(f"file {file} {row.name} is {row.state}")


@mail.command("leave")
@click.argument("file", type=int)
@click.option("--reason", required=True, help="Why, for the trail.")
@pass_session
def mail_leave(session: Session, file: int, reason: str) -> None:
    """Say that a file which could not be opened need not be looked at any more.

    Example: veridox mail leave 12 --reason "the vendor sent it again without a password"
    """
    row = session.client.files.leave(file, reason)
    click.echo(f"file {file} {row.name} is left out")


@mail.command("export")
@click.argument("file", type=click.Path(dir_okay=False, writable=True))
@click.option("--search", help="As in `mail list`.")
@click.option("--outcome", type=click.Choice(OUTCOMES))
@click.option("--received-from", metavar="DAY")
@click.option("--received-to", metavar="DAY")
@click.option("--columns", help="Names with commas; all without it.")
@pass_session
def mail_export(session: Session, /, file: str, **filters: str | None) -> None:
    """The message log as a table for spreadsheets; the ending .csv or .xlsx says which.

    Example: veridox mail export november.xlsx --received-from 2026-11-01
    """
    form = table_form(file)
    given = {name: value for name, value in filters.items() if value}
    content = session.client.messages.export(form, **given)
    Path(file).write_bytes(content)
    click.echo(f"{file}: {len(content):,} bytes")


def table_form(file: str) -> str:
    """The form that a file's ending asks for."""
    form = Path(file).suffix.lstrip(".").lower()
    if form not in ("csv", "xlsx"):
        raise click.UsageError(f"{file}: the name ends in .csv or .xlsx")
    return form
