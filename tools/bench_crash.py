"""Kill and break everything while bills are on their way: `bin/bench crash`.

A trial is one document under one kill or fault. Each round sends a burst of bills by
mail and does something to the installation while all of them are in flight; then it waits
until every one is posted. The ledger books whatever comes, however often: a double would
stand in its books. The installation is one of its own, on free ports, with a durable
PostgreSQL; it is gone afterwards.
"""

import random
import shutil
import signal
import sqlite3
import statistics
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path

import psycopg

from demo import bills
from demo.console import build_console
from demo.stack import Ports, Stack
from tests.conftest import mail_with
from tests.stack.running import Running
from veridox.client import NotReachableError

FLIGHT = 25
"""Bills in flight at each kill."""
LIMIT = 240.0
"""Seconds after which a bill that is not posted counts as stuck."""
SEED = 20261128


@dataclass
class Outcome:
    """What came of all trials."""

    trials: int = 0
    lost: list[str] = field(default_factory=list)
    double: list[str] = field(default_factory=list)
    stuck: list[str] = field(default_factory=list)
    recovery: dict[str, list[float]] = field(default_factory=dict)
    kinds: Counter[str] = field(default_factory=Counter)


class Trials:
    """An installation that things are done to."""

    def __init__(self, running: Running, chance: random.Random) -> None:
        self.running, self.chance = running, chance
        running.programs["work2"] = running.programs["work"]
        running.start("work2")

    def kill(self, *names: str) -> None:
        """Kill hard; the supervisor of a real installation starts them again at once."""
        for name in names:
            self.running.processes[name].send_signal(signal.SIGKILL)
        for name in names:
            self.running.processes.pop(name).wait()
            self.running.start(name)

    def revive(self) -> None:
        """What ended by itself is started again, as a supervisor does it on any exit."""
        for name, process in list(self.running.processes.items()):
            if process.poll() is not None:
                self.running.processes.pop(name)
                self.running.start(name)

    def pause(self) -> None:
        """A moment at which anything may be going on."""
        time.sleep(self.chance.uniform(0.1, 6.0))

    # -- what may happen

    def one_worker(self) -> None:
        self.pause()
        self.kill(self.chance.choice(["work", "work2"]))

    def both_workers(self) -> None:
        self.pause()
        self.kill("work", "work2")

    def workers_again_and_again(self) -> None:
        for _ in range(4):
            time.sleep(self.chance.uniform(0.5, 3.0))
            self.kill(self.chance.choice(["work", "work2"]))

    def watcher_and_web(self) -> None:
        self.pause()
        self.kill("watch", "serve")

    def everything_of_ours(self) -> None:
        self.pause()
        self.kill("work", "work2", "watch", "house", "serve")

    def database_crash(self) -> None:
        """PostgreSQL ends at once, as after a loss of power to it alone."""
        self.pause()
        process = self.running.processes["postgres"]
        process.send_signal(signal.SIGQUIT)
        process.wait()
        self.running.start("postgres")
        self.running.stack.postgres.wait()

    def ledger_answers_lost_and_a_kill(self) -> None:
        self.running.fault("drop", 8)
        self.pause()
        self.kill(self.chance.choice(["work", "work2"]))

    def ledger_errors_and_a_kill(self) -> None:
        self.running.fault("error", 8)
        self.pause()
        self.kill(self.chance.choice(["work", "work2"]))

    def ledger_books_late_and_a_kill(self) -> None:
        self.running.fault("late", 5, 0.8)
        self.pause()
        self.kill("work", "work2")

    def ledger_down_and_a_kill(self) -> None:
        self.running.fault("down")
        self.pause()
        self.kill("work", "work2")
        time.sleep(3)
        self.running.fault("none")

    def slow_ledger_and_a_kill(self) -> None:
        self.running.fault("slow", 12, 2.0)
        self.pause()
        self.kill("work", "work2")

    def mail_server_gone(self) -> None:
        self.pause()
        self.running.stop("dovecot")
        time.sleep(1)
        self.running.start("dovecot")
        self.running.stack.dovecot.wait()
        self.kill("work")

    def all(self) -> list[Callable[[], None]]:
        """Every kind once, in the order of this list."""
        return [
            self.one_worker, self.both_workers, self.ledger_answers_lost_and_a_kill,
            self.database_crash, self.workers_again_and_again, self.slow_ledger_and_a_kill,
            self.ledger_books_late_and_a_kill, self.everything_of_ours,
            self.ledger_errors_and_a_kill, self.watcher_and_web, self.ledger_down_and_a_kill,
            self.mail_server_gone,
        ]  # fmt: skip


