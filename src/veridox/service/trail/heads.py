"""Heads of the trail, to be kept elsewhere: what shows that its end was cut off."""

import json
from dataclasses import asdict, dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from django.conf import settings
from django.utils import timezone

from veridox.service.errors import BadInputError
from veridox.service.storage import write
from veridox.service.trail.models import Head
from veridox.service.trail.record import head_mark

KEPT = 400
"""Head files that are kept in the data folder: a day each, a year and some more."""


@dataclass(frozen=True, kw_only=True, slots=True)
class KnownHead:
    """A head as it stood at some time.

    Attributes:
        number: of the newest entry then.
        seal: of that entry.
        mark: keyed digest over both, made by the installation whose trail it is.
        at: when it was exported (UTC, RFC 3339).
    """

    number: int
    seal: str
    mark: str
    at: str

    @property
    def genuine(self) -> bool:
        """Whether our key made it; a head of another installation or a made-up one is not."""
        return self.mark == head_mark(self.number, self.seal)


def current_head() -> KnownHead | None:
    """The head as it stands; None when its row is missing."""
    row = Head.objects.filter(pk=1).first()
    if row is None:
        return None
    # Heads of before the mark have none in their row.
    mark = row.mark or head_mark(row.number, row.seal)
    return KnownHead(
        number=row.number, seal=row.seal, mark=mark,
        at=timezone.now().isoformat(timespec="seconds"),
    )  # fmt: skip


def parse_head(data: Any) -> KnownHead:
    """A head from JSON. Raises BadInputError: it is none, or none of ours."""
    try:
        head = KnownHead(
            number=int(data["number"]), seal=str(data["seal"]), mark=str(data["mark"]),
            at=str(data.get("at", "")),
        )  # fmt: skip
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise BadInputError("a head is an object of number, seal, mark and at") from error
    if not head.genuine:
        raise BadInputError(
            f"the head of entry {head.number} was not made with this installation's key; "
            "it says nothing of this trail"
        )
    return head


def folder() -> Path:
    """Where exported heads lie, a file a day; copy them to another machine."""
    return Path(settings.CONFIGURATION.data) / "heads"


def keep_head(now: datetime) -> KnownHead | None:
    """Write the head of today into the data folder; the oldest files go. None without a head."""
    head = current_head()
    if head is None:
        return None
    there = folder()
    there.mkdir(parents=True, exist_ok=True)
    content = json.dumps(asdict(head), indent=1).encode() + b"\n"
    write(there / f"{now:%Y-%m-%d}.json", content)
    for old in sorted(there.glob("*.json"))[:-KEPT]:
        old.unlink(missing_ok=True)
    return head


def kept_heads() -> list[KnownHead]:
    """Heads in the data folder, oldest first; what is no head of ours is left out."""
    found = []
    for file in sorted(folder().glob("*.json")):
        try:
            found.append(parse_head(json.loads(file.read_bytes())))
        except (BadInputError, ValueError, OSError):
            continue
    return found
