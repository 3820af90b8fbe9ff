"""Ends the servers of a run of the tests that was killed: nobody else would, and they would stand
beside whatever is measured next."""

import os
import shutil
import signal
import sys
import time
from collections.abc import Iterator
from pathlib import Path

PATIENCE_S = 15.0
"""So long servers may take to end by themselves."""


def processes_of(folder: str) -> Iterator[int]:
    """Processes that were started with a folder in their command or their environment."""
    wanted = os.fsencode(folder)
    for process in Path("/proc").iterdir():
        if not process.name.isdigit() or int(process.name) == os.getpid():
            continue
        for name in ("cmdline", "environ"):
            try:
                found = wanted in (process / name).read_bytes()
            except OSError:
                continue  # it ended, or is none of ours
            if found:
                yield int(process.name)
                break


def end(folder: str) -> None:
    """Ask all that was started in a folder to end, make it end, and take the folder away."""
    began = time.monotonic()
    asked: set[int] = set()
    while left := list(processes_of(folder)):
        hard = time.monotonic() - began > PATIENCE_S
        for number in left:
            if hard or number not in asked:
                asked.add(number)
                try:
                    os.kill(number, signal.SIGKILL if hard else signal.SIGTERM)
                except OSError:
                    continue
        time.sleep(0.2)
    shutil.rmtree(folder, ignore_errors=True)


def main(folder: str, parent: int) -> None:
    """Wait until the run is gone, however it went; then end what it left."""
    while os.getppid() == parent:
        time.sleep(0.5)
    end(folder)


if __name__ == "__main__":
    main(sys.argv[1], int(sys.argv[2]))
