"""Keep what plug-ins said of a document."""

from django.db import transaction

from veridox.pluginhost.asking import Answers
from veridox.service.documents.models import Document
from veridox.service.flow.models import PluginAnswer


@transaction.atomic
def store_answers(document: Document, reading: int, answers: Answers) -> None:
    """In place of what they said before; no act of the trail: what follows from it is one."""
    PluginAnswer.objects.update_or_create(
        document=document,
        defaults={
            "reading": reading,
            "pipeline_version": document.pipeline_version,
            "asked": answers["asked"],
            "answers": answers,
        },
    )
