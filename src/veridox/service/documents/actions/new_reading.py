"""A new version of what was read; the earlier ones are kept."""

from veridox.core.reading import Reading, reading_to_json
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.say import newest_reading
from veridox.service.documents.columns import fill_columns
from veridox.service.documents.models import Document, ReadingVersion


def new_reading(actor: Actor, document: Document, reading: Reading, note: str) -> ReadingVersion:
    """Within the caller's transaction, the document locked; the caller saves its columns."""
    data = reading_to_json(reading)
    fill_columns(document, data)
    return ReadingVersion.objects.create(
        document=document,
        number=newest_reading(document) + 1,
        reading=data,
        made_by=actor.name,
        note=note,
    )
