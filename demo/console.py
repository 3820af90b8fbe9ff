"""Build the console when its sources changed."""

import fcntl
import gzip
import hashlib
import subprocess
from collections.abc import Callable

from demo.stack import ROOT

CONSOLE = ROOT / "console"
BUILD = ROOT / "src/veridox/service/console_build"


def build_console(say: Callable[[str], None]) -> None:
    """`npm run build` into the service's package, unless nothing changed since."""
    if not (CONSOLE / "package.json").exists():
        return
    BUILD.parent.mkdir(parents=True, exist_ok=True)
    with (BUILD.parent / ".building").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)  # several test runs may want it at once
        _build(say)


def _build(say: Callable[[str], None]) -> None:
    digest = hashlib.sha256()
    for path in sorted(CONSOLE.rglob("*")):
        if path.is_file() and "node_modules" not in path.parts and "dist" not in path.parts:
            digest.update(str(path.relative_to(CONSOLE)).encode() + path.read_bytes())
    stamp = BUILD / ".source"
    if stamp.exists() and stamp.read_text() == digest.hexdigest():
        return
    say("building the console")
    done = subprocess.run(
        ["npm", "run", "--silent", "build"], cwd=CONSOLE, capture_output=True, text=True
    )
    if done.returncode:
        raise SystemExit(f"the console cannot be built:\n{done.stdout}{done.stderr}")
    # The service sends these instead to browsers that take them, which all do.
    for path in BUILD.rglob("*"):
        if path.suffix in (".js", ".css", ".svg"):
            path.with_name(path.name + ".gz").write_bytes(gzip.compress(path.read_bytes(), mtime=0))
    stamp.write_text(digest.hexdigest())
