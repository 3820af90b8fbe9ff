"""`veridox document in-ledger`: what the ledger lists for a document."""

import click

from veridox.cli.documents import document
from veridox.cli.output import json_option, print_json
from veridox.cli.session import Session, pass_session


@document.command("in-ledger")
@click.argument("number", metavar="DOCUMENT", type=int)
@json_option
@pass_session
def document_in_ledger(session: Session, number: int, as_json: bool) -> None:
    """What the ledger lists for a document, with what is open beside what the bill asks for."""
    found = session.client.documents.in_ledger(number)
    if as_json:
        print_json(list(found))
        return
    for each in found:
        whose = "this document's own" if each["own"] else f"found by {each['how']}"
        click.echo(f"{each['said']} ({whose})")
    if not found:
        click.echo(
            "The ledger lists nothing of this vendor under its number or order; "
            "how fresh its listing is tells: veridox load list --what books"
        )


__all__ = ["document"]
