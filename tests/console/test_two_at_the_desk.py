"""What takes two people, bills that are alike, and what waits in the master data: by hand."""

import re
from dataclasses import replace

import pytest
from playwright.sync_api import expect

from demo.findings import OTHER_ACCOUNT
from demo.merrowmere import BRINEFOLD
from tests.conftest import mail_with
from tests.console.conftest import AXE, WORD
from tests.stack.running import until

pytestmark = pytest.mark.stack
HOW = "called Quillfin at the number in the contract of 2024"


def at_desk(running, bill):
    """The bill is sent, and waits."""
    running.send(mail_with(bill))
    return until(
        lambda: (found := running.document(bill.number)) and found.state == "at_desk" and found,
        f"{bill.number} at the desk",
    )


@pytest.fixture
def elsewhere(running, fresh_bill):
    """A bill that asks to be paid to nobody's account."""
    return at_desk(running, replace(fresh_bill, account=OTHER_ACCOUNT))


def accessible(page):
    page.evaluate(AXE())
    found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
    assert [v["id"] for v in found["violations"] if v["impact"] in ("serious", "critical")] == []


def open_work(page, running, document):
    page.goto(f"{running.stack.url}/desk/{document.id}")
    page.get_by_label("Findings").wait_for()
    page.keyboard.press("Escape")


def test_one_says_how_it_was_proven_and_another_one_posts_it(windows, running, clerk, elsewhere):
    first, second = windows.signed_in(), windows.signed_in(clerk, WORD)
    open_work(first, running, elsewhere)
    expect(first.get_by_text("This takes two people who entered no value of it")).to_be_visible()
    expect(first.get_by_role("button", name=re.compile("^Post"))).to_have_count(0)
    first.keyboard.press("v")
    dialog = first.get_by_role("dialog", name="Say how it was proven")
    expect(dialog).to_contain_text(OTHER_ACCOUNT)
    accessible(first)
    dialog.get_by_label("What you did").fill("fine")
    dialog.get_by_role("button", name="Keep it").click()
    expect(dialog).to_contain_text("whom you called")
    dialog.get_by_label("What you did").fill(HOW)
    dialog.get_by_role("button", name="Keep it").click()
    expect(first.get_by_text("It is kept; another person posts it now.")).to_be_visible()
    open_work(first, running, elsewhere)
    expect(first.get_by_text(f"ada made sure: {HOW}")).to_be_visible()
    expect(first.get_by_role("button", name=re.compile("^Post"))).to_have_count(0)
    assert running.bills(elsewhere.number) == []

    open_work(second, running, elsewhere)
    second.keyboard.press("p")
    dialog = second.get_by_role("dialog")
    dialog.get_by_label("Why").fill("proven by ada")
    dialog.get_by_role("button", name="Post").click()
    running.posted(elsewhere.number)
    story = str(running.vx.documents.history(elsewhere.id))
    assert HOW in story
    assert "document.proven" in story


def test_bills_alike_are_shown_next_to_each_other_with_what_they_share(page, running, fresh_bill):
    running.send(mail_with(fresh_bill))
    first = running.posted(fresh_bill.number)
    bare = fresh_bill.number.replace("-", "", 1)
    copy = at_desk(running, replace(fresh_bill, number=bare, title="INVOICE COPY"))
    open_work(page, running, copy)
    alike = page.get_by_label("Bills alike")
    expect(alike).to_contain_text(f"posted as {first.posting.number}")
    expect(alike).to_contain_text("the same number but for its separators")
    page.keyboard.press("b")
    dialog = page.get_by_role("dialog", name="Is it the same bill?")
    expect(dialog).to_contain_text("They share: the same number but for its separators")
    for number in (fresh_bill.number, bare):
        picture = dialog.get_by_alt_text(f"First page of {number}")
        expect(picture).to_be_visible()
        until(lambda p=picture: p.evaluate("p => p.complete && p.naturalWidth > 0"), "a page")
    accessible(page)


def test_a_digit_takes_a_candidate_and_its_evidence_is_shown(page, running, fresh_bill):
    vendor = replace(fresh_bill.vendor, tax_id=BRINEFOLD.tax_id)
    document = at_desk(running, replace(fresh_bill, vendor=vendor))
    open_work(page, running, document)
    who = page.get_by_label("Who it is")
    expect(who).to_contain_text(f"account {fresh_bill.vendor.iban}")
    expect(who).to_contain_text(f"not its tax id {BRINEFOLD.tax_id}")
    page.keyboard.press("1")
    posted = running.posted(document.number)
    assert posted.vendor == fresh_bill.vendor.code


def test_held_changes_are_accepted_by_somebody_else_only(windows, running, clerk, tmp_path):
    table = tmp_path / "v.csv"
    table.write_text("code,name,email\nV8201,Pebblecove Ltd,bills@pebblecove.example\n")
    running.vx.vendors.import_table(table)
    mine = windows.signed_in()
    mine.goto(f"{running.stack.url}/vendors")
    mine.get_by_role("main").get_by_role("link", name=re.compile("second person")).click()
    expect(mine).to_have_url(re.compile("/vendors/held$"))
    tick = mine.get_by_label("V8201 contact bills@pebblecove.example")
    expect(tick).to_be_disabled()
    expect(mine.get_by_text("you brought it in, so another person decides").first).to_be_visible()
    accessible(mine)

    other = windows.signed_in(clerk, WORD)
    other.goto(f"{running.stack.url}/vendors/V8201")
    other.get_by_label("V8201 contact bills@pebblecove.example").check()
    other.get_by_label("How you made sure, or why not").fill("called them")
    other.get_by_role("button", name="Let hold").click()
    expect(other.get_by_text("1 change holds.")).to_be_visible()
    expect(other.get_by_role("link", name="bills@pebblecove.example")).to_be_visible()
    assert running.vx.vendors.get("V8201")["email"] == "bills@pebblecove.example"


def test_a_change_is_refused_only_with_why(windows, running, clerk, tmp_path):
    table = tmp_path / "v.csv"
    table.write_text("code,name,email\nV8202,Wrackline Ltd,bills@wrackline.example\n")
    running.vx.vendors.import_table(table)
    page = windows.signed_in(clerk, WORD)
    page.goto(f"{running.stack.url}/vendors/V8202")
    page.get_by_label("V8202 contact bills@wrackline.example").check()
    page.get_by_role("button", name="Refuse").click()
    expect(page.get_by_text("say why it is refused")).to_be_visible()
    page.get_by_label("How you made sure, or why not").fill("nobody there knows of it")
    page.get_by_role("button", name="Refuse").click()
    expect(page.get_by_text("1 change refused.")).to_be_visible()
    assert running.vx.vendors.get("V8202")["email"] == ""


def test_a_list_says_how_fresh_it_is_and_is_synced_by_a_click(page, running):
    before = next(iter(running.vx.masterdata.loads("orders")))["id"]
    page.goto(f"{running.stack.url}/orders")
    expect(page.get_by_text(re.compile("^brought in"))).to_be_visible()
    page.get_by_role("button", name="Sync from main-books").click()
    expect(page.get_by_text("main-books is asked for orders.")).to_be_visible()

    def done():
        newest = next(iter(running.vx.masterdata.loads("orders")))
        return newest["id"] > before and newest["state"] == "done"

    until(done, "the sync")
