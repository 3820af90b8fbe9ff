"""Chromium with a page that tolerates no error, and people who sign in."""

import time
from dataclasses import replace
from decimal import Decimal
from itertools import count

import pytest
from playwright.sync_api import Page, expect, sync_playwright

from demo.stack import ADMIN, ROOT
from tests.conftest import mail_with
from tests.stack.running import until

CHROMIUM = "/usr/bin/chromium"
QUIET = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
]  # fmt: skip
AXE = (ROOT / "console/node_modules/axe-core/axe.min.js").read_text
PATIENCE = 30_000
"""Milliseconds that anything may take to appear: how fast the console is, is measured elsewhere, and
machines that build have other things to do at times."""
expect.set_options(timeout=PATIENCE)
WORD = "a long enough word"
# What the service says no to is an answer: the browser logs it, the page shows it.
ANSWERS = ("401", "404", "409", "412", "422", "400")
_people = count(1)


@pytest.fixture(scope="session")
def browser():
    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path=CHROMIUM, args=QUIET)
        yield chromium
        chromium.close()


class Windows:
    """Opens pages, each with its own session, and remembers what went wrong in any."""

    def __init__(self, browser, running):
        self.browser, self.running = browser, running
        self.wrong: list[str] = []
        self.asked: dict[object, str] = {}
        self.contexts = []
        self.may_be_down = False

    def open(self, *, width=1280, height=800, dark=False) -> Page:
        context = self.browser.new_context(
            viewport={"width": width, "height": height}, locale="en-GB",
            color_scheme="dark" if dark else "light", timezone_id="Europe/Berlin",
        )  # fmt: skip
        self.contexts.append(context)
        context.set_default_timeout(PATIENCE)
        page = context.new_page()
        page.on("console", self._said)
        page.on("pageerror", lambda error: self.wrong.append(str(error)))
        page.on("request", self._asked)
        for ended in ("requestfinished", "requestfailed"):
            page.on(ended, lambda request: self.asked.pop(request, None))
        return page

    def _said(self, message):
        told = message.type == "error" and not any(f" {code} " in message.text for code in ANSWERS)
        down = self.may_be_down and ("net::ERR_" in message.text or " 50" in message.text)
        if told and not down:
            self.wrong.append(message.text)

    def _asked(self, request):
        self.asked[request] = f"{time.strftime('%X')} {request.method} {request.url}"
        if not request.url.startswith((self.running.stack.url, "data:", "blob:")):
            self.wrong.append(f"request to {request.url}")

    def signed_in(self, name=ADMIN, password=None, **look) -> Page:
        page = self.open(**look)
        sign_in(page, self.running, name, password)
        expect(page.get_by_role("heading", name="Today", exact=True)).to_be_visible()
        return page


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item, call):
    report = yield
    windows = getattr(item, "funcargs", {}).get("windows")
    if report.failed and report.when == "call" and windows:
        for page in (page for context in windows.contexts for page in context.pages):
            report.sections.append((f"browser at {page.url}", page.inner_text("body")[:3000]))
        report.sections.append(("not answered yet", "\n".join(map(str, windows.asked.values()))))
    return report


@pytest.fixture
def windows(browser, running):
    windows = Windows(browser, running)
    yield windows
    for context in windows.contexts:
        context.close()
    assert windows.wrong == []


@pytest.fixture
def page(windows):
    """A page of the admin."""
    return windows.signed_in()


@pytest.fixture
def clerk(running):
    """The name of a clerk of this test's own."""
    name = f"clerk{next(_people)}"
    running.vx.people.create({"username": name, "role": "clerk", "password": WORD})
    return name


def sign_in(page, running, name=ADMIN, password=None):
    page.goto(running.stack.url)
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(password or running.stack.secret("admin"))
    page.get_by_role("button", name="Sign in").click()


def waiting(running, bill, **changes):
    """A bill that does not add up, sent by mail and waiting at the desk."""
    wrong = replace(bill, **{"gross_slip": Decimal("60.00"), **changes})
    running.send(mail_with(wrong))
    return until(
        lambda: (found := running.document(bill.number)) and found.state == "at_desk" and found,
        f"{bill.number} at the desk",
    )


@pytest.fixture
def slip(running, fresh_bill):
    """A bill whose total is 60.00 too high."""
    return waiting(running, fresh_bill)


def work_on(page, running, document):
    """Open the work screen; the field that the finding names has the focus."""
    page.goto(f"{running.stack.url}/desk/{document.id}")
    expect(page.locator("#field-gross_total")).to_be_focused()
    return page.locator("#field-gross_total")
