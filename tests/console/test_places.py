"""Every place: reachable by everybody, whole at both sizes, by day and by night."""

import json
import re
from dataclasses import replace
from datetime import timedelta
from decimal import Decimal

import pytest
from django.utils import timezone
from playwright.sync_api import expect

from demo import bills
from demo.awkward import awkward_mails
from tests.conftest import mail_with
from tests.console.conftest import AXE, WORD
from tests.stack.running import until

pytestmark = pytest.mark.stack
SERIOUS = ("serious", "critical")
OPENED = """() => {
  const box = document.querySelector("main");
  return [...document.querySelectorAll("main, main *")].filter((each) => {
    const style = getComputedStyle(each);
    const cut = ["hidden", "auto", "scroll", "clip"].includes(style.overflowX);
    return !cut && each.scrollWidth > each.clientWidth + 1 && each.clientWidth > 0
      && each.getBoundingClientRect().right > box.getBoundingClientRect().right + 1
      && !["svg", "rect", "path"].includes(each.tagName.toLowerCase());
  }).map((each) => each.outerHTML.slice(0, 160));
}"""


@pytest.fixture(scope="module")
def filled(running):
    """Something to look at in each place: a posted bill, one at the desk, one on hold."""
    good = bills.of_its_own("QV-PLACES-1")
    bad = replace(bills.of_its_own("QV-PLACES-2"), gross_slip=Decimal("1.00"))
    held = replace(bills.of_its_own("QV-PLACES-3"), gross_slip=Decimal("1.00"))
    for bill in (good, bad, held):
        running.send(mail_with(bill))
    posted = running.posted(good.number)
    for bill in (bad, held):
        until(
            lambda: (d := running.document(bill.number)) and d.state == "at_desk",  # noqa: B023
            bill.number,
        )
    document = running.document(held.number)
    running.vx.documents.hold(document, timezone.localdate() + timedelta(days=5), "a credit note")
    mail = next(running.vx.messages.list(search=bad.number))
    awkward = running.vx.hand_in_mail(
        awkward_mails()["forwarded as a file, with a logo"].as_bytes(), pipeline="supplier-invoices"
    )
    return {
        "posted": posted.id, "waiting": running.document(bad.number).id, "mail": mail["id"],
        "awkward": awkward["id"],
    }  # fmt: skip


PLACES = {
    "today": ("/", "Came in"),
    "desk": ("/desk", "QV-PLACES-2"),
    "desk on hold": ("/desk?show=held", "QV-PLACES-3"),
    "work": ("/desk/{waiting}", "QV-PLACES-2"),
    "documents": ("/documents?search=QV-PLACES", "QV-PLACES-1"),
    "story": ("/documents/{posted}", "Complete in the ledger"),
    "why": ("/documents/{waiting}?view=why", "blocked: yes"),
    "values": ("/documents/{posted}?view=values", "BT-112"),
    "versions": ("/documents/{posted}?view=versions", "This is what was read first"),
    "page text": ("/documents/{posted}?view=text", "Monthly visit"),
    "mails": ("/mail?search=QV-PLACES", "QV-PLACES-2"),
    "mail": ("/mail/{mail}", "Message-ID"),
    "mail on the server": ("/mail/peek?mailbox=ap-inbox", "Nothing is changed on the server"),
    "mail accounted for": ("/mail/accounted?mailbox=ap-inbox", "accounted for"),
    "awkward mail": ("/mail/{awkward}", "Written by"),
    "pipelines": ("/pipelines", "supplier-invoices"),
    "pipeline": ("/pipelines/supplier-invoices", "No problems in the text"),
    "pipeline tried": ("/pipelines/supplier-invoices?view=try", "Drop a mail"),
    "pipeline's versions": ("/pipelines/supplier-invoices?view=versions", "Version 1"),
    "pipeline's runs": ("/pipelines/supplier-invoices?view=runs", "Run now"),
    "vendors": ("/vendors", "Brinefold Feeds Ltd"),
    "vendor": ("/vendors/V1003", "office@quillfin.example"),
    "orders": ("/orders", "PO-26-0101"),
    "order": ("/orders/PO-26-0101", "Frozen krill"),
    "companies": ("/masterdata", "Merrowmere Aquarium Trust"),
    "rates": ("/masterdata?what=rates", "Rates of exchange"),
    "books": ("/masterdata?what=books", "In the books"),
    "trail": ("/trail", "document"),
    "connections": ("/connections", "main-books"),
    "connection": ("/connections/main-books", "A test tries each step"),
    "people": ("/people", "ada"),
    "person": ("/people/ada", "admin"),
    "nowhere": ("/nowhere", "There is no such place"),
}


