"""A worker that kills itself, hard and once, at a chosen point.

`python -m tests.stack.crashing POINT MARK` runs `veridox work`; MARK is a file
that says it has happened, so that the next worker goes on.
"""

import functools
import importlib
import os
import signal
import sys
from pathlib import Path

FINANCE = "veridox.service.adapters.finance"
POINTS = {
    "after fetch": ("veridox.service.adapters.imap.mailbox", "ImapMailbox.fetch", "after"),
    "after store": ("veridox.service.intake.collecting", "store_messages", "after"),
    "before mark": ("veridox.service.adapters.imap.mailbox", "ImapMailbox.mark", "before"),
    "after read": ("veridox.readerpool.pool", "ReaderPool.read", "after"),
    "after reading is stored": ("veridox.service.documents.reading", "store_reading", "after"),
    "before the posting call": (FINANCE, "FinanceLedger.post", "before"),
    "after the ledger committed": (FINANCE, "FinanceLedger.post", "after"),
    "after the bill is attached": (FINANCE, "FinanceLedger.attach", "after"),
    "before tell": ("veridox.service.adapters.smtp", "SmtpOutbox.send", "before"),
    "before move": ("veridox.service.adapters.imap.mailbox", "ImapMailbox.move", "before"),
    "after move": ("veridox.service.adapters.imap.mailbox", "ImapMailbox.move", "after"),
}  # fmt: skip


def arm(point: str, mark: Path) -> None:
    module_name, path, when = POINTS[point]
    owner = importlib.import_module(module_name)
    *parents, name = path.split(".")
    for parent in parents:
        owner = getattr(owner, parent)
    original = getattr(owner, name)

    def die() -> None:
        if not mark.exists():
            mark.touch()
            os.kill(os.getpid(), signal.SIGKILL)

    @functools.wraps(original)
    def deadly(*args, **kwargs):
        if when == "before":
            die()
        result = original(*args, **kwargs)
        if when == "after":
            die()
        return result

    setattr(owner, name, deadly)


def main() -> None:
    point, mark = sys.argv[1], Path(sys.argv[2])
    import django

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "veridox.service.settings")
    django.setup()
    arm(point, mark)
    from veridox.service.commands import work

    work([], standalone_mode=False)


if __name__ == "__main__":
    main()
