"""Measure on the running demo (`bin/bench NAME`). Prints figures; asserts nothing."""

import argparse
import os
import signal
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, datetime
from decimal import Decimal
from pathlib import Path

import httpx
from playwright.sync_api import Page

from demo import bills
from demo.__main__ import the_stack
from demo.drawing import LAYOUTS
from demo.load import make_token
from demo.mails import Attached, Mail, send
from demo.stack import ADMIN, Stack
from demo.supervisor import Supervisor
from veridox.client import Document, Veridox

ROOT = Path(__file__).parent.parent


def _stack() -> Stack:
    stack = the_stack()
    if not Supervisor(stack).running():
        sys.exit("bench: start the demo first: bin/demo")
    return stack


def _send_bill(stack: Stack, number: str) -> datetime:
    """Send a mail with a clean bill; returns when SMTP accepted it."""
    # Each has a total of its own: equal ones of one day would be taken for one bill.
    first, *others = bills.VET_VISIT.lines
    first = replace(first, price=first.price + Decimal(int(time.time() * 1000) % 9_000_000) / 100)
    bill = replace(bills.VET_VISIT, number=number, lines=(first, *others))
    file = Attached(name=f"{number}.pdf", content=lambda: LAYOUTS["band"](bill))
    mail = Mail(
        name="bench", sender=bill.vendor, subject=f"Invoice {number}", text="x\n", files=(file,),
        expect=(),
    )  # fmt: skip
    message = mail.message()
    send(message, stack.ports.smtp)
    return datetime.now(UTC)


def _posted(vx: Veridox, number: str, seconds: float = 120) -> Document:
    limit = time.monotonic() + seconds
    while time.monotonic() < limit:
        for document in vx.documents.list(search=number, state="posted"):
            return document
        time.sleep(0.05)
    sys.exit(f"bench: {number} was not posted within {seconds:g} s")


def path(count: int) -> None:
    """Seconds from SMTP accept to booked, and to complete (attached and read back)."""
    stack = _stack()
    booked, complete = [], []
    with Veridox(stack.url, token=make_token(stack)) as vx:
        for index in range(count):
            number = f"QV-B{int(time.time()) % 1_000_000}{index:02d}"
            accepted = _send_bill(stack, number)
            document = _posted(vx, number)
            posting = document.raw["posting"]
            for moment, times in (
                (posting["posted_at"], booked),
                (document.raw["state_at"], complete),
            ):
                times.append((datetime.fromisoformat(moment) - accepted).total_seconds())
    for name, times in (("booked", booked), ("complete", complete)):
        print(
            f"SMTP accept to {name:<9} median {statistics.median(times):.2f} s, "
            f"worst {max(times):.2f} s ({count} mails, one after the other)"
        )


def burst(count: int) -> None:
    """Seconds until `count` mails sent at once are all posted."""
    stack = _stack()
    with Veridox(stack.url, token=make_token(stack)) as vx:
        stamp = int(time.time()) % 1_000_000
        numbers = [f"QV-U{stamp}{index:03d}" for index in range(count)]
        began = time.monotonic()
        for number in numbers:
            _send_bill(stack, number)
        sent = time.monotonic() - began
        for number in numbers:
            _posted(vx, number, 600)
        took = time.monotonic() - began
    print(
        f"{count} mails sent in {sent:.1f} s, all posted after {took:.1f} s ({count / took:.1f}/s)"
    )


def rescue(count: int) -> None:
    """Seconds from a worker's death in the middle of posting until its job is done by another."""
    stack = _stack()
    times = []
    with Veridox(stack.url, token=make_token(stack)) as vx:
        for index in range(count):
            number = f"QV-R{int(time.time()) % 1_000_000}{index:02d}"
            fault = {"fault": "slow", "times": 1, "seconds": 4}
            httpx.put(f"{stack.finance_url}/faults", json=fault).raise_for_status()
            _send_bill(stack, number)
            time.sleep(2.5)
            states = Supervisor(stack).states()
            pid = next(each["pid"] for each in states if each["name"] == "work")
            os.kill(pid, signal.SIGKILL)
            died = datetime.now(UTC)
            document = _posted(vx, number)
            done = datetime.fromisoformat(document.raw["state_at"])
            times.append((done - died).total_seconds())
    httpx.put(f"{stack.finance_url}/faults", json={"fault": "none"})
    print(
        f"killed worker's posting done after: median {statistics.median(times):.1f} s, "
        f"worst {max(times):.1f} s ({count} kills)"
    )


def console(count: int) -> None:
    """The console in Chromium: first view, first picture, size, jumps, a long list."""
    from playwright.sync_api import sync_playwright

    from tools import console_figures as figures

    stack = _stack()
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"]
        )

        def page() -> Page:
            page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
            page.goto(stack.url)
            page.get_by_label("Name").fill(ADMIN)
            page.get_by_label("Password").fill(stack.secret("admin"))
            page.get_by_role("button", name="Sign in").click()
            page.get_by_role("heading", name="Came in").wait_for()
            return page

        views = [figures.first_view(page(), stack.url) for _ in range(count)]
        _say("first view", views)
        pictures = [each for _ in range(count) for each in figures.desk_pictures(page(), stack.url)]
        _say("click on a row to its picture", pictures)
        sizes = figures.first_load(page(), stack.url)
        print(f"first load: {sum(sizes.values()) / 1000:.0f} kB of scripts and styles, compressed")
        worst = max(figures.shifts(page(), stack.url).items(), key=lambda each: each[1])
        print(f"layout shift: at most {worst[1]:.4f} (at {worst[0]})")
        with figures.many_documents(stack):
            seen = figures.scrolled(page(), stack.url)
        print(
            f"{figures.MANY:,} documents: frames median {seen.median:.1f} ms, worst "
            f"{seen.worst:.0f} ms, {seen.slow:.1%} above 50 ms; {seen.rows} rows drawn, "
            f"{seen.reached:,} scrolled past in 200 frames"
        )
        browser.close()