GROUND = "getComputedStyle(document.body).backgroundColor"
SMALL, LARGE = {"width": 1280, "height": 800}, {"width": 1920, "height": 1080}


def barred(page, rules=""):
    """What would bar somebody from the page as it is."""
    answer = page.evaluate(f"axe.run(document, {{{rules}resultTypes: ['violations']}})")
    return [
        (each["id"], each["impact"], [node["html"][:150] for node in each["nodes"][:3]])
        for each in answer["violations"]
        if each["impact"] in SERIOUS
    ]


def cut_off(page):
    """What is cut off, or moves the page sideways."""
    wide = page.evaluate("document.documentElement.scrollWidth > innerWidth")
    return page.evaluate(OPENED) or (["the page itself"] if wide else [])


def test_every_place_is_whole_and_bars_nobody_by_day_and_by_night(windows, running, filled):
    page = windows.signed_in(**SMALL)
    day = page.evaluate(GROUND)
    found = {}
    for name, (path, words) in PLACES.items():
        page.goto(running.stack.url + path.format(**filled))
        expect(page.get_by_text(words).or_(page.locator(f"input[value='{words}']")).first).to_be_visible()
        page.wait_for_timeout(150)
        page.evaluate(AXE())
        found[name, "small"] = cut_off(page)
        found[name, "by day"] = barred(page)
        # By night only the colours are others; everything else was looked at by day.
        page.emulate_media(color_scheme="dark")
        page.wait_for_timeout(200)
        assert page.evaluate(GROUND) != day
        found[name, "by night"] = barred(page, "runOnly: ['color-contrast'], ")
        page.emulate_media(color_scheme="light")
        page.set_viewport_size(LARGE)
        page.wait_for_timeout(50)
        found[name, "large"] = cut_off(page)
        page.set_viewport_size(SMALL)
    wrong = {" ".join(where): what for where, what in found.items() if what}
    assert wrong == {}, json.dumps(wrong, indent=1)


def test_why_a_document_waits_is_read_and_it_is_processed_again(page, running, filled):
    page.goto(f"{running.stack.url}/documents/{filled['waiting']}?view=why")
    expect(page.get_by_text(re.compile(r"total\.sum, block: .*1\.00 GBP too high"))).to_be_visible()
    expect(page.get_by_text("blocked: yes")).to_be_visible()
    expect(page.get_by_text("Before", exact=True)).to_have_count(0)
    page.get_by_role("button", name="Process again").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Why (for its story)").fill("to see it twice")
    dialog.get_by_role("button", name="Process again").click()
    expect(page.get_by_text("Processed again: it is at the desk.")).to_be_visible()
    expect(page.get_by_text("Before", exact=True)).to_be_visible()
    page.get_by_role("tab", name="Story").click()
    expect(page.get_by_text("had it processed again from its values")).to_be_visible()
    expect(page.get_by_text("“to see it twice”")).to_be_visible()


def test_what_is_posted_is_not_offered_to_be_processed_again(page, running, filled):
    page.goto(f"{running.stack.url}/documents/{filled['posted']}?view=why")
    expect(page.get_by_text(re.compile("stands in the ledger as BL-"))).to_be_visible()
    expect(page.get_by_role("button", name="Process again")).to_have_count(0)


