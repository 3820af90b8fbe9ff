import os
import signal
import time

import pytest

from demo import bills
from demo.drawing import LAYOUTS
from veridox.readerpool import PoolLimits, ReaderPool, ReaderStoppedError

PDF = LAYOUTS["letterhead"](bills.KRILL)


@pytest.fixture(scope="module")
def pool():
    with ReaderPool(size=1) as running:
        yield running


def child_of(pool):
    reader = pool.plain.idle.get()
    pool.plain.idle.put(reader)
    return reader.process


def test_a_file_is_read_in_another_process(pool):
    answer = pool.read(PDF, name="krill.pdf", words=True)
    assert answer.readings[0].text("number") == "BF-2026-0413"
    assert "Frozen krill" in answer.pages[0]["text"]
    assert child_of(pool).pid != os.getpid()


def test_readers_are_kept_warm_and_know_nothing_of_our_environment(pool, monkeypatch):
    pool.read(PDF)
    first = child_of(pool).pid
    pool.read(PDF)
    assert child_of(pool).pid == first
    with open(f"/proc/{first}/environ", "rb") as environment:
        assert b"VERIDOX" not in environment.read()


def test_a_dead_reader_is_replaced(pool):
    pool.read(PDF)
    child = child_of(pool)
    os.kill(child.pid, signal.SIGKILL)
    child.wait()
    assert pool.read(PDF).readings[0].text("number") == "BF-2026-0413"


def test_a_worn_reader_is_replaced_before_anybody_waits_for_it():
    with ReaderPool(size=1, limits=PoolLimits(tasks=1)) as pool:
        pool.warm_up()
        first = child_of(pool)
        pool.read(PDF)
        second = child_of(pool)
        assert first.poll() is not None
        assert second.pid != first.pid
        assert second.poll() is None
    assert second.poll() is not None


def test_a_file_that_takes_too_long_gives_a_finding_and_the_next_is_read():
    # No page of text can be read within no time at all.
    with ReaderPool(size=1, limits=PoolLimits(wall_seconds=2.0)) as pool:
        pool.read(PDF)
        child = child_of(pool)
        os.kill(child.pid, signal.SIGSTOP)
        began = time.monotonic()
        answer = pool.read(PDF)
        assert [finding.code for finding in answer.findings] == ["file.limit"]
        assert "longer than allowed" in answer.findings[0].message
        assert time.monotonic() - began < 10
        assert pool.read(PDF).readings


def test_memory_is_limited():
    # The picture of this page needs far more than is left after the imports.
    with ReaderPool(size=1, limits=PoolLimits(data_bytes=110 * 2**20)) as pool:
        with pytest.raises((ReaderStoppedError, LookupError)):
            pool.picture(PDF, 1, 500)
        assert pool.read(b"").findings[0].code == "file.empty"


@pytest.mark.parametrize("content", [b"", b"%PDF-1.4", b"\x00" * 1000, PDF[: len(PDF) // 2]])
def test_bad_files_never_raise(pool, content):
    assert pool.read(content).findings


def test_a_page_that_is_not_there_is_told(pool):
    with pytest.raises(LookupError, match="no page 9"):
        pool.picture(PDF, 9)


def test_a_mail_is_taken_apart_with_its_bytes(pool):
    raw = (
        b"From: a@b.example\r\nSubject: x\r\nContent-Type: application/pdf\r\n"
        b"Content-Disposition: attachment; filename=a.pdf\r\n\r\n%PDF-1.4"
    )
    (file,) = pool.mail(raw).files
    assert (file.name, file.content) == ("a.pdf", b"%PDF-1.4")