def _say(name: str, seconds: list[float]) -> None:
    middle, worst = statistics.median(seconds) * 1000, max(seconds) * 1000
    print(f"{name}: median {middle:.0f} ms, worst {worst:.0f} ms ({len(seconds)} times)")


def share(count: int) -> None:
    """Lines of code and of tests."""
    del count
    listed = subprocess.run(["git", "ls-files"], cwd=ROOT, capture_output=True, text=True)
    code = tests = 0
    for name in listed.stdout.split():
        if not name.endswith((".py", ".ts", ".tsx", ".css")) or "migrations/" in name:
            continue
        if ".generated." in name:
            continue
        lines = sum(1 for line in (ROOT / name).read_text("utf-8").splitlines() if line.strip())
        if name.startswith("tests/") or ".test." in name:
            tests += lines
        else:
            code += lines
    print(f"{code} lines of code, {tests} of tests: {tests / (code + tests):.0%} are tests")


def collect(count: int) -> None:
    """Intake of mails: rate, time to notice, a mailbox of 100,000, a mail of 60 MB."""
    import django

    stack = _stack()
    os.environ |= {**stack.environment(), "DJANGO_SETTINGS_MODULE": "veridox.service.settings"}
    django.setup()
    from tools import bench_collect

    with Veridox(stack.url, token=make_token(stack)) as vx:
        bench_collect.figures(stack, vx, count)


def pages(count: int) -> None:
    """How well and how fast drawn, scanned and photographed pages become words."""
    from tools.bench_pages import figures

    figures(count)


def coding(count: int, seed: int = 2) -> None:
    """A made-up year of lines, each coded from those before it; see `tools/bench_coding.py`."""
    from tools.bench_coding import coding as look

    look(count, seed)


def errors(count: int, seed: int = 2) -> None:
    """A made-up year of bills with planted mistakes; see `tools/bench_errors.py`."""
    from tools.bench_errors import errors as look

    look(count, seed, 20)


def scale(count: int) -> None:
    """Imports of 200,000 rows and checks among a million documents, in a database of their own."""
    from tools.bench_scale import figures

    figures(_stack(), count)


def decision(note: str, photos: bool, detail: bool) -> None:
    """The documents written by hand, with buyers unknown and known; needs no demo."""
    from tools.bench_decision import figures

    figures(note, photos, detail)


def reading(
    count: int,
    folder: Path | None = None,
    scans: int = 0,
    picture: Path | None = None,
    composed: int = 0,
) -> None:
    """How well documents are read: held-back families, composed ones, a folder with a manifest."""
    from tools.bench_reading import figures

    figures(folder, count, scans, picture, composed)


def crash(count: int) -> None:
    """Kills and faults while bills are in flight, on an installation of its own."""
    from tools.bench_crash import crash as run

    run(count)


BENCHES: dict[str, Callable[[int], None]] = {
    "path": path,
    "burst": burst,
    "rescue": rescue,
    "console": console,
    "collect": collect,
    "pages": pages,
    "share": share,
    "reading": reading,
    "decision": decision,
    "errors": errors,
    "coding": coding,
    "crash": crash,
    "scale": scale,
}
USUAL = {
    "path": 10,
    "burst": 50,
    "rescue": 3,
    "console": 5,
    "collect": 30,
    "pages": 6,
    "reading": 18,
    "crash": 500,
    "errors": 10_000,
    "coding": 10_000,
    "scale": 1_000_000,
}


def main() -> None:
    """Entry point."""
    parser = argparse.ArgumentParser(prog="bin/bench", description=__doc__)
    parser.add_argument("name", choices=BENCHES)
    parser.add_argument("--count", type=int, help="how many mails, kills or views")
    parser.add_argument("--folder", type=Path, help="reading: documents with manifest.jsonl")
    parser.add_argument("--composed", type=int, default=0, help="reading: so many composed bills")
    parser.add_argument("--scans", type=int, default=0, help="reading: scans of each condition")
    parser.add_argument("--picture", type=Path, help="reading: PNG of how confidences fared")
    parser.add_argument("--photos", action="store_true", help="decision: by telephone, too")
    parser.add_argument("--note", default="", help="decision: what is said of it in the log")
    parser.add_argument("--detail", action="store_true", help="decision: what was not right")
    parser.add_argument("--seed", type=int, default=2, help="errors, coding: of everything drawn")
    chosen = parser.parse_args()
    count = chosen.count or USUAL.get(chosen.name, 0)
    if chosen.name == "reading":
        if chosen.folder is not None and not (chosen.folder / "manifest.jsonl").is_file():
            sys.exit(
                f"bench: {chosen.folder} has no manifest.jsonl; docs/reading.md tells its form"
            )
        reading(count, chosen.folder, chosen.scans, chosen.picture, chosen.composed)
    elif chosen.name in ("errors", "coding"):
        {"errors": errors, "coding": coding}[chosen.name](count, chosen.seed)
    elif chosen.name == "decision":
        decision(chosen.note, chosen.photos, chosen.detail)
    else:
        BENCHES[chosen.name](count)


if __name__ == "__main__":
    main()
