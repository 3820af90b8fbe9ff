"""Jobs of the mail app: thin."""

from procrastinate.contrib.django import app

from veridox.service.errors import AdapterError, NoRoomError
from veridox.service.intake import collecting, counting, dropping, moving
from veridox.service.pipelines.actions.runs import looked_through
from veridox.service.work import patiently


# Collecting is never tried again by the queue: a job that waits for its next try would keep the
# one out that the watch defers. The watch looks again within a minute.
@app.task(queue="collect", name="collect", priority=1)
def collect(pipeline: str, mailbox: str, folder: str) -> None:
    """Take in new mails of a watched folder."""
    problem = ""
    try:
        collecting.collect(pipeline, mailbox, folder)
    except (AdapterError, NoRoomError) as error:  # told as the connection's health
        problem = str(error)
    looked_through(pipeline, ["mailbox", mailbox, folder], problem)


@app.task(queue="collect", name="gather")
def gather(pipeline: str, watch: str) -> None:
    """Take in what lies still in a watched directory."""
    dropping.gather(pipeline, watch)
    looked_through(pipeline, ["watch", watch, ""])


@app.task(queue="tell", name="move", retry=patiently(attempts=200))
def move(message_id: int) -> None:
    """Move a mail to where it should lie."""
    moving.move(message_id)


@app.periodic(cron="17 * * * *")
@app.task(queue="house", name="count_mail", queueing_lock="count mail")
def count_mail(timestamp: int) -> None:
    """Compare what mailboxes list with what is stored, every hour."""
    del timestamp
    counting.count_all()
