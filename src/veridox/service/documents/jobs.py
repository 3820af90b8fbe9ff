"""Jobs on files and documents: thin."""

from procrastinate.contrib.django import app

from veridox.service.accounts.actors import Actor
from veridox.service.documents import reading
from veridox.service.documents.actions import check as checking
from veridox.service.documents.actions import check_again as checking_again
from veridox.service.work import patiently


@app.task(queue="read", name="read", retry=patiently(attempts=3))
def read(file_id: int) -> None:
    """Read a file in a reader process and store its documents."""
    reading.read(file_id)


@app.task(queue="check", name="check", retry=patiently(attempts=3))
def check(document_id: int) -> None:
    """Check a document and decide at the desk's gate."""
    checking.check(Actor.system("check"), document_id)


@app.task(queue="check", name="check_again", retry=patiently(attempts=3))
def check_again(document_id: int) -> None:
    """Check a document that waits at the desk again."""
    checking_again.check_again(Actor.system("check"), document_id)
