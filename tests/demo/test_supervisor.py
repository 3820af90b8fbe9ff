"""The demo's supervisor with programs of a second: restarts on any exit, leaves nothing."""

import os
import signal
import socket
from pathlib import Path

import pytest

from demo.servers import can_enter, free_port, port_is_taken
from demo.stack import Ports, Program, Stack
from demo.supervisor import Supervisor, leftovers
from tests.stack.running import until


@pytest.fixture
def supervisor(tmp_path):
    stack = Stack(folder=tmp_path, ports=Ports.free())
    (tmp_path / "log").mkdir()
    there = Supervisor(stack)
    sleeper = ["sleep", "600"]
    names = ("watch", "serve", "work", "house", "finance", "chat", "mailroom", "dovecot", "tokens")
    there.write({
        name: Program(command=sleeper, environment={"WORD": "with = signs, commas and 100 %"})
        for name in names
    })  # fmt: skip
    there.launch()
    yield there
    if there.running():
        there.stop()


def pid_of(supervisor, name):
    return next(each["pid"] for each in supervisor.states() if each["name"] == name)


def until_it_runs(pid):
    """Between fork and exec the process is still the supervisor's, with its environment."""
    comm = Path(f"/proc/{pid}/comm")
    until(lambda: comm.read_text().strip() == "sleep", "the program itself")


def test_a_program_that_ends_in_any_way_is_started_again(supervisor):
    supervisor.start(["serve"])
    first = until(lambda: pid_of(supervisor, "serve"), "a process")
    for number in (signal.SIGKILL, signal.SIGTERM):
        # Between fork and exec a signal would meet the supervisor's own handler.
        until_it_runs(first)
        os.kill(first, number)
        after = until(
            lambda seen=first: (pid := pid_of(supervisor, "serve")) not in (0, seen) and pid,
            f"another process after {number}",
        )
        first = after


def test_after_stopping_no_process_is_left(supervisor):
    supervisor.start(["serve", "work"])
    until(lambda: len(leftovers(supervisor.stack)) == 2, "both")
    supervisor.stop()
    assert leftovers(supervisor.stack) == []
    assert not supervisor.running()


def test_the_environment_reaches_the_program_as_written(supervisor):
    supervisor.start(["serve"])
    pid = until(lambda: pid_of(supervisor, "serve"), "a process")
    until_it_runs(pid)
    assert b"WORD=with = signs, commas and 100 %" in Path(
        f"/proc/{pid}/environ"
    ).read_bytes().split(b"\0")


def test_only_we_may_read_the_configuration(supervisor):
    assert supervisor.configuration.stat().st_mode & 0o077 == 0


def test_a_stopped_program_stays_stopped(supervisor):
    supervisor.start(["work"])
    until(lambda: pid_of(supervisor, "work"), "a process")
    supervisor.halt("work")
    assert pid_of(supervisor, "work") == 0


def test_free_ports_are_free_and_differ():
    ports = Ports.free()
    assert len({getattr(ports, name) for name in ports.__dataclass_fields__}) == len(
        ports.__dataclass_fields__
    )
    assert not port_is_taken(free_port())


def test_a_free_port_is_kept_for_a_server_of_ours():
    port = free_port()
    with socket.socket() as other, pytest.raises(OSError, match="in use"):
        other.bind(("127.0.0.1", port))
    with socket.create_server(("127.0.0.1", port)):
        assert port_is_taken(port)


def test_ports_are_set_by_the_environment(monkeypatch):
    monkeypatch.setenv("VERIDOX_DEMO_PORT_SERVICE", "9440")
    assert (Ports.from_environment().service, Ports.from_environment().finance) == (9440, 8441)


def test_a_folder_below_a_closed_one_cannot_be_entered_by_others(tmp_path):
    closed = tmp_path / "closed"
    (closed / "inner").mkdir(parents=True)
    closed.chmod(0o700)
    if os.getuid() == 0:
        assert not can_enter("postgres", closed / "inner")
    assert can_enter("root" if os.getuid() == 0 else Path.home().owner(), closed / "inner")


def test_secrets_of_a_stack_are_made_once(tmp_path):
    stack = Stack(folder=tmp_path, ports=Ports())
    assert stack.secret("admin") == stack.secret("admin") != stack.secret("other")
    assert (tmp_path / "secrets" / "admin").stat().st_mode & 0o077 == 0
