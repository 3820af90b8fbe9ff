"""`veridox desk`: what waits for people."""

import itertools

import click

from veridox.cli.documents import show_documents, tell
from veridox.cli.output import json_option, limit_option
from veridox.cli.session import Session, pass_session


@click.group()
def desk() -> None:
    """Documents that could not go straight through."""


@desk.command("list")
@click.option("--queue", help="Only this queue.")
@limit_option
@json_option
@pass_session
def list_(session: Session, queue: str | None, limit: int, as_json: bool) -> None:
    """What waits, oldest first, with the first reason."""
    rows = list(itertools.islice(session.client.documents.desk(queue=queue), limit))
    show_documents(rows, as_json)


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
@click.option("--reason", required=True, help="Why, for the trail.")
@pass_session
def discard(session: Session, document: int, reason: str) -> None:
    """End a document without posting it.

    Example: veridox desk discard 12 --reason "sent twice"
    """
    seen = session.client.documents.get(document)
    tell(session.client.documents.discard(seen, reason))
