"""Jobs on notices: thin."""

from procrastinate.contrib.django import app

from veridox.service.connections.actions.manage import note_trouble
from veridox.service.notices import telling
from veridox.service.notices.actions import queue
from veridox.service.work import patiently


@app.task(queue="tell", name="tell", retry=patiently(attempts=200))
def tell(notice_id: int) -> None:
    """Send a notice."""
    telling.tell(notice_id)


@app.task(queue="check", name="announce", retry=patiently(attempts=3))
def announce(message_id: int) -> None:
    """Prepare the notices that a pipeline sends of a new mail."""
    queue.announce(message_id)
    note_trouble(f"mail {message_id}", "")
