"""Jobs on files and documents: thin."""

from django.db import transaction
from procrastinate.contrib.django import app

from veridox.service.connections.actions.manage import note_trouble
from veridox.service.documents import reading
from veridox.service.documents.actions import settle as settling
from veridox.service.work import patiently


@app.task(queue="read", name="read", retry=patiently(attempts=3))
def read(file_id: int) -> None:
    """Read a file in a reader process and store its documents."""
    reading.read(file_id)


@app.task(queue="read", name="read_again", retry=patiently(attempts=3))
def read_again(document_id: int) -> None:
    """Read a document's file once more."""
    reading.read_again(document_id)


@app.task(queue="check", name="settle", retry=patiently(attempts=3))
def settle(message_id: int) -> None:
    """Have a mail moved where its files' states say."""
    with transaction.atomic():
        settling.settle(message_id)
    note_trouble(f"mail {message_id}", "")
