"""One supervisor for all processes: restarts on any exit, stops with one TERM."""

import os
import subprocess
import sys
import time
import xmlrpc.client
from pathlib import Path
from typing import Any

from supervisor.xmlrpc import SupervisorTransport

from demo.stack import Program, Stack

HEAD = """\
[unix_http_server]
file = {folder}/supervisor.sock
chmod = 0700

[supervisord]
logfile = {folder}/log/supervisor.log
pidfile = {folder}/supervisor.pid
childlogdir = {folder}/log
nodaemon = false
{user}

[rpcinterface:supervisor]
supervisor.rpcinterface_factory = supervisor.rpcinterface:make_main_rpcinterface
"""
PROGRAM = """
[program:{name}]
command = {command}
directory = {folder}
environment = {environment}
autostart = false
autorestart = true
startsecs = 1
startretries = 1000000
stopsignal = {signal}
stopwaitsecs = 45
stopasgroup = false
killasgroup = true
redirect_stderr = true
stdout_logfile = {log}
stdout_logfile_maxbytes = 20MB
stdout_logfile_backups = 2
"""


def _plain(text: str) -> str:
    """A value for the configuration, which expands % and has no escape for a quote."""
    if '"' in text or "\n" in text:
        raise ValueError("values with quotes or line ends cannot be passed on")
    return text.replace("%", "%%")


def _program(stack: Stack, name: str, program: Program) -> str:
    import shlex

    # The mark by which `stop` finds whatever a broken supervisor left behind.
    environment = {**program.environment, "VERIDOX_STACK": str(stack.folder)}
    return PROGRAM.format(
        name=name,
        command=_plain(shlex.join(program.command)),
        folder=program.folder,
        environment=",".join(f'{key}="{_plain(value)}"' for key, value in environment.items()),
        signal=program.stop_signal,
        log=stack.folder / "log" / f"{name}.log",
    )


class Supervisor:
    """The supervisor of one stack."""

    def __init__(self, stack: Stack) -> None:
        self.stack = stack
        self.socket = stack.folder / "supervisor.sock"
        self.configuration = stack.folder / "supervisor.conf"

    def write(self, programs: dict[str, Program]) -> None:
        """The configuration; it holds the database's password, so only we may read it."""
        user = "user = root" if os.getuid() == 0 else ""
        text = HEAD.format(folder=self.stack.folder, user=user)
        text += "".join(_program(self.stack, name, each) for name, each in programs.items())
        self.configuration.touch(0o600)
        self.configuration.chmod(0o600)
        self.configuration.write_text(text)

    def launch(self) -> None:
        """Start the supervisor itself."""
        command = [sys.executable, "-m", "supervisor.supervisord", "-c", str(self.configuration)]
        subprocess.run(command, check=True)
        limit = time.monotonic() + 10
        while not self.running():
            if time.monotonic() > limit:
                raise SystemExit("demo: the supervisor did not start; see its log")
            time.sleep(0.05)

    def _ask(self) -> Any:
        transport = SupervisorTransport(None, None, f"unix://{self.socket}")
        return xmlrpc.client.ServerProxy("http://127.0.0.1", transport=transport).supervisor

    def running(self) -> bool:
        """Whether it answers."""
        if not self.socket.exists():
            return False
        try:
            return bool(self._ask().getState()["statename"] == "RUNNING")
        except (OSError, xmlrpc.client.Error):
            return False

    def start(self, names: list[str]) -> None:
        """Start programs that are not running."""
        ask = self._ask()
        for name in names:
            if ask.getProcessInfo(name)["statename"] not in ("RUNNING", "STARTING"):
                ask.startProcess(name, False)

    def halt(self, name: str) -> None:
        """Stop one program."""
        ask = self._ask()
        if ask.getProcessInfo(name)["statename"] in ("RUNNING", "STARTING", "BACKOFF"):
            ask.stopProcess(name)

    def states(self) -> list[dict[str, Any]]:
        """What each program does."""
        return list(self._ask().getAllProcessInfo())

    def stop(self) -> None:
        """Stop everything, the service before the servers, and wait for the end."""
        for name in (
            "watch",
            "serve",
            "work",
            "house",
            "finance",
            "chat",
            "mailroom",
            "dovecot",
            "tokens",
        ):
            self.halt(name)
        ask = self._ask()
        pid = int(ask.getPID())
        ask.shutdown()
        limit = time.monotonic() + 60
        while Path(f"/proc/{pid}").exists() and time.monotonic() < limit:
            time.sleep(0.1)


def leftovers(stack: Stack) -> list[int]:
    """Processes that carry this stack's mark."""
    mark = f"VERIDOX_STACK={stack.folder}".encode()
    found = []
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                if mark in (entry / "environ").read_bytes().split(b"\0"):
                    found.append(int(entry.name))
            except OSError:
                continue  # gone meanwhile, or somebody else's
    return found
