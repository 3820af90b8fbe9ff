"""Jobs on notices: thin."""

from procrastinate.contrib.django import app

from veridox.service.notices import telling
from veridox.service.work import patiently


@app.task(queue="tell", name="tell", retry=patiently(attempts=200))
def tell(notice_id: int) -> None:
    """Send a notice."""
    telling.tell(notice_id)
