"""Commands that need no service."""

import csv
import io
import json
import re
import subprocess
import sys
import zipfile
from email import message_from_bytes, policy
from email.message import EmailMessage
from pathlib import Path

import pikepdf
import pytest
from click.testing import CliRunner

from demo import bills
from demo.drawing import LAYOUTS
from veridox.cli.main import cli

PIPELINE = Path("demo/pipelines/supplier-invoices.pipeline.yaml")
POST_ROOM = Path("demo/pipelines/post-room.pipeline.yaml")


def run(*arguments):
    return CliRunner().invoke(cli, [str(each) for each in arguments])


@pytest.fixture
def krill(tmp_path):
    path = tmp_path / "krill.pdf"
    path.write_bytes(LAYOUTS["letterhead"](bills.KRILL))
    return path


@pytest.fixture
def slip(tmp_path):
    path = tmp_path / "slip.pdf"
    path.write_bytes(LAYOUTS["band"](bills.SALT_SLIP))
    return path


def test_a_pdf_is_read_as_a_table(krill):
    done = run("read", krill)
    assert done.exit_code == 0
    assert "gross_total\t1220.40 GBP" in done.output
    assert "Frozen krill, 2 kg block" in done.output


def test_json_is_one_list_for_all_files(krill, slip):
    done = run("read", "--json", krill, slip)
    documents = json.loads(done.stdout)
    assert [each["fields"]["number"]["value"] for each in documents] == [
        "BF-2026-0413", "SG/10442",
    ]  # fmt: skip
    assert documents[1]["findings"][0]["code"] == "total.sum"


def test_what_does_not_add_up_is_told_and_exits_with_one(slip):
    done = run("read", slip)
    assert done.exit_code == 1
    assert "60.00 GBP too high" in done.output


@pytest.fixture
def mail(tmp_path):
    """A mail with a bill and a visiting card, or with its own words alone."""

    def written(bill=None, words="Please find our invoice attached."):
        message = EmailMessage()
        message["From"], message["To"] = "billing@saltglass.example", "ap@merrowmere.example"
        message["Subject"], message["Message-ID"] = "Invoice", "<a@saltglass.example>"
        message.set_content(words)
        if bill is not None:
            message.add_attachment(
                bill.read_bytes(), maintype="application", subtype="pdf", filename="bill.pdf"
            )
            card = b"BEGIN:VCARD\nVERSION:3.0\nFN:A\nEND:VCARD\n"
            message.add_attachment(card, maintype="text", subtype="vcard", filename="me.vcf")
        path = tmp_path / "letter.eml"
        path.write_bytes(bytes(message))
        return path

    return written


def test_a_mail_is_read_by_its_files_and_what_is_left_out_is_told(mail, krill):
    done = run("read", mail(krill))
    assert done.exit_code == 0
    assert "letter.eml: bill.pdf" in done.output
    assert "gross_total\t1220.40 GBP" in done.output
    assert "me.vcf: not read: " in done.output


def test_a_file_of_a_mail_that_cannot_be_opened_exits_with_one(mail, krill, tmp_path):
    locked = tmp_path / "locked.zip"
    with zipfile.ZipFile(locked, "w") as archive:
        archive.writestr("bill.pdf", krill.read_bytes())
    raw = bytearray(locked.read_bytes())
    for mark, flags in ((b"PK\x03\x04", 6), (b"PK\x01\x02", 8)):
        raw[raw.index(mark) + flags] |= 1  # both headers say that a password is needed
    message = message_from_bytes(mail(krill).read_bytes(), policy=policy.default)
    message.add_attachment(bytes(raw), maintype="application", subtype="zip", filename="more.zip")
    path = tmp_path / "both.eml"
    path.write_bytes(bytes(message))
    done = run("read", path)
    assert "gross_total\t1220.40 GBP" in done.output
    assert "not read: " in done.output
    assert done.exit_code == 1


