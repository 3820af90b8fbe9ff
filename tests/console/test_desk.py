"""The desk: where people put right what stopped."""

import re
from dataclasses import replace
from datetime import timedelta
from decimal import Decimal

import pytest
from django.utils import timezone
from playwright.sync_api import expect

from demo import bills, merrowmere
from tests.conftest import mail_with
from tests.console.conftest import WORD, waiting, work_on
from tests.stack.running import until

pytestmark = pytest.mark.stack


@pytest.fixture
def right(fresh_bill):
    """The total that the bill should have, as it is typed."""
    return str(fresh_bill.gross)


def test_the_whole_story_by_mail_keyboard_and_ledger(windows, running, fresh_bill, slip, right):
    """One mail goes straight through, another is corrected by keyboard only; both are booked."""
    clean = bills.of_its_own(fresh_bill.number + "-A")
    running.send(mail_with(clean))
    running.posted(clean.number)
    page = windows.signed_in()
    page.keyboard.press("Control+k")
    page.keyboard.type(clean.number)
    expect(page.get_by_role("option").first).to_contain_text(clean.number)
    page.keyboard.press("Enter")
    expect(page.get_by_role("main")).to_contain_text("Complete in the ledger as BL-")
    expect(page.get_by_role("dialog")).to_have_count(0)

    page.keyboard.press("2")
    page.get_by_role("table", name="Waiting at the desk").wait_for()
    page.keyboard.press("ArrowDown")
    for _ in range(50):
        if page.evaluate("document.activeElement?.getAttribute('href')") == f"/desk/{slip.id}":
            break
        page.keyboard.press("ArrowDown")
        page.wait_for_timeout(30)
    page.keyboard.press("Enter")
    expect(page.locator("#field-gross_total")).to_be_focused()
    expect(page.get_by_role("list", name="Sums")).to_contain_text("60.00 too high")
    page.keyboard.type(right)
    expect(page.get_by_role("list", name="Sums")).not_to_contain_text("too high")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text(f"{slip.number} is saved and cleared.")).to_be_visible()
    running.posted(slip.number)

    page.goto(running.stack.finance_url)
    windows.wrong[:] = [e for e in windows.wrong if running.stack.finance_url not in e]
    for number in (clean.number, slip.number):
        expect(page.get_by_role("cell", name=number, exact=True)).to_be_visible()


def test_two_clerks_on_one_document(windows, running, clerk, slip, right):
    first, second = windows.signed_in(), windows.signed_in(clerk, WORD)
    work_on(first, running, slip)
    work_on(second, running, slip)
    first.keyboard.type(right)
    expect(first.get_by_text("You have it")).to_be_visible()
    # The second sees it by itself, and what they had typed stays.
    second.locator("#field-number").fill("typed by the second")
    second.keyboard.press("Control+s")
    alert = second.get_by_role("alert").filter(has_text="ada works on document")
    expect(alert).to_be_visible()
    expect(second.locator("#field-number")).to_have_value("typed by the second")
    second.get_by_role("button", name="Take over").first.click()
    expect(second.get_by_text("You have it")).to_be_visible()
    # Now it is the first who is refused, and loses nothing either.
    first.keyboard.press("Control+Enter")
    expect(first.get_by_role("alert").filter(has_text=f"{clerk} works on")).to_be_visible()
    expect(first.locator("#field-gross_total")).to_have_value(right)
    assert running.vx.documents.get(slip.id).raw["taken_by"] == clerk


def test_what_others_change_meanwhile_is_told_and_edits_stay(windows, running, slip, right):
    page = windows.signed_in()
    windows.may_be_down = True
    total = work_on(page, running, slip)
    page.route("**/take", lambda route: route.abort())  # as if the taking had come too late
    total.fill(right)
    now = running.vx.documents.get(slip.id)
    running.vx.documents.correct(now, {"fields": {"order_number": "PO-1"}}, "by another way")
    page.keyboard.press("Control+s")
    told = page.get_by_role("status").filter(has_text="Somebody changed this document")
    expect(told).to_contain_text("Order number: nothing became PO-1")
    expect(total).to_have_value(right)
    page.unroute("**/take")
    page.locator("#field-order_number").fill("")
    page.keyboard.press("Control+Enter")
    running.posted(slip.number)


