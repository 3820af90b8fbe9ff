"""Jobs of reports: thin."""

from procrastinate.contrib.django import app

from veridox.service.reports import running
from veridox.service.work import patiently


@app.task(queue="report", name="report", retry=patiently(attempts=2))
def report(run_id: int) -> None:
    """Compute a report."""
    running.run(run_id)
