"""Jobs on files and documents: thin."""

from procrastinate.contrib.django import app

from veridox.service.documents import reading
from veridox.service.work import patiently


@app.task(queue="read", name="read", retry=patiently(attempts=3))
def read(file_id: int) -> None:
    """Read a file in a reader process and store its documents."""
    reading.read(file_id)