def test_a_restart_of_the_service_while_one_works(windows, running, slip, right):
    page = windows.signed_in()
    total = work_on(page, running, slip)
    windows.may_be_down = True
    page.route("**/take", lambda route: route.abort())
    running.stop("serve")
    try:
        total.fill(right)
        page.keyboard.press("Control+Enter")
        expect(page.get_by_role("alert").filter(has_text="does not answer")).to_be_visible()
        expect(total).to_have_value(right)
    finally:
        running.start("serve")
    until(running._serves, "the service is back")
    page.unroute("**/take")
    page.get_by_role("button", name="Save again").click()
    running.posted(slip.number)


def test_a_reload_keeps_what_was_typed(page, running, slip, right):
    total = work_on(page, running, slip)
    total.fill(right)
    page.reload()
    expect(page.locator("#field-gross_total")).to_have_value(right)
    expect(page.get_by_role("button", name="Save and next")).to_be_visible()


def test_a_word_is_taken_by_a_click_and_several_by_a_drag(page, running, slip, fresh_bill):
    net = f"{fresh_bill.net:.2f}"
    total = work_on(page, running, slip)
    words = {w["text"]: w["box"] for w in page_words(running, slip)}
    overlay = page.locator("[data-words]")
    expect(overlay).not_to_have_attribute("data-words", "0")
    page.wait_for_load_state("networkidle")
    area = overlay.bounding_box()
    scale = area["width"] / running.vx.documents.get(slip.id).raw["pages"][0]["width"]

    def middle(box):
        return (
            area["x"] + (box[0] + box[2]) / 2 * scale,
            area["y"] + (box[1] + box[3]) / 2 * scale,
        )

    page.mouse.click(*middle(words[net]))
    expect(total).to_have_value(net)
    expect(page.locator("[data-glow]")).to_be_visible()
    page.locator("#field-payment_terms").or_(page.locator("#field-number")).first.focus()
    first, last = words["Monthly"], words["visit,"]
    page.mouse.move(area["x"] + (first[0] - 4) * scale, area["y"] + (first[1] - 3) * scale)
    page.mouse.down()
    page.mouse.move(area["x"] + (last[2] + 2) * scale, area["y"] + (last[3] + 3) * scale, steps=5)
    page.mouse.up()
    expect(page.locator("#field-number")).to_have_value("Monthly visit,")
    page.keyboard.press("Control+z")
    expect(page.locator("#field-number")).to_have_value(slip.number)
    page.keyboard.press("Control+s")
    until(
        lambda: running.vx.documents.get(slip.id).raw["reading_version"] == 2, "the second version"
    )
    taken = running.vx.documents.get(slip.id).raw["reading"]["fields"]["gross_total"]
    assert taken["value"]["amount"] == net
    assert taken["origin"] == "person"
    assert taken["page"] == 1
    assert taken["text"] == net
    assert [round(part) for part in taken["box"]] == [round(p) for p in words[net]]


def page_words(running, document):
    answer = running.vx.documents.words(document.id, 1)
    return answer["words"]


def test_nonsense_is_told_at_its_field_and_nothing_is_sent(page, running, slip):
    total = work_on(page, running, slip)
    total.fill("twelve pounds")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("alert").filter(has_text="is no number")).to_be_visible()
    expect(total).to_be_focused()
    assert running.vx.documents.get(slip.id).raw["reading_version"] == 1


def test_undo_of_a_saved_correction(page, running, slip):
    work_on(page, running, slip)
    page.locator("#field-number").fill("OTHER-1")
    page.keyboard.press("Control+s")
    expect(page.get_by_text("OTHER-1 is saved; 1 finding still stops it.")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("#field-number")).to_have_value(slip.number)
    assert running.vx.documents.get(slip.id).raw["reading_version"] == 3


