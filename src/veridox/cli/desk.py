"""`veridox desk`: what waits for people."""

import itertools
from datetime import date, datetime
from typing import Any, TextIO

import click

from veridox.cli.documents import show_documents, tell
from veridox.cli.output import json_option, limit_option, moment, print_json, print_table
from veridox.cli.session import Session, pass_session
from veridox.cli.shown import show_coding


@click.group()
def desk() -> None:
    """Documents that could not go straight through."""


@desk.command("list")
@click.option("--queue", help="Only this queue.")
@click.option("--taken-by", help="Only what this person has; `nobody` for what is free.")
@click.option("--held", is_flag=True, help="What is on hold instead of what waits.")
@limit_option
@json_option
@pass_session
def list_(
    session: Session,
    queue: str | None,
    taken_by: str | None,
    held: bool,
    limit: int,
    as_json: bool,
) -> None:
    """What waits, oldest first, with the first reason.

    Example: veridox desk list --taken-by nobody
    """
    found = session.client.documents.desk(
        queue=queue, taken_by=taken_by, held="yes" if held else "no"
    )
    show_documents(list(itertools.islice(found, limit)), as_json)


@desk.command()
@json_option
@pass_session
def waiting(session: Session, as_json: bool) -> None:
    """How much waits: by queue, by reason and by person."""
    answer = session.client.documents.waiting()
    if as_json:
        print_json(answer)
        return
    print_table(
        ("queue", "waiting", "taken", "oldest"),
        ((q["queue"], q["count"], q["taken"], moment(q["oldest_at"])) for q in answer["queues"]),
        right=("waiting", "taken"),
    )
    click.echo()
    print_table(
        ("waiting", "because", "code"),
        ((r["count"], r["title"], r["code"]) for r in answer["reasons"]),
        right=("waiting",),
    )
    for holder in answer["holders"]:
        click.echo(f"{holder['person']} works on {holder['count']}")
    waits = answer["by_itself"]
    if waits["count"]:
        because = ", ".join(f"{r['title'].lower()} {r['count']}" for r in waits["reasons"])
        click.echo(
            f"{waits['count']} wait for what comes by itself ({because}), the oldest since "
            f"{moment(waits['oldest_at'])}: veridox document list --state waiting"
        )
    if answer["held"]["count"]:
        click.echo(f"{answer['held']['count']} on hold, next back {answer['held']['next_on']}")


@desk.command()
@click.argument("document", type=int)
@click.option("--for", "person", default="", help="Give it to this colleague.")
@click.option("--over", is_flag=True, help="Also from somebody who has it.")
@pass_session
def take(session: Session, document: int, person: str, over: bool) -> None:
    """Work on a document alone.

    Example: veridox desk take 12 --for bo
    """
    taken = session.client.documents.take(document, person=person, over=over)
    click.echo(f"document {taken.id} is with {taken.raw['taken_by']}")


@desk.command()
@click.argument("document", type=int)
@pass_session
def release(session: Session, document: int) -> None:
    """Give a document free."""
    session.client.documents.release(document)
    click.echo(f"document {document} is free")


@desk.command()
@click.argument("document", type=int)
@click.argument("text")
@pass_session
def comment(session: Session, document: int, text: str) -> None:
    """Say something about a document, for colleagues.

    Example: veridox desk comment 12 "asked the vendor by phone"
    """
    session.client.documents.comment(document, text)
    click.echo(f"the comment stands in the story of document {document}")


@desk.command()
@click.argument("document", type=int)
@click.option("--until", type=click.DateTime(["%Y-%m-%d"]), help="Day it comes back.")
@click.option("--reason", default="", help="What is waited for.")
@click.option("--end", is_flag=True, help="End a hold now.")
@pass_session
def hold(session: Session, document: int, until: datetime | None, reason: str, end: bool) -> None:
    """Keep a document out of the list until a day.

    Example: veridox desk hold 12 --until 2026-12-01 --reason "credit note announced"
    """
    if end == (until is not None):
        raise click.UsageError("give either --until with --reason, or --end")
    day: date | None = until.date() if until else None
    seen = session.client.documents.get(document)
    held = session.client.documents.hold(seen, day, reason)
    where = f"on hold until {held.raw['held_until']}" if day else "back in the list"
    click.echo(f"document {document} is {where}")


