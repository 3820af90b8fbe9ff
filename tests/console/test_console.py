"""Signing in and out; the frame around all places."""

import re

import pytest
from playwright.sync_api import expect

from demo.stack import ADMIN
from tests.console.conftest import WORD, sign_in

pytestmark = pytest.mark.stack


def test_signing_in_and_out(page):
    menu = page.get_by_role("button", name=re.compile("ada.*admin"))
    expect(menu).to_be_visible()
    page.reload()
    menu.click()
    page.get_by_role("menuitem", name="Sign out").click()
    expect(page.get_by_label("Password")).to_be_visible()


def test_a_wrong_password_is_told_and_the_name_stays(windows, running):
    page = windows.open()
    sign_in(page, running, ADMIN, "not the password")
    expect(page.get_by_role("alert")).to_contain_text("not right")
    expect(page.get_by_label("Name")).to_have_value(ADMIN)


def test_signing_in_by_keyboard(windows, running):
    page = windows.open()
    page.goto(running.stack.url)
    expect(page.get_by_label("Name")).to_be_focused()
    page.keyboard.type(ADMIN)
    page.keyboard.press("Tab")
    page.keyboard.type(running.stack.secret("admin"))
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Today", exact=True)).to_be_visible()


def test_an_ended_session_is_taken_up_again_where_one_was(windows, running, clerk, slip):
    page = windows.signed_in(clerk, WORD)
    page.goto(f"{running.stack.url}/desk/{slip.id}")
    page.locator("#field-number").fill("typed before the session ended")
    page.context.clear_cookies()
    page.keyboard.press("Control+Enter")
    dialog = page.get_by_role("dialog", name="Your session has ended")
    dialog.get_by_label("Password").fill(WORD)
    dialog.get_by_role("button", name="Sign in").click()
    expect(dialog).to_be_hidden()
    expect(page.locator("#field-number")).to_have_value("typed before the session ended")


def test_keys_lead_everywhere_and_are_listed(page):
    page.keyboard.press("3")
    expect(page).to_have_url(re.compile("/documents$"))
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_contain_text("Search everything")
    page.keyboard.press("Escape")
    page.go_back()
    expect(page.get_by_role("heading", name="Today", exact=True)).to_be_visible()


def test_one_line_finds_numbers_amounts_vendors_and_orders(page, running, slip, fresh_bill):
    def search(words, group):
        page.keyboard.press("Control+k")
        page.get_by_label("What to look for").fill(words)
        expect(page.get_by_role("option").filter(has_text=group).first).to_be_visible()

    search(f"{fresh_bill.gross + 60}".replace(".", ","), "Document")
    page.keyboard.press("Escape")
    search("PO-26-0101", "Order")
    page.keyboard.press("Escape")
    search("Quillfin", "Vendor")
    page.keyboard.press("Escape")
    search(slip.number, "Document")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile(f"/desk/{slip.id}$"))


def test_dark_is_remembered(page, running):
    page.get_by_role("button", name=re.compile("ada.*admin")).click()
    page.get_by_role("menuitemcheckbox", name="Dark", exact=True).click()
    ground = "getComputedStyle(document.body).backgroundColor"
    assert page.evaluate(ground) == "rgb(19, 23, 28)"
    page.reload()
    page.get_by_role("heading", name="Today", exact=True).wait_for()
    assert page.evaluate(ground) == "rgb(19, 23, 28)"


def test_a_clerk_sets_nothing_up(windows, running, clerk):
    page = windows.signed_in(clerk, WORD)
    page.goto(f"{running.stack.url}/people")
    expect(page.get_by_role("link", name=ADMIN, exact=True)).to_be_visible()
    expect(page.get_by_role("button", name="Person")).to_have_count(0)
    answer = page.evaluate(
        """async () => {
            const csrf = (await (await fetch("/api/v1/session")).json()).csrf;
            const body = JSON.stringify({role: "admin"});
            const headers = {"X-CSRFToken": csrf, "Content-Type": "application/json"};
            const name = (await (await fetch("/api/v1/session")).json()).username;
            return (await fetch(`/api/v1/people/${name}`, {method: "PATCH", headers, body})).status;
        }"""
    )
    assert answer == 403
    windows.wrong[:] = [each for each in windows.wrong if "403" not in each]
