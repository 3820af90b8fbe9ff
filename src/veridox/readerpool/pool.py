"""The pool: keeps readers warm, hands them tasks, replaces those that fall."""

import os
import queue
import subprocess
import sys
import threading
from concurrent.futures import Future
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, Self

from veridox.core.findings import Finding, Weight
from veridox.core.readers import MailContent, MailFile
from veridox.core.reading import Reading, reading_from_json
from veridox.readerpool.frames import FrameError, read_frame, write_frame


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


def stopped_finding(error: ReaderStoppedError) -> Finding:
    """The finding on the file that stopped a reader."""
    return Finding(
        code="file.limit",
        weight=Weight.BLOCK,
        message=f"{error} The original is kept.",
        found=error.reason,
        hint="Look at the original; enter the values by hand if it is an invoice.",
    )


@dataclass(frozen=True, kw_only=True, slots=True)
class PoolLimits:
    """Limits of each reader.

    Attributes:
        data_bytes: memory (RLIMIT_DATA).
        cpu_seconds: processor time of one task.
        wall_seconds: time of one task by the clock.
        tasks: a reader is replaced after so many tasks, which bounds leaks.
    """

    data_bytes: int = 400 * 2**20
    cpu_seconds: int = 20
    wall_seconds: float = 40.0
    tasks: int = 200


@dataclass(frozen=True, kw_only=True, slots=True)
class ReadAnswer:
    """What reading a file gave.

    Attributes:
        media_type: as sniffed.
        pages: shape of each page (`number`, `width`, `height`; words when asked for).
        readings: one per document in the file.
        findings: on the file.
    """

    media_type: str = ""
    pages: tuple[dict[str, Any], ...] = ()
    readings: tuple[Reading, ...] = ()
    findings: tuple[Finding, ...] = ()


class _Reader:
    """One child process."""

    def __init__(self, limits: PoolLimits) -> None:
        self.limits = limits
        self.done = 0
        self.process = subprocess.Popen(
            [sys.executable, "-I", "-m", "veridox.readerpool.child"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            # Nothing of our environment: it holds the database's address and keys.
            env={"PATH": os.defpath, "LANG": "C.UTF-8", "OMP_NUM_THREADS": "1"},
            cwd="/",
            start_new_session=True,
        )
        self._exchange({"data_bytes": limits.data_bytes}, [])

    def run(self, header: dict[str, Any], blobs: list[bytes]) -> tuple[dict[str, Any], list[bytes]]:
        self.done += 1
        answer, parts = self._exchange({**header, "cpu_seconds": self.limits.cpu_seconds}, blobs)
        if answer.get("stopped"):
            raise ReaderStoppedError(str(answer["stopped"]))
        return answer, parts

    def _exchange(
        self, header: dict[str, Any], blobs: list[bytes]
    ) -> tuple[dict[str, Any], list[bytes]]:
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
        self.process.kill()
        self.process.wait()
        for stream in (self.process.stdin, self.process.stdout):
            if stream is not None:
                # What was not flushed when the reader fell cannot be delivered.
                try:
                    stream.close()
                except OSError:
                    continue


@dataclass
class ReaderPool:
    """Readers for this process. Thread-safe; use as a context manager or call `close`.

    Attributes:
        size: most readers at once; they are started when first needed.
    """

    size: int = 2
    limits: PoolLimits = field(default_factory=PoolLimits)

    def __post_init__(self) -> None:
        self._idle: queue.LifoQueue[_Reader | None] = queue.LifoQueue()
        for _ in range(self.size):
            self._idle.put(None)
        self._orders: queue.SimpleQueue[Future[_Reader] | None] = queue.SimpleQueue()
        # Linux kills a child with the *thread* that started it: start them all
        # from one thread that lives as long as the pool.
        self._spawner = threading.Thread(target=self._spawn, name="reader-spawner", daemon=True)
        self._spawner.start()

    def _spawn(self) -> None:
        while (order := self._orders.get()) is not None:
            try:
                order.set_result(_Reader(self.limits))
            except (OSError, ReaderStoppedError) as error:
                order.set_exception(error)

    def _reader(self) -> _Reader:
        order: Future[_Reader] = Future()
        self._orders.put(order)
        return order.result()

    def _run(
        self, header: dict[str, Any], blobs: list[bytes]
    ) -> tuple[dict[str, Any], list[bytes]]:
        reader = self._idle.get()
        keep: _Reader | None = None
        try:
            if reader is None or reader.process.poll() is not None:
                reader = self._reader()
            answer = reader.run(header, blobs)
            keep = reader if reader.done < self.limits.tasks else None
            return answer
        finally:
            if keep is None and reader is not None:
                reader.close()
            self._idle.put(keep)

    def read(
        self,
        content: bytes,
        *,
        sha256: str = "",
        name: str = "",
        path: str = "",
        buyers: tuple[tuple[str, str], ...] = (),
        words: bool = False,
    ) -> ReadAnswer:
        """Read a file. A file that stops a reader gives a finding, not an error.

        Args:
            content: the file.
            sha256, name, path: kept in the reading's source.
            buyers: name and tax id of our own entities.
            words: also return each page's text and words.
        """
        header = {
            "task": "read",
            "sha256": sha256,
            "name": name,
            "path": path,
            "buyers": [{"name": buyer, "tax_id": tax_id} for buyer, tax_id in buyers],
            "words": words,
        }
        try:
            answer, _ = self._run(header, [content])
            return ReadAnswer(
                media_type=answer["media_type"],
                pages=tuple(answer["pages"]),
                readings=tuple(reading_from_json(each) for each in answer["readings"]),
                findings=tuple(Finding.from_json(each) for each in answer["findings"]),
            )
        except ReaderStoppedError as error:
            return ReadAnswer(findings=(stopped_finding(error),))

    def mail(self, content: bytes) -> MailContent:
        """Take a mail apart. Raises ReaderStoppedError when the mail stops the reader."""
        answer, blobs = self._run({"task": "mail"}, [content])
        files = tuple(
            MailFile(content=blob, **shape)
            for shape, blob in zip(answer["files"], blobs, strict=True)
        )
        return MailContent(
            message_id=answer["message_id"],
            sender_name=answer["sender_name"],
            sender_address=answer["sender_address"],
            recipients=tuple(answer["recipients"]),
            subject=answer["subject"],
            sent=datetime.fromisoformat(answer["sent"]) if answer["sent"] else None,
            text=answer["text"],
            headers=answer["headers"],
            files=files,
            defects=tuple(answer["defects"]),
        )

    def picture(self, content: bytes, page: int, dpi: int = 110) -> bytes:
        """A page as PNG.

        Raises:
            ReaderStoppedError: the page stops the reader.
            LookupError: the file has no such page or cannot be opened.
        """
        answer, blobs = self._run({"task": "picture", "page": page, "dpi": dpi}, [content])
        if not blobs:
            raise LookupError(answer["problem"]["message"])
        return blobs[0]

    def close(self) -> None:
        """End all idle readers."""
        self._orders.put(None)
        while True:
            try:
                reader = self._idle.get_nowait()
            except queue.Empty:
                return
            if reader is not None:
                reader.close()

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()