@contextmanager
def installation() -> Iterator[Running]:
    """One of its own, whose ledger accepts doubles; gone afterwards."""
    build_console(print)
    folder = Path(tempfile.mkdtemp(prefix="vdx-crash-", dir="/var/tmp"))
    folder.chmod(0o755)
    stack = Stack(folder=folder, ports=Ports.free(), heartbeat=1.0, stalled=3.0)
    stack.postgres.create()
    (folder / "log").mkdir()
    running = Running(stack)
    running.programs["finance"].command.append("--accepts-doubles")
    running.start("postgres")
    try:
        stack.postgres.wait()
        running.start_all()
        yield running
    finally:
        for name in [each for each in running.processes if each != "postgres"]:
            running.stop(name)
        running.processes["postgres"].send_signal(signal.SIGINT)
        running.processes["postgres"].wait(30)
        shutil.rmtree(folder, ignore_errors=True)


def crash(count: int) -> None:
    """At least `count` trials; prints what was lost, double or stuck, and the time to recover."""
    outcome, chance = Outcome(), random.Random(SEED)
    began = time.monotonic()
    with installation() as running:
        trials = Trials(running, chance)
        each = trials.all()
        rounds = -(-count // FLIGHT)
        for index in range(rounds):
            what = each[index % len(each)]
            _round(trials, what, index, outcome)
            said = f"{outcome.trials} of {count}: {len(outcome.double)} double"
            print(f"  {what.__name__.replace('_', ' ')}: {said}", flush=True)
        _books(running, outcome)
    _tell(outcome, time.monotonic() - began)
    if outcome.lost or outcome.double or outcome.stuck:
        sys.exit(1)


def _round(trials: Trials, what: Callable[[], None], index: int, outcome: Outcome) -> None:
    running = trials.running
    numbers = [f"QV-C{index:02d}-{each:03d}" for each in range(FLIGHT)]
    for number in numbers:
        running.send(mail_with(bills.of_its_own(number)))
    what()
    done_at = time.monotonic()
    open_ones = _wait(trials, numbers)
    running.fault("none")
    name = what.__name__.replace("_", " ")
    outcome.recovery.setdefault(name, []).append(time.monotonic() - done_at)
    outcome.trials += len(numbers)
    outcome.kinds[name] += len(numbers)
    outcome.stuck += sorted(open_ones)


def _wait(trials: Trials, numbers: list[str]) -> set[str]:
    """Numbers that are not posted when the time is over."""
    limit = time.monotonic() + LIMIT
    url = trials.running.stack.postgres.url("veridox")
    while True:
        trials.revive()
        try:
            with psycopg.connect(url, connect_timeout=2) as line:
                rows = line.execute(
                    "select number from documents_document where state = 'posted'"
                    " and number = any(%s)", [numbers]).fetchall()  # fmt: skip
            left = set(numbers) - {number for (number,) in rows}
        except psycopg.OperationalError:
            left = set(numbers)
        if not left or time.monotonic() > limit:
            return left
        time.sleep(0.2)


def _books(running: Running, outcome: Outcome) -> None:
    """What stands in the ledger, and whether every mail became exactly one document."""
    with sqlite3.connect(running.stack.folder / "finance.sqlite") as books:
        rows = books.execute("select vendor_number from bills where vendor_number like 'QV-C%'")
        booked = Counter(number for (number,) in rows)
    with psycopg.connect(running.stack.postgres.url("veridox")) as line:
        rows = line.execute("select number, count(*) from documents_document"
                            " where number like 'QV-C%' group by 1").fetchall()  # fmt: skip
    known = dict(rows)
    every = {f"QV-C{i:02d}-{n:03d}" for i in range(outcome.trials // FLIGHT) for n in range(FLIGHT)}
    outcome.lost = sorted(number for number in every if number not in known)
    outcome.double = sorted(
        {number for number, times in booked.items() if times > 1}
        | {number for number, times in known.items() if times > 1}
    )
    try:
        result = running.vx.run_report("trail", seconds=300)["result"]
    except NotReachableError as error:
        print(f"the trail could not be verified: {error}")
    else:
        print(
            f"trail: {result['entries']} entries, {'holds' if result['good'] else 'DOES NOT HOLD'}"
        )
        for problem in result["problems"]:
            print(f"  {problem}")


def _tell(outcome: Outcome, took: float) -> None:
    print(
        f"{outcome.trials} trials in {took / 60:.1f} minutes, {FLIGHT} in flight at each kill or "
        f"fault: {len(outcome.lost)} lost, {len(outcome.double)} double, "
        f"{len(outcome.stuck)} stuck after {LIMIT:.0f} s"
    )
    every = [seconds for times in outcome.recovery.values() for seconds in times]
    print(
        f"all of a round posted after the last kill or fault: median "
        f"{statistics.median(every):.1f} s, worst {max(every):.1f} s"
    )
    for name, times in outcome.recovery.items():
        print(f"  {name}: {outcome.kinds[name]} trials, worst {max(times):.1f} s")
    for name in ("lost", "double", "stuck"):
        for number in getattr(outcome, name)[:20]:
            print(f"  {name}: {number}")
