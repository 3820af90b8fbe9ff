"""Jobs on master data: thin."""

from procrastinate.contrib.django import app

from veridox.service.masterdata import syncing
from veridox.service.work import patiently


@app.task(queue="collect", name="sync", retry=patiently(attempts=20))
def sync(load_id: int) -> None:
    """Bring in a list of a ledger."""
    syncing.sync(load_id)