@desk.command()
@click.argument("document", type=int)
@click.argument("line")
@click.option("--gl-account", help="GL account.")
@click.option("--cost-centre", help="Cost centre.")
@click.option("--tax-code", help="Tax code.")
@click.option("--project", help="Project.")
@click.option(
    "--share", "shares", multiple=True,
    help="A part of the line: '60 % cost_centre=CC-10', '120.00 gl_account=5010', or 'rest ...'.",
)  # fmt: skip
@click.option("--undo", is_flag=True, help="Take back what was said of the line.")
@pass_session
def code(
    session: Session, /, document: int, line: str, shares: tuple[str, ...], undo: bool,
    **codes: str | None,
) -> None:  # fmt: skip
    """Say under what a line is booked; what is not said is left to rules and history.

    LINE is its number, 0 for a bill without lines; `charges` and `allowances` are what stands at
    the foot of a bill.

    Example: veridox desk code 12 1 --gl-account 5010 --cost-centre CC-20
    """
    said: dict[str, Any] = {name: value for name, value in codes.items() if value}
    if shares:
        said["shares"] = [_share(each) for each in shares]
    if undo == bool(said):
        raise click.UsageError("give codes or shares, or --undo")
    client = session.client
    done = client.documents.code(client.documents.get(document), {line: None if undo else said})
    show_coding([each for each in done.raw["coding"] if each["key"] == line])
    click.echo(f"document {document} is {done.state.replace('_', ' ')}")


def _share(text: str) -> dict[str, str]:
    """A share as it is written: how much, then codes."""
    how, *rest = text.replace("%", " % ").split()
    if rest[:1] == ["%"]:
        found, rest = {"percent": how}, rest[1:]
    else:
        found = {} if how == "rest" else {"amount": how}
    for each in rest:
        name, equals, value = each.partition("=")
        if not equals or name not in ("gl_account", "cost_centre", "tax_code", "project"):
            raise click.UsageError(f"{each!r} is no code such as cost_centre=CC-10")
        found[name] = value
    return found


@desk.command()
@click.argument("document", type=int)
@click.option("--reason", required=True, help="Why it is not waited for any more.")
@pass_session
def call(session: Session, document: int, reason: str) -> None:
    """Call a document to the desk that waits for goods or an order's approval.

    Example: veridox desk call 12 --reason "the goods will not come any more"
    """
    client = session.client
    called = client.documents.call(client.documents.get(document), reason)
    click.echo(f"document {document} is at the desk, queue {called.raw['queue']}")


@desk.command()
@click.argument("document", type=int)
@pass_session
def wait(session: Session, document: int) -> None:
    """Let a document that was called to the desk wait again; it goes on by itself.

    Example: veridox desk wait 12
    """
    client = session.client
    client.documents.let_wait(client.documents.get(document))
    click.echo(f"document {document} waits")


@desk.command("return")
@click.argument("document", type=int)
@click.option("--to", help="Address; usually the vendor's.")
@click.option("--text-file", type=click.File(), help="The letter's text; `-` for standard input.")
@click.option("--show", is_flag=True, help="Print the letter and send nothing.")
@pass_session
def return_(
    session: Session, document: int, to: str | None, text_file: TextIO | None, show: bool
) -> None:
    """Send a document back to its vendor with a letter.

    It goes to the vendor's contact in the master data; without one, --to names somebody.
    The document is returned once the mail server has taken the letter.

    Example: veridox desk return 12 --show
    """
    seen = session.client.documents.get(document)
    letter = session.client.documents.letter(document)
    letter["to"] = to or letter["to"]
    if text_file:
        letter["text"] = text_file.read()
    if show:
        click.echo(f"To: {letter['to']}\nSubject: {letter['subject']}\n\n{letter['text']}")
        return
    after = session.client.documents.send_back(seen, letter)
    click.echo(
        f"the letter is on its way to {letter['to']}; document {after.id} is returned once the "
        "mail server has taken it"
    )


@desk.command()
@click.argument("document", type=int)
@pass_session
def reopen(session: Session, document: int) -> None:
    """Bring a discarded document back; it is checked anew."""
    tell(session.client.documents.reopen(session.client.documents.get(document)))


@desk.command()
@click.argument("document", type=int)
@click.option("--reason", default="", help="Needed when something blocks.")
@pass_session
def post(session: Session, document: int, reason: str) -> None:
    """Post a document although something was found.

    Example: veridox desk post 12 --reason "carriage agreed by phone"
    """
    seen = session.client.documents.get(document)
    tell(session.client.documents.post(seen, reason))


@desk.command()
@click.argument("document", type=int)
@click.argument("code")
@click.option("--how", required=True, help="Whom you called, and where you had the number from.")
@pass_session
def prove(session: Session, document: int, code: str, how: str) -> None:
    """Say how a finding was proven that takes two people; another person then posts it.

    Example: veridox desk prove 12 bank.changed --how "called the number in the contract of 2024"
    """
    seen = session.client.documents.get(document)
    tell(session.client.documents.prove(seen, code, how))


@desk.command()
@click.argument("document", type=int)
@click.option("--reason", required=True, help="Why, for the trail.")
@pass_session
def discard(session: Session, document: int, reason: str) -> None:
    """End a document without posting it.

    Example: veridox desk discard 12 --reason "sent twice"
    """
    seen = session.client.documents.get(document)
    tell(session.client.documents.discard(seen, reason))
