"""The console in Debian's Chromium, served by the running service."""

import pytest
from playwright.sync_api import expect, sync_playwright

from demo.stack import ADMIN

pytestmark = pytest.mark.stack
CHROMIUM = "/usr/bin/chromium"
QUIET = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
]  # fmt: skip


@pytest.fixture(scope="module")
def browser():
    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path=CHROMIUM, args=QUIET)
        yield chromium
        chromium.close()


@pytest.fixture
def page(browser, running):
    """A page that tolerates no error in its console and no request to another host."""
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    wrong: list[str] = []
    # A refused sign-in is an answer and not an error of the page.
    page.on(
        "console",
        lambda message: wrong.append(message.text)
        if message.type == "error" and "401" not in message.text
        else None,
    )
    page.on("pageerror", lambda error: wrong.append(str(error)))
    page.on(
        "request",
        lambda request: None
        if request.url.startswith((running.stack.url, "data:", "blob:"))
        else wrong.append(request.url),
    )
    yield page
    context.close()
    assert wrong == []


def sign_in(page, running, password=None):
    page.goto(running.stack.url)
    page.get_by_label("Name").fill(ADMIN)
    page.get_by_label("Password").fill(password or running.stack.secret("admin"))
    page.get_by_role("button", name="Sign in").click()


def test_signing_in_and_out(page, running):
    sign_in(page, running)
    expect(page.get_by_text("ada, admin")).to_be_visible()
    page.reload()
    expect(page.get_by_text("ada, admin")).to_be_visible()
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_label("Password")).to_be_visible()


def test_a_wrong_password_is_told_and_the_name_stays(page, running):
    sign_in(page, running, "not the password")
    expect(page.get_by_role("alert")).to_contain_text("not right")
    expect(page.get_by_label("Name")).to_have_value(ADMIN)


def test_everything_works_by_keyboard(page, running):
    page.goto(running.stack.url)
    expect(page.get_by_label("Name")).to_be_focused()
    page.keyboard.type(ADMIN)
    page.keyboard.press("Tab")
    page.keyboard.type(running.stack.secret("admin"))
    page.keyboard.press("Enter")
    expect(page.get_by_text("ada, admin")).to_be_visible()
