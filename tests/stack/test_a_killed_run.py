"""A run of the tests that is killed leaves nothing running."""

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

from tests.watcher import processes_of

ROOT = Path(__file__).parents[2]
RUN = "import tests.cluster as c; print(c.STACK.folder, flush=True); import time; time.sleep(120)"


def test_servers_of_a_killed_run_end_with_it():
    environment = {name: value for name, value in os.environ.items() if "VERIDOX" not in name}
    run = subprocess.Popen(
        [sys.executable, "-c", RUN], cwd=ROOT, env=environment, stdout=subprocess.PIPE, text=True
    )
    try:
        assert run.stdout is not None
        folder = run.stdout.readline().strip()
        assert Path(folder).is_dir()
        assert list(processes_of(folder))
    finally:
        run.send_signal(signal.SIGKILL)
        run.wait(10)
    until = time.monotonic() + 40
    while (Path(folder).exists() or list(processes_of(folder))) and time.monotonic() < until:
        time.sleep(0.3)
    assert not list(processes_of(folder))
    assert not Path(folder).exists()
