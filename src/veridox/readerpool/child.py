"""The reader process: takes one task after the other under hard limits.

Started by the pool as `python -I -m veridox.readerpool.child`; ends when its
input ends or its parent dies.
"""

import ctypes
import os
import resource
import signal
import sys
from collections.abc import Callable
from typing import IO, Any

from veridox.readerpool.frames import FrameError, read_frame, write_frame

PR_SET_PDEATHSIG = 1


def limit(limits: dict[str, Any]) -> None:
    """Memory, files, processes: what a child may use from now on."""
    # RLIMIT_DATA follows what is used; RLIMIT_AS would also count reservations.
    resource.setrlimit(resource.RLIMIT_DATA, (limits["data_bytes"], limits["data_bytes"]))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    resource.setrlimit(resource.RLIMIT_NOFILE, (64, 64))
    resource.setrlimit(resource.RLIMIT_NPROC, (0, 0))


def limit_cpu(seconds: int) -> None:
    """RLIMIT_CPU counts the whole life of a process: raise it by a task's share."""
    used = resource.getrusage(resource.RUSAGE_SELF)
    soft = int(used.ru_utime + used.ru_stime) + seconds + 1
    resource.setrlimit(resource.RLIMIT_CPU, (soft, resource.RLIM_INFINITY))


def die_with_parent() -> None:
    """End when whoever started it ends."""
    ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, signal.SIGKILL)
    if os.getppid() == 1:
        sys.exit(0)


def _answer(header: dict[str, Any], blobs: list[bytes]) -> tuple[dict[str, Any], list[bytes]]:
    from veridox.readerpool import tasks

    try:
        return tasks.run(header["task"], header, blobs)
    except MemoryError:
        # What is left of the heap is not to be trusted: say so and end.
        return {"stopped": "memory"}, []


Run = Callable[[dict[str, Any], list[bytes]], tuple[dict[str, Any], list[bytes]]]


def answer_tasks(source: IO[bytes], sink: IO[bytes], first: dict[str, Any], run: Run) -> None:
    """Under limits from now on, answer tasks until the input ends, or one says that it stopped."""
    limit(first)
    write_frame(sink, {"ready": True}, [])
    while True:
        try:
            header, blobs = read_frame(source)
        except FrameError:
            return
        limit_cpu(header["cpu_seconds"])
        answer, parts = run(header, blobs)
        write_frame(sink, answer, parts)
        if answer.get("stopped"):
            return


def serve(source: IO[bytes], sink: IO[bytes]) -> None:
    """Load what is slow to load, then answer tasks."""
    first, _ = read_frame(source)
    from veridox.readerpool import tasks

    tasks.warm_up(ocr=bool(first.get("ocr")))
    answer_tasks(source, sink, first, _answer)


def main() -> None:
    """Entry point. Standard output is the pipe, so nothing else may print to it."""
    die_with_parent()
    sink = os.fdopen(os.dup(1), "wb")
    os.dup2(2, 1)
    serve(sys.stdin.buffer, sink)


if __name__ == "__main__":
    main()