def test_every_number_of_today_leads_to_its_list(page, running, filled):
    page.get_by_role("link", name=re.compile(r"^\d+ documents?")).click()
    expect(page).to_have_url(re.compile("/documents.received_from="))
    expect(page.get_by_role("row").filter(has_text="QV-PLACES-1")).to_be_visible()
    page.go_back()
    page.get_by_role("link", name=re.compile("untouched")).first.click()
    expect(page.get_by_role("button", name="untouched")).to_be_visible()
    page.go_back()
    page.get_by_role("link", name="on hold").click()
    expect(page.get_by_role("row").filter(has_text="QV-PLACES-3")).to_be_visible()


def test_documents_are_searched_narrowed_and_exported_as_shown(page, running, filled):
    page.goto(f"{running.stack.url}/documents")
    page.get_by_label("Number, vendor, amount, order, text").fill("penguins and otters")
    page.keyboard.press("Enter")
    expect(page.get_by_role("row").filter(has_text="QV-PLACES-1")).to_be_visible()
    page.get_by_label("State").select_option("posted")
    expect(page.get_by_role("row").filter(has_text="QV-PLACES-2")).to_have_count(0)
    expect(page).to_have_url(re.compile("search=penguins"))
    page.get_by_role("button", name="Columns").click()
    page.get_by_role("menuitemcheckbox", name="Ledger number").click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("columnheader", name="Ledger number")).to_have_count(0)
    page.get_by_role("button", name="Export").click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name="What is shown as CSV").click()
    head, *rows = download.value.path().read_text("utf-8-sig").splitlines()
    assert head.split(",")[:3] == ["Document", "Number", "Vendor's name"]
    assert "Ledger number" not in head
    (booked,) = running.bills("QV-PLACES-1")
    assert any("QV-PLACES-1" in row and booked["gross_total"] in row for row in rows)
    assert not any("QV-PLACES-2" in row for row in rows)


def test_a_connection_is_tested_step_by_step(page, running):
    page.goto(f"{running.stack.url}/connections/ap-inbox")
    page.get_by_role("button", name="Test").click()
    for step in ("find the server", "encryption", "sign in", "move mails"):
        expect(page.get_by_role("listitem").filter(has_text=step)).to_contain_text("good:")


def test_the_trail_is_narrowed_and_verified(page, running, filled):
    page.goto(f"{running.stack.url}/trail")
    page.get_by_label("What").select_option("document.held")
    row = page.get_by_role("row").filter(has_text="put it on hold")
    expect(row.first).to_be_visible()
    expect(page.get_by_role("row").filter(has_text="Mail moved")).to_have_count(0)
    page.get_by_role("button", name="Verify").click()
    expect(page.get_by_role("dialog")).to_contain_text("nothing was changed, taken out or put in")


def test_a_pipeline_says_what_is_wrong_where_and_is_published(page, running):
    page.goto(f"{running.stack.url}/pipelines/supplier-invoices")
    editor = page.get_by_role("textbox", name="Pipeline file")
    text = next(running.vx.pipelines.list())  # there is one
    before = running.vx.pipelines.get(text["name"])
    editor.click()
    page.keyboard.press("Control+Home")
    page.keyboard.type("# a remark\nsurprise: 1\n")
    problem = page.get_by_role("button", name=re.compile("Line 2, column 1"))
    expect(problem).to_contain_text("unknown key 'surprise'")
    expect(page.get_by_role("button", name="Publish as the next version")).to_be_disabled()
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Control+Shift+K")
    expect(page.get_by_text("No problems in the text.")).to_be_visible()
    page.get_by_role("button", name="Publish as the next version").click()
    expect(page.get_by_text(f"is published as version {before['number'] + 1}.")).to_be_visible()
    page.get_by_role("button", name="Versions", exact=True).click()
    page.get_by_role("button", name=re.compile(f"^{before['number']}\\s")).click()
    expect(page.get_by_role("heading", name=f"Version {before['number']}")).to_be_visible()
    page.get_by_role("link", name="its text").click()
    expect(editor).not_to_contain_text("a remark")


