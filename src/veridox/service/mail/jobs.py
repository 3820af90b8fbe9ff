"""Jobs of the mail app: thin."""

from procrastinate.contrib.django import app

from veridox.service.work import patiently


@app.task(queue="collect", name="collect", retry=patiently(attempts=5), pass_context=False)
def collect(pipeline: str, mailbox: str, folder: str) -> None:
    """Take in new mails of a watched folder."""
    from veridox.service.mail.collecting import collect as run

    run(pipeline, mailbox, folder)


@app.task(queue="tell", name="move", retry=patiently(attempts=200))
def move(message_id: int) -> None:
    """Move a mail to where it should lie."""
    from veridox.service.mail.moving import move as run

    run(message_id)
