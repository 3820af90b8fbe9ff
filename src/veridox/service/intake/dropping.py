"""Watched directories: files that lie still are stored, then moved aside. Names are not trusted."""

import logging
import os
import stat
import time
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings
from django.db import DatabaseError, IntegrityError, OperationalError
from django.utils import timezone

from veridox.core.filetypes import MAILS
from veridox.core.findings.wording import counted
from veridox.core.pipeline import Collect
from veridox.core.readers.mail.decoding import bare_name
from veridox.core.readers.sniff import sniff
from veridox.service.accounts.actors import Actor
from veridox.service.connections.actions.manage import note_trouble
from veridox.service.errors import STUMBLES, BadInputError, NoRoomError, VeridoxError
from veridox.service.intake.actions.receive import upload
from veridox.service.intake.handing_in import prepare_mail, store_handed_in
from veridox.service.intake.models import File
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.pipelines.queries import watched_directory
from veridox.service.storage import originals

log = logging.getLogger(__name__)
DROPPER = Actor.system("collect")
STILL = 2.0
"""Seconds for which a file must not change before it is taken."""
MAX_FILE = 80 * 2**20
LONGEST_NAME = 255
"""Bytes of a file's name that file systems take."""


@dataclass(frozen=True, slots=True)
class Seen:
    """A file as it lies there; the same one keeps its key until it is moved."""

    path: Path
    size: int
    changed: int
    inode: int

    def key(self, watch: str) -> str:
        """Which file it is: a crash between storing and moving must not take it twice."""
        return f"{watch}:{self.inode}:{self.changed}:{self.size}"


def root_for(watch: str) -> Path:
    """The directory on disk. Raises BadInputError when it leads out of the folder for drops."""
    root = settings.CONFIGURATION.drops.resolve()
    path = (root / watch).resolve()
    if path != root and root not in path.parents:
        raise BadInputError(f"{watch!r} leads out of {root}")
    return path


def lying_still(folder: Path) -> list[Seen]:
    """Plain files that nobody has written to lately, oldest first; links and pipes are none."""
    now, found = time.time(), []
    for entry in os.scandir(folder):
        if entry.name.startswith(".") or not entry.is_file(follow_symlinks=False):
            continue
        known = entry.stat(follow_symlinks=False)
        # A file that was moved here keeps its old time of writing: its arrival counts too.
        if now - max(known.st_mtime, known.st_ctime) >= STILL:
            path = Path(entry.path)
            found.append(Seen(path, known.st_size, known.st_mtime_ns, known.st_ino))
    return sorted(found, key=lambda each: (each.changed, each.path.name))


def gather(pipeline: str, watch: str) -> int:
    """Take in what lies still. Returns how many files were moved out of the directory."""
    found = watched_directory(pipeline, watch)
    if found is None:
        return 0
    version, collect = found
    folder = root_for(watch)
    folder.mkdir(parents=True, exist_ok=True)
    count, failures = 0, []
    for seen in lying_still(folder):
        try:
            good = _take(version, collect, watch, seen)
            if good is not None:
                names = collect.afterwards
                _move(seen.path, folder / (names.done if good else names.failed))
                count += 1
        except (NoRoomError, OperationalError) as error:
            # No other file would fare better.
            note_trouble(part_of(watch), f"nothing can be taken in: {error}")
            raise
        except (*STUMBLES, DatabaseError, VeridoxError) as error:
            log.exception("a dropped file cannot be taken in", extra={"file": shown(seen.path)})
            failures.append(f"{shown(seen.path)}: {error}")
    said = f"{counted(len(failures), 'file')} cannot be taken in; the first: " if failures else ""
    note_trouble(part_of(watch), said + failures[0] if failures else "")
    return count


def part_of(watch: str) -> str:
    """What troubles of a watched directory are told of."""
    return f"directory {watch}"


def shown(path: Path) -> str:
    """A file's name as text, whatever its bytes."""
    return os.fsencode(path.name).decode("utf-8", "replace")


def _take(version: PipelineVersion, collect: Collect, watch: str, seen: Seen) -> bool | None:
    """True when it is stored, False when it cannot be, None when it is to be left for now."""
    if seen.size > MAX_FILE:
        log.warning("%s: %s bytes, %s are taken at most", seen.path.name, seen.size, MAX_FILE)
        return False
    key = seen.key(watch)
    if File.objects.filter(dropped_as=key).exists():
        return True  # stored by a worker that ended before it moved the file
    content = _read(seen)
    if content is None:
        return None
    name = bare_name(shown(seen.path))
    kind = sniff(content)
    try:
        if kind in MAILS:
            mail = prepare_mail(content, name, collect)
            store_handed_in(DROPPER, version, collect, mail, dropped_as=key)
        else:
            sha256 = originals().put(content)
            upload(
                DROPPER, version, name=name, declared_type="", media_type=kind, sha256=sha256,
                size=len(content), types=collect.files, dropped_as=key,
            )  # fmt: skip
    except IntegrityError:
        return True  # another worker was faster
    log.info("file taken in", extra={"file": name, "at": timezone.now().isoformat()})
    return True


def _read(seen: Seen) -> bytes | None:
    """The bytes, unless the file changed since it was looked at or is no plain file any more."""
    try:
        handle = os.open(seen.path, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK)
    except OSError as error:
        log.warning("%s cannot be opened: %s", seen.path.name, error)
        return None
    with os.fdopen(handle, "rb") as file:
        known = os.fstat(file.fileno())
        same = (known.st_size, known.st_mtime_ns, known.st_ino) == (
            seen.size, seen.changed, seen.inode,
        )  # fmt: skip
        if not same or not stat.S_ISREG(known.st_mode):
            return None
        return file.read()


def _move(path: Path, folder: Path) -> None:
    """Into a folder beside it, without ever writing over what lies there."""
    folder.mkdir(parents=True, exist_ok=True)
    target, number = folder / path.name, 1
    while target.exists():
        number += 1
        target = folder / numbered(path.name, number)
    try:
        path.rename(target)
    except FileNotFoundError:
        log.info("%s was taken away before it was moved", path.name)


def numbered(name: str, number: int) -> str:
    """`bill.pdf` as `bill-2.pdf`, its stem shortened where the name would be too long."""
    stem, suffix = os.path.splitext(name)
    end = os.fsencode(f"-{number}{suffix}")
    room = LONGEST_NAME - len(end)
    if room < 1:  # an ending of 255 bytes is none
        stem, end, room = name, os.fsencode(f"-{number}"), LONGEST_NAME - len(f"-{number}")
    # Cut between letters, not within one.
    kept = os.fsencode(stem)[:room].decode("utf-8", "ignore")
    return os.fsdecode(os.fsencode(kept) + end)