def test_what_loosens_a_pipeline_waits_for_a_second_person(page, windows, running):
    name = "supplier-invoices"
    before = running.vx.pipelines.get(name)
    page.goto(f"{running.stack.url}/pipelines/{name}")
    editor = page.get_by_role("textbox", name="Pipeline file")
    expect(editor).to_contain_text("pipeline")
    editor.get_by_text("minor unit").click()
    page.keyboard.press("End")
    for _ in range(13):
        page.keyboard.press("ArrowLeft")
    page.keyboard.type("2")
    looser = before["text"].replace("within: 1 minor unit", "within: 21 minor unit")
    expect(page.get_by_text("sums may be off by more")).to_be_visible()
    expect(page.get_by_text("It loosens something: somebody else lets it run.")).to_be_visible()
    page.get_by_role("button", name="Publish as the next version").click()
    expect(page.get_by_text("waits for a second person").first).to_be_visible()
    expect(page.get_by_role("button", name="Refuse")).to_be_visible()
    expect(page.get_by_role("button", name="Let it run")).to_have_count(0)
    running.vx.people.create({"username": "berta", "password": WORD, "role": "admin"})
    other = windows.signed_in("berta", WORD)
    other.goto(f"{running.stack.url}/pipelines/{name}?view=versions")
    other.get_by_label(re.compile("It loosens something")).fill("agreed")
    other.get_by_role("button", name="Let it run").click()
    expect(other.get_by_text(re.compile(f"{name} runs version"))).to_be_visible()
    assert running.vx.pipelines.get(name)["text"] == looser
    running.vx.pipelines.publish(before["text"])  # tightens it: runs at once


def test_a_mail_is_tried_in_the_browser_and_nothing_comes_of_it(page, running, tmp_path):
    from demo.mails import MAILS

    path = tmp_path / "slip.eml"
    path.write_bytes(MAILS[2].message().as_bytes())
    count = len(list(running.vx.documents.list()))
    page.goto(f"{running.stack.url}/pipelines/supplier-invoices?view=try")
    page.get_by_label("Mail or file to try").set_input_files(path)
    expect(page.get_by_role("heading", name="sg-10442.pdf: invoice")).to_be_visible(timeout=30_000)
    expect(page.get_by_text("60.00 GBP too high").first).to_be_visible()
    spot = page.get_by_role("img", name="Page 1").locator("rect")
    expect(spot).to_have_count(0)
    page.get_by_role("button", name="gross_total").focus()
    expect(spot).to_have_count(1)
    assert len(list(running.vx.documents.list())) == count


def test_a_run_is_asked_for_and_shown(page, running):
    page.goto(f"{running.stack.url}/pipelines/supplier-invoices?view=runs")
    page.get_by_role("button", name="Run now").click()
    expect(page.get_by_text(re.compile(r"Run \d+ has begun"))).to_be_visible()
    expect(page.get_by_role("row").nth(1)).to_contain_text("everything was looked through",
                                                           timeout=40_000)  # fmt: skip


def test_people_are_added_and_shut_out(page, windows, running):
    page.goto(f"{running.stack.url}/people")
    page.get_by_role("button", name="Person").click()
    dialog = page.get_by_role("dialog", name="A new person")
    dialog.get_by_label("User name").fill("nele")
    dialog.get_by_label("Password").fill("short")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog.get_by_role("alert")).to_contain_text("too short")
    dialog.get_by_label("Password").fill(WORD)
    dialog.get_by_role("button", name="Save").click()
    page.get_by_role("link", name="nele").click()
    other = windows.signed_in("nele", WORD)
    page.get_by_role("button", name="Let them sign in no more").click()
    expect(page.get_by_text("may not sign in")).to_be_visible()
    other.reload()
    expect(other.get_by_label("Password")).to_be_visible()