def test_a_mail_without_files_is_read_by_its_own_words(mail):
    words = "Invoice number: 2026-17\nDate: 5 November 2026\n\nTotal due: 110.50 GBP\n"
    (document,) = json.loads(run("read", "--json", mail(words=words)).stdout)
    assert document["document"]["name"] == "mail text.txt"
    assert document["fields"]["number"]["value"] == "2026-17"


def test_our_companies_are_the_buyer_and_a_file_of_them_says_what_it_needs(krill, tmp_path):
    ours = tmp_path / "ours.csv"
    ours.write_text("name,tax_id\nMerrowmere Aquarium Trust,GB740175356\n")
    (document,) = json.loads(run("read", "--json", "--entities", ours, krill).stdout)
    assert document["fields"]["buyer.name"]["value"] == "Merrowmere Aquarium Trust"
    ours.write_text("company,vat\nA,B\n")
    done = run("read", "--entities", ours, krill)
    assert done.exit_code == 1
    assert "the columns name and tax_id are needed; found: company, vat" in done.output


def test_a_broken_file_is_told_and_the_others_are_read(krill, tmp_path):
    (tmp_path / "cut.pdf").write_bytes(krill.read_bytes()[:500])
    (tmp_path / "empty.pdf").write_bytes(b"")
    done = run("read", tmp_path)
    assert done.exit_code == 1
    assert "damaged or cut off" in done.output
    assert "0 bytes" in done.output
    assert "BF-2026-0413" in done.output


def test_csv_cells_cannot_become_formulas(krill):
    rows = list(csv.DictReader(io.StringIO(run("read", "--csv", krill).stdout)))
    assert {row["field"] for row in rows} >= {"number", "gross_total"}
    assert all(row["value"][:1] not in "=+-@" for row in rows)


def test_text_and_words_of_the_pages(krill):
    assert "Brinefold Feeds Ltd" in run("read", "--text", krill).stdout
    assert any(
        line.endswith("\tBF-2026-0413")
        for line in run("read", "--words", krill).stdout.splitlines()
    )


def test_a_picture_shows_what_was_read(krill, tmp_path):
    picture = tmp_path / "seen.png"
    assert run("read", krill, "--picture", picture).exit_code == 0
    assert picture.read_bytes().startswith(b"\x89PNG")


def test_a_good_pipeline_is_good():
    done = run("pipeline", "check", PIPELINE)
    assert (done.exit_code, done.output.strip().endswith("is good")) == (0, True)


def test_each_problem_of_a_pipeline_is_told_as_file_line_column(tmp_path):
    path = tmp_path / "bad.pipeline.yaml"
    path.write_text(PIPELINE.read_text().replace("mailbox:", "mailbx:"))
    done = run("pipeline", "check", path)
    assert done.exit_code == 1
    assert f"{path}:7:5: unknown key 'mailbx' (did you mean mailbox?)" in done.output
    lines = done.output.splitlines()
    assert "    7 |   - mailbx: ap-inbox" in lines
    assert "      |     ^^^^^^" in lines


def test_a_new_pipeline_file_is_good_and_nothing_is_written_over(tmp_path):
    path = tmp_path / "x.pipeline.yaml"
    done = run("pipeline", "new", "first-one", "--out", path)
    assert (done.exit_code, "change it, then" in done.output) == (0, True)
    assert run("pipeline", "check", path).exit_code == 0
    again = run("pipeline", "new", "first-one", "--out", path)
    assert (again.exit_code, "there already" in again.output) == (1, True)
    assert run("pipeline", "new", "First One").exit_code == 2
    nowhere = run("pipeline", "new", "first-one", "--out", tmp_path / "no" / "x.yaml")
    assert (nowhere.exit_code, "cannot be written" in nowhere.output) == (1, True)


@pytest.mark.parametrize("arguments", [
    ("read",), ("read", "/no/such/file.pdf"), ("nonsense",), ("document", "show", "x"),
    ("desk", "discard", "3"),
])  # fmt: skip
def test_wrong_usage_exits_with_two(arguments):
    done = subprocess.run(
        [sys.executable, "-m", "veridox.cli.main", *arguments], capture_output=True, text=True
    )
    assert done.returncode == 2
    assert done.stderr
    assert "Traceback" not in done.stderr


