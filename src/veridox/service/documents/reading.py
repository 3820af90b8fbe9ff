"""Have a file read by the reader pool."""

from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.store_reading import store_reading
from veridox.service.documents.models import File, FileState
from veridox.service.masterdata.models import Entity
from veridox.service.storage import originals

READER = Actor.system("read")


def read(file_id: int) -> None:
    """Read and store; a file read already is left alone."""
    file = File.objects.get(pk=file_id)
    if file.state != FileState.RECEIVED:
        return
    buyers = tuple(Entity.objects.values_list("name", "tax_id"))
    answer = wiring.reader_pool().read(
        originals().get(file.sha256), sha256=file.sha256, name=file.name, buyers=buyers
    )
    store_reading(READER, file_id, answer)
