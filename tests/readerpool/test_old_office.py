"""Old office files: by LibreOffice where it is, told clearly where it is not."""

import os
import stat
import time
from pathlib import Path

import pytest

from veridox.core.filetypes import Opened, file_type
from veridox.readerpool import ReaderPool, old_office

DATA = Path(__file__).parent.parent / "data"
installed = pytest.mark.skipif(not old_office.program(), reason="LibreOffice is not installed")


@pytest.fixture
def program(tmp_path, monkeypatch):
    """Puts a program in LibreOffice's place."""

    def put(text):
        path = tmp_path / "soffice"
        path.write_text(f"#!/bin/sh\n{text}\n")
        path.chmod(path.stat().st_mode | stat.S_IXUSR)
        monkeypatch.setenv("PATH", os.pathsep.join([str(tmp_path), os.environ["PATH"]]))

    return put


@installed
@pytest.mark.parametrize("name", ["order-list.doc", "order-list.xls"])
def test_an_old_office_file_is_read_by_libreoffice(name):
    content = (DATA / name).read_bytes()
    with ReaderPool(size=1) as pool:
        answer = pool.read(content, words=True)
        assert file_type(answer.media_type).opened is Opened.OLD_OFFICE
        assert "BF-2026-0413" in answer.pages[0]["text"]
        assert "3,148.40" in answer.pages[0]["text"]
        assert answer.findings == ()
        assert pool.picture(content, 1).startswith(b"\x89PNG")
        # Its pages are kept like those of other files.
        again = pool.read(content, kept=answer.kept, words=True)
    assert again.pages == answer.pages


def test_what_made_no_pdf_is_told(program):
    program("exit 0")
    with ReaderPool(size=1) as pool:
        answer = pool.read((DATA / "order-list.doc").read_bytes())
    (finding,) = answer.findings
    assert finding.code == "file.broken"
    assert finding.blocks
    assert "old office file (.doc)" in finding.message


def ended(process):
    """Whether a process is gone, or waits only for somebody to ask how it ended."""
    try:
        return " Z " in Path(f"/proc/{process}/stat").read_text()
    except (FileNotFoundError, ProcessLookupError):
        return True


def test_a_program_that_hangs_is_ended_with_all_that_it_started(program, tmp_path):
    program(f"sleep 600 & echo $! > {tmp_path}/child; wait")
    with pytest.raises(old_office.NotConvertedError, match="longer than 1 seconds"):
        old_office.as_pdf(b"", "application/msword", seconds=1.0)
    child = (tmp_path / "child").read_text().strip()
    until = time.monotonic() + 10  # it is told to end at once, and ends when its turn comes
    while not ended(child) and time.monotonic() < until:
        time.sleep(0.05)
    assert ended(child)


def test_it_gets_nothing_of_our_environment_and_leaves_nothing(program, tmp_path, monkeypatch):
    monkeypatch.setenv("VERIDOX_DATABASE", "postgresql://secret")
    program(f"env > {tmp_path}/env; pwd > {tmp_path}/pwd; ls -R $HOME > {tmp_path}/home")
    with pytest.raises(old_office.NotConvertedError, match="could not open"):
        old_office.as_pdf(b"", "application/msword")
    assert "secret" not in (tmp_path / "env").read_text()
    assert "registrymodifications.xcu" in (tmp_path / "home").read_text()
    assert not Path((tmp_path / "pwd").read_text().strip()).exists()