def test_a_service_that_cannot_be_reached_exits_with_three():
    done = subprocess.run(
        [sys.executable, "-m", "veridox.cli.main", "--url", "http://127.0.0.1:9", "mail", "list"],
        capture_output=True, text=True,
    )  # fmt: skip
    assert done.returncode == 3
    assert "Is the service running?" in done.stderr


# -- fields of one's own, several documents, several processes


@pytest.fixture
def declaring(tmp_path):
    path = tmp_path / "own.pipeline.yaml"
    fields = (
        "read:\n  fields:\n    customer: {type: text, labels: [customer no], example: MW-0081}\n"
    )
    path.write_text(PIPELINE.read_text().replace("read:\n", fields, 1))
    return path


def test_a_pipelines_own_fields_are_read_without_a_service(krill, declaring):
    (document,) = json.loads(run("read", krill, "--json", "--pipeline", declaring).stdout)
    assert document["fields"]["customer"]["value"] == "MW-0081"
    assert document["extra_fields"]["customer"]["title"] == "Customer"
    (plain,) = json.loads(run("read", krill, "--json").stdout)
    assert "customer" not in plain["fields"]


@pytest.fixture
def urgent(tmp_path, krill):
    """A mail with the bill, of which the post room's pipeline takes a field of its own."""
    mail = EmailMessage()
    mail["From"], mail["To"], mail["Subject"] = (
        "ap@biscay.example",
        "x@merrowmere.example",
        "URGENT: bill",
    )
    mail.set_content("please see the file")
    mail.add_attachment(
        krill.read_bytes(), maintype="application", subtype="pdf", filename="krill.pdf"
    )
    path = tmp_path / "urgent.eml"
    path.write_bytes(mail.as_bytes())
    return path


def test_a_pipelines_fields_come_from_the_mail_or_by_default_as_in_the_service(krill, urgent):
    def own(path):
        (document,) = json.loads(run("read", path, "--json", "--pipeline", POST_ROOM).stdout)
        field = document["fields"]["urgency"]
        return field["value"], field["origin"]

    assert own(urgent) == ("urgent", "mail")
    assert own(krill) == ("normal", "derived")


def test_a_pipeline_file_with_mistakes_is_told_with_its_place(krill, declaring):
    declaring.write_text(declaring.read_text().replace("type: text", "type: txt"))
    done = run("read", krill, "--pipeline", declaring)
    assert done.exit_code == 1
    assert re.search(r"own\.pipeline\.yaml:\d+:\d+: 'txt' is not known", done.output)


def test_a_file_with_two_bills_gives_two_documents(tmp_path, krill, slip):
    book = pikepdf.new()
    for path in (krill, slip):
        book.pages.extend(pikepdf.open(path).pages)
    book.save(tmp_path / "both.pdf")
    one, other = json.loads(run("read", "--json", tmp_path / "both.pdf").stdout)
    assert [each["document"]["pages"] for each in (one, other)] == [[1], [2]]
    assert "total.sum" not in [finding["code"] for finding in one["findings"]]
    assert "total.sum" in [finding["code"] for finding in other["findings"]]


@pytest.mark.parametrize("processes", [1, 3])
def test_a_folder_comes_in_the_order_of_its_names_however_many_read(tmp_path, processes):
    folder = tmp_path / "bills"
    folder.mkdir()
    for name, bill in (("c", bills.KRILL), ("a", bills.VET_VISIT), ("b", bills.SKIMMER)):
        (folder / f"{name}.pdf").write_bytes(LAYOUTS["letterhead"](bill))
    done = run("read", "--json", "--processes", processes, folder)
    names = [each["document"]["name"] for each in json.loads(done.stdout)]
    assert names == ["a.pdf", "b.pdf", "c.pdf"]
