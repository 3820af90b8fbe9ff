"""Old office files (.doc, .xls, .rtf) as PDF, by LibreOffice where the machine has it.

Their forms are too much for a reader of our own. LibreOffice runs as a process of its own for
each file, with limits, a home folder of its own that is taken away afterwards, no macros, and
no way to the network.
"""

import contextlib
import os
import shutil
import signal
import subprocess
import tempfile
from pathlib import Path

from veridox.core.filetypes import file_type

SECONDS = 90.0
"""By the clock; a start on a cold disk takes ten."""
CPU_SECONDS = 60
DATA_BYTES = 1_500 * 2**20
WRITTEN_BYTES = 100 * 2**20
SETTINGS = """<?xml version="1.0" encoding="UTF-8"?>
<oor:items xmlns:oor="http://openoffice.org/2001/registry">
%s
</oor:items>
"""
_ITEM = (
    '<item oor:path="/org.openoffice.%s"><prop oor:name="%s" oor:op="fuse"><value>%s</value>'
    "</prop></item>"
)
_SAFE = (
    ("Office.Common/Security/Scripting", "MacroSecurityLevel", "3"),
    ("Office.Common/Security/Scripting", "DisableMacrosExecution", "true"),
    ("Office.Common/Security/Scripting", "BlockUntrustedRefererLinks", "true"),
    ("Office.Common/Security/Scripting", "DisableActiveContent", "true"),
    # Whatever would be fetched is asked of a proxy that is not there.
    ("Inet/Settings", "ooInetProxyType", "2"),
    ("Inet/Settings", "ooInetHTTPProxyName", "127.0.0.1"),
    ("Inet/Settings", "ooInetHTTPProxyPort", "9"),
    ("Inet/Settings", "ooInetHTTPSProxyName", "127.0.0.1"),
    ("Inet/Settings", "ooInetHTTPSProxyPort", "9"),
)


class NotConvertedError(Exception):
    """LibreOffice made no PDF of a file."""


def program() -> str:
    """Where LibreOffice is; empty where it is not installed."""
    return (shutil.which("soffice") or "") if shutil.which("prlimit") else ""


def as_pdf(content: bytes, media_type: str, *, seconds: float = SECONDS) -> bytes:
    """An old office file as PDF.

    Args:
        content: the file.
        media_type: of an old office file.
        seconds: allowed, by the clock.

    Raises:
        NotConvertedError: it could not, or took too long; or it is not installed.
    """
    soffice = program()
    if not soffice:
        raise NotConvertedError("LibreOffice, which opens such files, is not installed here")
    with tempfile.TemporaryDirectory(prefix="veridox-office-") as name:
        folder = Path(name)
        source = folder / f"file{file_type(media_type).ending}"
        source.write_bytes(content)
        profile = folder / "home" / "user"
        profile.mkdir(parents=True)
        items = "\n".join(_ITEM % each for each in _SAFE)
        (profile / "registrymodifications.xcu").write_text(SETTINGS % items)
        command = [
            "prlimit", f"--data={DATA_BYTES}", f"--cpu={CPU_SECONDS}", f"--fsize={WRITTEN_BYTES}",
            "--core=0", soffice, f"-env:UserInstallation=file://{profile.parent}", "--headless",
            "--norestore", "--nolockcheck", "--convert-to", "pdf", "--outdir", name, str(source),
        ]  # fmt: skip
        _run(command, folder, seconds)
        target = source.with_suffix(".pdf")
        if not target.is_file():
            raise NotConvertedError("LibreOffice could not open the file")
        return target.read_bytes()


def _run(command: list[str], folder: Path, seconds: float) -> None:
    process = subprocess.Popen(
        command,
        stdin=subprocess.DEVNULL,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
        # Nothing of our environment: it holds the database's address and keys.
        env={"PATH": os.defpath, "LANG": "C.UTF-8", "HOME": str(folder / "home")},
        cwd=folder,
        start_new_session=True,
    )
    try:
        process.wait(seconds)
    except subprocess.TimeoutExpired as error:
        raise NotConvertedError(f"LibreOffice took longer than {seconds:.0f} seconds") from error
    finally:
        with contextlib.suppress(ProcessLookupError):
            os.killpg(process.pid, signal.SIGKILL)  # all that it started, too
        process.wait()
