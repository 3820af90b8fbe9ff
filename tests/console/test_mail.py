"""Mail in the console: what was left out is taken in, files are handed in, mails set aside."""

import pytest
from playwright.sync_api import expect

from demo import bills
from demo.awkward import awkward_mails
from demo.drawing import LAYOUTS, replace
from tests.stack.running import until

pytestmark = pytest.mark.stack
MAILS = awkward_mails()


def hand_in(running, name):
    return running.vx.hand_in_mail(MAILS[name].as_bytes(), pipeline="supplier-invoices")["id"]


def test_why_a_file_was_left_out_is_said_and_it_is_taken_in_by_a_click(page, running):
    mail = hand_in(running, "forwarded as a file, with a logo")
    page.goto(f"{running.stack.url}/mail/{mail}")
    expect(page.get_by_text("shown within the text; small (160 x 48 pixels)")).to_be_visible()
    expect(page.get_by_text("buchhaltung@ostrel.example")).to_be_visible()
    page.get_by_role("button", name="Take it in").first.click()
    expect(page.get_by_text("image001.png is taken in.")).to_be_visible()
    until(
        lambda: running.vx.messages.get(mail)["files"][0]["state"] != "aside", "the file to be read"
    )


def test_a_mail_is_set_aside_with_a_reason_and_taken_in_again(page, running):
    mail = hand_in(running, "an archive with a password")
    page.goto(f"{running.stack.url}/mail/{mail}")
    expect(page.get_by_text("the archive asks for a password").first).to_be_visible()
    page.get_by_role("button", name="Set aside").click()
    page.get_by_label("Why").fill("sent again without a password")
    page.get_by_role("dialog").get_by_role("button", name="Set aside").click()
    expect(page.get_by_text("Set aside: sent again without a password")).to_be_visible()
    assert running.vx.messages.get(mail)["outcome"] == "set aside"
    page.get_by_role("button", name="Take in again").click()
    page.get_by_label("Why").fill("a slip")
    page.get_by_role("dialog").get_by_role("button", name="Take in again").click()
    until(lambda: running.vx.messages.get(mail)["outcome"] != "set aside", "taken in again")


def test_the_html_of_a_mail_runs_and_fetches_nothing(page, running):
    asked = []
    page.on("request", lambda request: asked.append(request.url))
    mail = hand_in(running, "a bill in the mail itself")
    page.goto(f"{running.stack.url}/mail/{mail}")
    frame = page.frame_locator("iframe")
    expect(frame.get_by_text("EUR 499,80")).to_be_visible()
    expect(frame.locator("img, script")).to_have_count(0)
    page.get_by_role("button", name="plain text").click()
    expect(page.locator("pre")).to_contain_text("Please see the HTML part.")
    assert all(url.startswith(running.stack.url) for url in asked)


def test_files_are_handed_in_and_one_that_is_refused_keeps_no_other(page, running, tmp_path):
    number = "QV-HANDED-7"
    (tmp_path / "bill.pdf").write_bytes(LAYOUTS["band"](bills.of_its_own(number)))
    (tmp_path / "not a mail.eml").write_bytes(b"%PDF-1.4")
    (tmp_path / "mail.eml").write_bytes(MAILS["two bills in an archive"].as_bytes())
    page.goto(f"{running.stack.url}/mail")
    page.get_by_label("Files to hand in").set_input_files(sorted(tmp_path.iterdir()))
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Hand in 3 files").click()
    expect(dialog.get_by_text("taken in", exact=True)).to_be_visible()
    expect(dialog.get_by_text("mail, 2 files")).to_be_visible()
    expect(dialog.get_by_text("is no mail; hand it in as a file instead")).to_be_visible()
    until(lambda: running.document(number), "the bill to be read")


def test_what_lies_on_the_server_is_shown_with_what_decides(page, running):
    message = awkward_mails()["a link and no file"]
    del message["To"]
    message["To"] = "ap@merrowmere.example"
    running.send(message)
    page.goto(f"{running.stack.url}/mail/peek?mailbox=ap-inbox")

    def there():
        page.get_by_role("button", name="Look again").click()
        return page.get_by_text("with_files: it has no files").count() > 0

    until(there, "the mail on the server")
    page.get_by_role("link", name="Accounted for").click()
    expect(page.get_by_text("Everything is accounted for")).to_be_visible()
    page.get_by_role("button", name="not wanted").click()
    expect(page.get_by_text("with_files: it has no files").first).to_be_visible()