def test_lines_are_a_sheet_to_walk_and_paste_into(page, running, slip, right, fresh_bill):
    visit = fresh_bill.lines[0].price  # bought twice at half the price
    work_on(page, running, slip)
    cell = page.locator("#lines-0-quantity")
    cell.focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator("#lines-1-quantity")).to_be_focused()
    page.keyboard.press("ArrowRight")
    expect(page.locator("#lines-1-unit")).to_be_focused()
    first = f"2\tvisit\t{visit / 2:.2f}\t{visit:.2f}"
    block = f"{first}\n3\tpanel\t64.20\t192.60\n1\tset\t1.50\t1.50"
    cell.focus()
    page.evaluate(
        """block => {
            const data = new DataTransfer();
            data.setData("text/plain", block);
            document.activeElement.dispatchEvent(
                new ClipboardEvent("paste", {clipboardData: data, bubbles: true, cancelable: true}));
        }""",
        block,
    )
    expect(page.locator("#lines-2-amount")).to_have_value("1.50")
    expect(page.get_by_role("list", name="Sums")).to_contain_text("1.50 too low")
    page.locator("#lines-2-amount").focus()
    page.keyboard.press("Control+Delete")
    expect(page.locator("#lines-2-amount")).to_have_count(0)
    page.locator("#field-gross_total").fill(right.replace(".", ","))
    page.keyboard.press("Control+Enter")
    document = running.posted(slip.number)
    lines = document.raw["reading"]["lines"]
    assert [line["quantity"]["value"] for line in lines] == ["2", "3"]
    assert lines[1]["amount"]["origin"] == "text"  # untouched: its evidence stays
    assert lines[0]["unit_price"]["origin"] == "person"


def test_a_hold_leaves_the_list_until_its_day(page, running, slip):
    work_on(page, running, slip)
    page.keyboard.press("Escape")
    page.keyboard.press("h")
    dialog = page.get_by_role("dialog", name="Hold it until a day")
    dialog.get_by_label("What is waited for").fill("the credit note")
    until_day = timezone.localdate() + timedelta(days=3)
    dialog.get_by_label("Until").fill(until_day.isoformat())
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text(f"{slip.number} is on hold.")).to_be_visible()
    page.goto(f"{running.stack.url}/desk?show=held")
    row = page.get_by_role("row").filter(has_text=slip.number)
    expect(row).to_contain_text(str(until_day.day))
    page.goto(f"{running.stack.url}/desk/{slip.id}")
    page.get_by_role("button", name="Back to the list now").click()
    expect(page.get_by_text("On hold until")).to_have_count(0)
    assert running.vx.documents.get(slip.id).raw["held_until"] is None


def test_a_letter_is_edited_sent_and_answered_by_a_resubmission(page, running, fresh_bill, slip):
    work_on(page, running, slip)
    page.keyboard.press("Escape")
    page.keyboard.press("r")
    dialog = page.get_by_role("dialog", name="Return it to the vendor")
    letter = dialog.get_by_label("Letter")
    expect(letter).to_have_value(re.compile("60.00 GBP too high"))
    letter.fill(letter.input_value() + "\nP.S. Please mind the sum.")
    dialog.get_by_label("To").fill("ap-team@merrowmere.example")  # a mailbox that we can look into
    dialog.get_by_role("button", name="Return and send the letter").click()
    expect(page.get_by_text("goes back; the letter is on its way")).to_be_visible()
    (sent,) = until(
        lambda: running.mails("INBOX", f"Please correct invoice {slip.number}", "ap-team"),
        "the letter",
    )
    assert "mind the sum" in sent.get_payload()

    right = mail_with(replace(fresh_bill, gross_slip=Decimal(0)), subject="invoice, corrected")
    running.send(right)
    new = running.posted(fresh_bill.number)
    assert new.raw["resubmission_of"] == slip.id
    page.goto(f"{running.stack.url}/documents/{slip.id}")
    page.get_by_role("link", name=f"document {new.id}").click()
    expect(page.get_by_text("Sent in place of")).to_be_visible()


