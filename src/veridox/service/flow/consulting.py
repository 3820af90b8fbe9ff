"""Ask plug-ins about a document, outside of any transaction."""

from veridox.core.pipeline import PipelineError, State
from veridox.pluginhost import asked
from veridox.service import wiring
from veridox.service.documents.models import ENDED, Document
from veridox.service.flow.actions.consult import store_answers
from veridox.service.flow.gathering import ground_of
from veridox.service.pipelines.queries import definition_of


def consult(document_id: int) -> None:
    """Ask what is not known yet of this version of its reading; nothing where none are listed."""
    host = wiring.plugin_host()
    if host is None:
        return
    document = Document.objects.filter(pk=document_id).first()
    if document is None or document.state in (*ENDED, State.FAILED, State.RECEIVED):
        return
    try:
        ground = ground_of(document, definition_of(document.pipeline_version), locking=False)
    except PipelineError:
        return  # a version that does not pass its check asks nobody
    if ground.case.plugins_missing:
        answers = asked(host, ground.definition, ground.case)
        store_answers(document, ground.case.reading, answers)
