"""Jobs on postings: thin."""

from procrastinate.contrib.django import app

from veridox.service.ledgers import posting
from veridox.service.work import patiently


@app.task(queue="post", name="post", retry=patiently(attempts=300))
def post(posting_id: str) -> None:
    """Carry a posting through."""
    posting.post(posting_id)
