"""Have a file read by the reader pool."""

from veridox.core.filetypes import XML
from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.documents import pages
from veridox.service.documents.actions.store_reading import store_reading
from veridox.service.documents.models import File, FileState
from veridox.service.masterdata.models import Entity
from veridox.service.pipelines.queries import definition_of
from veridox.service.storage import originals

READER = Actor.system("read")


def read(file_id: int) -> None:
    """Read and store; a file read already is left alone."""
    file = File.objects.get(pk=file_id)
    if file.state != FileState.RECEIVED:
        return
    buyers = tuple(Entity.objects.values_list("name", "tax_id"))
    known = pages.kept(file.sha256)
    answer = wiring.reader_pool().read(
        b"" if known else originals().get(file.sha256),
        sha256=file.sha256,
        name=file.name,
        buyers=buyers,
        words=True,
        kept=known,
        structured=_structured(file),
        extra=[each.field for each in definition_of(file.pipeline_version).declared],
    )
    if not known:
        pages.keep(file.sha256, answer)
    store_reading(READER, file_id, answer)


def _structured(file: File) -> bytes:
    """The XML that came beside it in the same mail, where there is exactly one."""
    beside = file.supporting.filter(media_type=XML).values_list("sha256", flat=True)[:2]
    return originals().get(beside[0]) if len(beside) == 1 else b""
