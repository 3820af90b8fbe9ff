"""Pages as they were read, kept beside the originals: reading again looks at no picture twice."""

from pathlib import Path

from django.conf import settings

from veridox.core.readers.codec import VERSION
from veridox.readerpool import ReadAnswer
from veridox.service import wiring
from veridox.service.storage import originals, write


def _folder(sha256: str) -> Path:
    # What an older version read lies beside it; nobody looks at it any more, it may be deleted.
    return Path(settings.CONFIGURATION.data) / "pages" / str(VERSION) / sha256[:2] / sha256


def kept(sha256: str) -> bytes:
    """The pages of a file as they were read; empty when they are not kept."""
    try:
        return (_folder(sha256) / "pages").read_bytes()
    except FileNotFoundError:
        return b""


def keep(sha256: str, answer: ReadAnswer) -> None:
    """Keep what reading a file gave; losing it costs only time."""
    if not answer.kept:
        return
    folder = _folder(sha256)
    folder.mkdir(parents=True, exist_ok=True)
    for number, picture in answer.pictures.items():
        write(folder / f"{number}.jpg", picture)
    # Last, since it says that all is there.
    write(folder / "pages", answer.kept)


def picture_of(sha256: str, page: int, dpi: int) -> bytes:
    """A page as PNG, upright as its words lie.

    Raises:
        LookupError: the file has no such page or cannot be opened.
        ReaderStoppedError: the page stops the reader.
        NotThereError: the store does not hold the file.
    """
    pool = wiring.reader_pool()
    upright = _folder(sha256) / f"{page}.jpg"
    if upright.is_file():
        return pool.shown(upright.read_bytes(), dpi)
    return pool.picture(originals().get(sha256), page, dpi)


def words_of(sha256: str, page: int) -> dict[str, object]:
    """A page's shape, plain text and words. Raises as `picture_of`."""
    pages = kept(sha256)
    return wiring.reader_pool().words(b"" if pages else originals().get(sha256), page, kept=pages)
