"""A PostgreSQL cluster for this run of the tests, started before anything reads settings."""

import atexit
import os
import shutil
import signal
import subprocess
import sys
import tempfile
from pathlib import Path

from demo.stack import Ports, Stack


def _start() -> Stack:
    # In memory where there is room: every stored file is synced to its disk.
    memory = Path("/dev/shm")
    roomy = memory.is_dir() and shutil.disk_usage(memory).free > 2 * 2**30
    folder = Path(tempfile.mkdtemp(prefix="vdx-", dir=memory if roomy else None))
    folder.chmod(0o755)
    stack = Stack(folder=folder, ports=Ports.free(), fast=True, heartbeat=1.0, stalled=3.0)
    stack.postgres.create()
    log = (folder / "postgres.log").open("w")
    server = subprocess.Popen(stack.postgres.command(fast=True), stdout=log, stderr=log, cwd="/")

    watcher = subprocess.Popen(
        [sys.executable, "-m", "tests.watcher", str(folder), str(os.getpid())],
        cwd=Path(__file__).parents[1], start_new_session=True,
    )  # fmt: skip

    def stop() -> None:
        server.send_signal(2)
        server.wait(30)
        shutil.rmtree(folder, ignore_errors=True)
        watcher.kill()
        watcher.wait()

    atexit.register(stop)
    # Whoever is told to end stops its server, too.
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(128 + signal.SIGTERM))
    stack.postgres.wait()
    os.environ.update(
        {
            "VERIDOX_DATABASE": stack.postgres.url("veridox"),
            "VERIDOX_DATA": str(folder / "unit-data"),
            "VERIDOX_READERS": "2",
        }
    )
    # Imported only now: it reads the settings that were just made.
    from veridox.service.secrets import make_key_file

    (folder / "unit-data" / "static").mkdir(parents=True)
    make_key_file(folder / "unit-data" / "keys")
    return stack


STACK = _start()
