"""Have a file read by the reader pool."""

from veridox.core.filetypes import XML
from veridox.pluginhost.reading import read_by_plugin, reader_of
from veridox.readerpool import ReadAnswer
from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.documents import pages
from veridox.service.documents.actions.store_again import store_again
from veridox.service.documents.actions.store_reading import store_reading
from veridox.service.documents.models import Document, State
from veridox.service.intake.models import File, FileState
from veridox.service.masterdata.models import Entity
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.pipelines.queries import definition_of
from veridox.service.storage import originals

READER = Actor.system("read")


def read(file_id: int) -> None:
    """Read and store; a file read already is left alone."""
    file = File.objects.get(pk=file_id)
    if file.state != FileState.RECEIVED:
        return
    store_reading(READER, file_id, _answer(file, file.pipeline_version))


def read_again(document_id: int) -> None:
    """Read a document's file once more, as its pipeline version wants it."""
    document = Document.objects.select_related("file", "pipeline_version").get(pk=document_id)
    if document.state != State.RECEIVED:
        return
    store_again(READER, document_id, _answer(document.file, document.pipeline_version))


def _answer(file: File, version: PipelineVersion) -> ReadAnswer:
    buyers = tuple(Entity.objects.values_list("name", "tax_id"))
    host = wiring.plugin_host()
    if host is not None and (reader := reader_of(host, file.name)):
        return read_by_plugin(
            host, reader, originals().get(file.sha256), name=file.name, sha256=file.sha256,
            media_type=file.media_type,
        )  # fmt: skip
    known = pages.kept(file.sha256)
    answer = wiring.reader_pool().read(
        b"" if known else originals().get(file.sha256),
        sha256=file.sha256,
        name=file.name,
        buyers=buyers,
        words=True,
        kept=known,
        structured=_structured(file),
        extra=[each.field for each in definition_of(version).declared],
    )
    if not known:
        pages.keep(file.sha256, answer)
    return answer


def _structured(file: File) -> bytes:
    """The XML that came beside it in the same mail, where there is exactly one."""
    beside = file.supporting.filter(media_type=XML).values_list("sha256", flat=True)[:2]
    return originals().get(beside[0]) if len(beside) == 1 else b""
