"""Jobs on postings: thin."""

from procrastinate.contrib.django import app

from veridox.service.work import patiently


@app.task(queue="post", name="post", retry=patiently(attempts=300))
def post(posting_id: str) -> None:
    """Carry a posting through."""
    from veridox.service.ledgers.posting import post as run

    run(posting_id)
