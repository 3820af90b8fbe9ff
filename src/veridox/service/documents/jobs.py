"""Jobs on files and documents: thin."""

from procrastinate.contrib.django import app

from veridox.service.work import patiently


@app.task(queue="read", name="read", retry=patiently(attempts=3))
def read(file_id: int) -> None:
    """Read a file in a reader process and store its documents."""
    from veridox.service.documents.reading import read as run

    run(file_id)


@app.task(queue="check", name="check", retry=patiently(attempts=3))
def check(document_id: int) -> None:
    """Check a document and decide at the desk's gate."""
    from veridox.service.accounts.actors import Actor
    from veridox.service.documents.actions.check import check as run

    run(Actor.system("check"), document_id)


@app.task(queue="check", name="check_again", retry=patiently(attempts=3))
def check_again(document_id: int) -> None:
    """Check a document that waits at the desk again."""
    from veridox.service.accounts.actors import Actor
    from veridox.service.documents.actions.check_again import check_again as run

    run(Actor.system("check"), document_id)
