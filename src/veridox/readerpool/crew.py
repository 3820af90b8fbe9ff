"""Reader processes of one kind: kept warm, handed tasks, replaced when they fall."""

import os
import queue
import subprocess
import sys
import threading
from collections.abc import Mapping
from concurrent.futures import Future
from dataclasses import dataclass, field
from typing import Any

from veridox.readerpool.frames import FrameError, read_frame, write_frame

Answer = tuple[dict[str, Any], list[bytes]]


class ReaderStoppedError(Exception):
    """A reader was stopped by a limit or crashed on one file.

    Attributes:
        reason: `time`, `memory` or `crash`.
    """

    def __init__(self, reason: str) -> None:
        super().__init__(
            {
                "time": "Reading took longer than allowed.",
                "memory": "Reading needed more memory than allowed.",
            }.get(reason, "The reader crashed on this file.")
        )
        self.reason = reason


@dataclass(frozen=True, kw_only=True, slots=True)
class PoolLimits:
    """Limits of each reader.

    Attributes:
        data_bytes: memory (RLIMIT_DATA).
        cpu_seconds: processor time of one task.
        wall_seconds: time of one task by the clock.
        tasks: a reader is replaced after so many tasks, which bounds leaks.
        ocr: whether it loads what reading pictures needs.
        child: module of the child process.
        given: more that each child is told when it begins.
    """

    data_bytes: int = 400 * 2**20
    cpu_seconds: int = 20
    wall_seconds: float = 40.0
    tasks: int = 200
    ocr: bool = False
    child: str = "veridox.readerpool.child"
    given: Mapping[str, Any] = field(default_factory=dict)


OCR_LIMITS = PoolLimits(
    # Some three seconds a page, for as many pages as a file may have.
    data_bytes=1_400 * 2**20, cpu_seconds=700, wall_seconds=1_500.0, tasks=100, ocr=True
)  # fmt: skip
"""Limits of readers that read pictures."""

TABLE_LIMITS = PoolLimits(data_bytes=900 * 2**20, cpu_seconds=120, wall_seconds=240.0, tasks=20)
"""Limits of readers of tables: a million rows are no document."""


class Reader:
    """One child process."""

    def __init__(self, limits: PoolLimits) -> None:
        self.limits = limits
        self.done = 0
        self.process = subprocess.Popen(
            [sys.executable, "-I", "-m", limits.child],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            # Nothing of our environment: it holds the database's address and keys.
            env={"PATH": os.defpath, "LANG": "C.UTF-8", "OMP_NUM_THREADS": "1"},
            cwd="/",
            start_new_session=True,
        )
        begin = {"data_bytes": limits.data_bytes, "ocr": limits.ocr, **limits.given}
        self._exchange(begin, [])

    def run(self, header: dict[str, Any], blobs: list[bytes]) -> Answer:
        """Have it do a task. Raises ReaderStoppedError."""
        self.done += 1
        answer, parts = self._exchange({**header, "cpu_seconds": self.limits.cpu_seconds}, blobs)
        if answer.get("stopped"):
            raise ReaderStoppedError(str(answer["stopped"]))
        return answer, parts

    def _exchange(self, header: dict[str, Any], blobs: list[bytes]) -> Answer:
        late = threading.Event()

        def stop() -> None:
            late.set()
            self.process.kill()

        watchdog = threading.Timer(self.limits.wall_seconds, stop)
        watchdog.daemon = True
        watchdog.start()
        try:
            assert self.process.stdin is not None  # noqa: S101 - opened as a pipe
            assert self.process.stdout is not None  # noqa: S101
            write_frame(self.process.stdin, header, blobs)
            return read_frame(self.process.stdout)
        except (FrameError, OSError) as error:
            self.process.kill()
            code = self.process.wait()
            by_cpu = code == -24  # SIGXCPU
            raise ReaderStoppedError("time" if late.is_set() or by_cpu else "crash") from error
        finally:
            watchdog.cancel()

    def close(self) -> None:
        """End it."""
        self.process.kill()
        self.process.wait()
        for stream in (self.process.stdin, self.process.stdout):
            if stream is not None:
                # What was not flushed when the reader fell cannot be delivered.
                try:
                    stream.close()
                except OSError:
                    continue


class Crew:
    """Readers with the same limits; thread-safe.

    Attributes:
        limits: of each.
        size: most readers at once; they are started when first needed.
        idle: those that wait for a task; None for one that is to be started.
    """

    def __init__(self, size: int, limits: PoolLimits) -> None:
        self.size, self.limits = size, limits
        self.idle: queue.LifoQueue[Reader | None] = queue.LifoQueue()
        for _ in range(size):
            self.idle.put(None)
        self._orders: queue.SimpleQueue[Future[Reader] | None] = queue.SimpleQueue()
        # Linux kills a child with the *thread* that started it: start them all
        # from one thread that lives as long as the crew.
        self._spawner = threading.Thread(target=self._spawn, name="reader-spawner", daemon=True)
        self._spawner.start()

    def _spawn(self) -> None:
        while (order := self._orders.get()) is not None:
            try:
                order.set_result(Reader(self.limits))
            except (OSError, ReaderStoppedError) as error:
                order.set_exception(error)

    def _reader(self) -> Reader:
        order: Future[Reader] = Future()
        self._orders.put(order)
        return order.result()

    def run(self, header: dict[str, Any], blobs: list[bytes]) -> Answer:
        """Have a task done by the next free reader. Raises ReaderStoppedError."""
        reader = self.idle.get()
        keep: Reader | None = None
        try:
            if reader is None or reader.process.poll() is not None:
                reader = self._reader()
            answer = reader.run(header, blobs)
            keep = reader if reader.done < self.limits.tasks else None
            return answer
        finally:
            if keep is not None:
                self.idle.put(keep)
            else:
                if reader is not None:
                    reader.close()
                self._renew()

    def _renew(self) -> None:
        """Start a reader where one is missing, before anybody has to wait for it."""
        order: Future[Reader] = Future()
        order.add_done_callback(
            lambda done: self.idle.put(None if done.exception() else done.result())
        )
        self._orders.put(order)

    def warm_up(self) -> None:
        """Start all readers now, so that whoever comes first need not wait for one."""
        for reader in [self.idle.get() for _ in range(self.size)]:
            if reader is None:
                self._renew()
            else:
                self.idle.put(reader)

    def close(self) -> None:
        """End all idle readers."""
        self._orders.put(None)
        self._spawner.join()
        while True:
            try:
                reader = self.idle.get_nowait()
            except queue.Empty:
                return
            if reader is not None:
                reader.close()
