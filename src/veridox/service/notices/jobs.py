"""Jobs on notices: thin."""

from procrastinate.contrib.django import app

from veridox.service.work import patiently


@app.task(queue="tell", name="tell", retry=patiently(attempts=200))
def tell(notice_id: int) -> None:
    """Send a notice."""
    from veridox.service.notices.telling import tell as run

    run(notice_id)