def test_comments_and_discarding_with_a_way_back(page, running, slip):
    work_on(page, running, slip)
    page.keyboard.press("Escape")
    page.keyboard.press("c")
    page.get_by_role("dialog", name="Comment").get_by_label("Comment").fill("asked Quillfin by phone")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("region", name="Comments")).to_contain_text("asked Quillfin by phone")
    page.keyboard.press("Escape")
    page.keyboard.press("d")
    page.get_by_role("dialog", name="Discard it").get_by_label("Why").fill("a test")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text(f"{slip.number} is discarded.")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page).to_have_url(re.compile(f"/desk/{slip.id}$"))
    assert running.vx.documents.get(slip.id).state == "at_desk"


def test_posting_against_findings_needs_a_reason(page, running, fresh_bill):
    squid = replace(bills.on_order("PO-26-0104")[0], quantity=Decimal(22))
    more = waiting(
        running, fresh_bill, vendor=merrowmere.BRINEFOLD, order="PO-26-0104", lines=(squid,),
        gross_slip=Decimal(0),
    )  # fmt: skip
    page.goto(f"{running.stack.url}/desk/{more.id}")
    page.get_by_role("button", name=re.compile("^Post")).click()
    dialog = page.get_by_role("dialog", name="Post it")
    expect(dialog).to_contain_text("77.50 GBP too much")
    dialog.get_by_label("Why").fill("two cartons more were agreed")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("goes to the ledger")).to_be_visible()
    document = running.posted(more.number)
    assert document.raw["accepted"][0]["reason"] == "two cartons more were agreed"


def test_only_acts_that_may_be_done_are_offered(page, running, fresh_bill):
    copy = bills.of_its_own(fresh_bill.number + "-C")
    running.send(mail_with(copy))
    running.posted(copy.number)
    running.send(mail_with(copy, subject="invoice once more"))
    again = until(
        lambda: next(iter(running.vx.documents.list(search=copy.number, state="at_desk")), None),
        "the copy at the desk",
    )
    page.goto(f"{running.stack.url}/desk/{again.id}")
    expect(page.get_by_role("button", name="Discard", exact=False).first).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Post"))).to_have_count(0)


def test_an_approver_looks_and_comments_but_changes_nothing(windows, running, slip):
    name = f"approver-{slip.id}"
    running.vx.people.create({"username": name, "role": "approver", "password": WORD})
    page = windows.signed_in(name, WORD)
    page.goto(f"{running.stack.url}/desk/{slip.id}")
    expect(page.locator("#field-number")).to_be_disabled()
    expect(page.get_by_role("button", name="Comment (C)")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^(Post|Return|Hold|Discard|Take)"))).to_have_count(0)


def test_the_list_says_why_how_long_and_who(windows, running, clerk, slip, fresh_bill):
    page = windows.signed_in(clerk, WORD)
    running.vx.documents.take(slip.id, person=clerk)
    page.goto(f"{running.stack.url}/desk?show=mine&finding=total.sum")
    row = page.get_by_role("row").filter(has_text=slip.number)
    expect(row).to_contain_text("60.00 GBP too high")
    expect(row).to_contain_text(str(fresh_bill.gross + 60))
    expect(row).to_contain_text(clerk)
    page.goto(f"{running.stack.url}/desk?show=free&finding=total.sum")
    page.get_by_role("heading", name="Desk").wait_for()
    page.wait_for_timeout(500)
    expect(page.get_by_role("row").filter(has_text=slip.number)).to_have_count(0)


def test_a_document_without_a_page_can_still_be_worked_on(page, running, fresh_bill):
    file = running.vx.files.upload(b"%PDF-1.7 cut off", pipeline="supplier-invoices", name="cut.pdf")
    (document,) = running.vx.files.wait(file.id).documents
    page.goto(f"{running.stack.url}/desk/{document.id}")
    expect(page.get_by_text("This file has no page that can be shown")).to_be_visible()
    page.locator("#field-number").fill("FROM-PAPER-1")
    page.keyboard.press("Control+s")
    expect(page.get_by_text("FROM-PAPER-1 is saved")).to_be_visible()
