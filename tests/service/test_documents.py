import io
import threading
from dataclasses import replace
from pathlib import Path

import pytest
from django.db import connections
from PIL import Image

from demo import bills
from demo.drawing import LAYOUTS, delivery_note, scanned
from demo.merrowmere import TIDEWRACK, vendors_csv
from tests.service.conftest import SYSTEM, install, jobs, rechecked, table
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.correct import correct
from veridox.service.desk.actions.discard import discard
from veridox.service.desk.actions.post import post
from veridox.service.desk.actions.resume import resume
from veridox.service.documents import pages, reading
from veridox.service.documents.models import Document, ReadingVersion, State
from veridox.service.documents.pages import picture_of, words_of
from veridox.service.documents.queries import accepted
from veridox.service.errors import BadInputError, NotAllowedError, StaleError, WrongStateError
from veridox.service.flow.actions.advance import advance
from veridox.service.flow.actions.fail import fail
from veridox.service.intake.actions.receive import upload
from veridox.service.intake.models import File
from veridox.service.ledgers.models import BillReservation, Posting
from veridox.service.storage import originals
from veridox.service.trail.models import Entry


def codes(document):
    return [finding["code"] for finding in document.findings]


@pytest.fixture
def slip(installation):
    """The invoice whose total is 60.00 too high, waiting at the desk."""
    return installation.checked(bills.SALT_SLIP, "band")


@pytest.fixture
def cleo(clerk):
    return Actor.of(clerk)


def test_a_clean_document_is_cleared_and_its_posting_queued(installation):
    document = installation.checked(bills.KRILL)
    assert document.state == State.CLEARED
    assert (document.vendor.code, document.order.number) == ("V1001", "PO-26-0101")
    posting = document.posting
    assert posting.bill["gross_total"] == "1220.40"
    assert jobs("post") == [{"posting_id": str(posting.pk)}]


@pytest.mark.parametrize(("bill", "layout", "code"), [
    (bills.SALT_SLIP, "band", "total.sum"),
    (bills.KIOSK, "letterhead", "vendor.unknown"),
    (bills.WRONG_ORDER, "window", "order.vendor"),
])  # fmt: skip
def test_what_is_wrong_waits_at_the_desk_with_its_finding(installation, bill, layout, code):
    document = installation.checked(bill, layout)
    assert document.state == State.AT_DESK
    assert code in codes(document)
    assert document.reasons
    assert jobs("post") == []
    assert not Posting.objects.exists()


@pytest.mark.parametrize(("content", "code"), [
    (LAYOUTS["band"](bills.KRILL)[:700], "file.broken"),
    (b"", "file.empty"),
    (scanned(LAYOUTS["band"](bills.SKIMMER), blur=15), "page.no_text"),
])  # fmt: skip
def test_a_file_that_cannot_be_read_waits_with_the_reason(installation, content, code):
    document = installation.arrive_bytes(content)
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    assert document.state == State.AT_DESK
    assert codes(document)[0] == code


def test_a_delivery_note_is_laid_aside(installation):
    document = installation.arrive_bytes(delivery_note(bills.VET_VISIT, "DN-1"))
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    assert document.state == State.ASIDE


def test_the_same_invoice_again_is_stopped(installation):
    first = installation.checked(bills.KRILL)
    second = installation.checked(bills.KRILL)
    assert first.state == State.CLEARED
    assert second.state == State.AT_DESK
    assert codes(second)[0] == "duplicate.exact"


def test_a_retyped_number_is_still_the_same_invoice(installation):
    installation.checked(bills.KRILL)
    again = replace(bills.KRILL, number="BF 2026/0413")
    assert "duplicate.exact" in codes(installation.checked(again))


def test_a_discarded_document_does_not_stand_in_the_way_of_its_successor(installation, cleo):
    wrong = installation.checked(bills.SALT_SLIP, "band")
    discard(cleo, wrong.pk, wrong.version, "the vendor sends it anew")
    right = installation.checked(replace(bills.SALT_SLIP, gross_slip=0), "band")
    assert right.state == State.CLEARED


def test_bills_in_flight_count_against_the_order(installation):
    installation.checked(bills.UPKEEP, "window")
    twice = installation.checked(replace(bills.UPKEEP, number="RE-26-39999"), "window")
    assert "order.total" in codes(twice)


def test_a_check_that_runs_twice_does_nothing_the_second_time(installation):
    document = installation.checked(bills.KRILL)
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    assert document.version == 2
    assert len(jobs("post")) == 1


# -- corrections


def test_a_correction_makes_a_new_version_and_the_document_goes_on(slip, cleo):
    after = correct(cleo, slip.pk, slip.version, {"fields": {"gross_total": "1421.28"}}, "slip")
    assert after.state == State.CLEARED
    assert after.posting.bill["gross_total"] == "1421.28"
    old, new = ReadingVersion.objects.filter(document=slip).order_by("number")
    assert old.reading["fields"]["gross_total"]["value"]["amount"] == "1481.28"
    assert new.reading["fields"]["gross_total"]["origin"] == "person"
    entry = Entry.objects.get(act="document.corrected")
    assert entry.actor == "person:cleo"
    assert entry.details["changes"]["gross_total"][1]["amount"] == "1421.28"


def test_of_two_clerks_the_second_is_told_and_overwrites_nothing(slip, cleo):
    correct(cleo, slip.pk, slip.version, {"fields": {"due_date": "2026-12-31"}})
    with pytest.raises(StaleError, match="nothing was changed"):
        correct(cleo, slip.pk, slip.version, {"fields": {"due_date": "2027-01-31"}})
    newest = ReadingVersion.objects.filter(document=slip).order_by("number").last()
    assert newest.reading["fields"]["due_date"]["value"] == "2026-12-31"


@pytest.mark.parametrize(("changes", "path"), [
    ({"fields": {"gross_total": "1.421,28"}}, "fields.gross_total"),
    ({"fields": {"gross_total": "1421.28 EUX"}}, "fields.gross_total"),
    ({"fields": {"gross_total": 1421.28}}, "fields.gross_total"),
    ({"fields": {"issue_date": "05/11/2026"}}, "fields.issue_date"),
    ({"fields": {"gros_total": "1"}}, "fields.gros_total"),
    ({"kind": "poem"}, "kind"),
    ({"lines": [{"amount": "x"}]}, "lines[1].amount"),
    ({"lines": "none"}, "lines"),
    ({"fields": {"number": "NaN\n"}, "what": 1}, "what"),
    ({"fields": {"net_total": "NaN"}}, "fields.net_total"),
])  # fmt: skip
def test_a_value_of_the_wrong_form_is_refused_at_its_place(slip, cleo, changes, path):
    with pytest.raises(BadInputError) as refused:
        correct(cleo, slip.pk, slip.version, changes)
    assert path in [error["path"] for error in refused.value.extra["errors"]]
    slip.refresh_from_db()
    assert slip.state == State.AT_DESK


def test_a_correction_without_any_difference_is_refused(slip, cleo):
    with pytest.raises(BadInputError, match="Nothing is different"):
        correct(cleo, slip.pk, slip.version, {"fields": {}})


def test_a_posted_or_cleared_document_cannot_be_corrected(installation, cleo):
    document = installation.checked(bills.KRILL)
    with pytest.raises(WrongStateError, match="cleared"):
        correct(cleo, document.pk, document.version, {"fields": {"number": "X"}})


def test_a_scan_is_read_and_its_pages_are_kept(installation, monkeypatch):
    content = scanned(LAYOUTS["band"](bills.SKIMMER))
    known = {
        "name": "scan.pdf", "declared_type": "", "media_type": "application/pdf",
        "size": len(content), "sha256": originals().put(content),
    }  # fmt: skip
    file, again = (upload(SYSTEM, installation.version, **known) for _ in range(2))
    reading.read(file.pk)
    document = Document.objects.get(file=file)
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    assert (document.number, str(document.gross_total)) == ("SG/10467", "415.2000")
    # It lay askew: people see it as it was read, with the dark band level.
    picture = Image.open(io.BytesIO(picture_of(document.file.sha256, 1, 75)))
    page = document.file.pages[0]
    points = (page["width"], page["height"])
    assert picture.size == pytest.approx([each * 75 / 72 for each in points], abs=1)
    dark = [
        [picture.convert("L").getpixel((x, y)) < 128 for y in range(40, 120)] for x in (30, 590)
    ]
    assert abs(sum(dark[0]) - sum(dark[1])) <= 2
    with monkeypatch.context() as patch:
        # Reading again neither needs the file nor looks at a picture.
        patch.setattr(pages, "originals", None)
        patch.setattr(reading, "originals", None)
        found = words_of(document.file.sha256, 1)
        reading.read(again.pk)
    assert "SG/10467" in found["text"]
    assert Document.objects.get(file=again).number == document.number


def test_xml_beside_a_page_is_the_same_invoice(installation):
    xml = (Path(__file__).parent.parent / "data" / "invoice-ubl.xml").read_bytes()
    content = LAYOUTS["letterhead"](bills.KRILL)
    known = {"declared_type": "", "size": 1, "media_type": "application/pdf"}
    sha256 = originals().put(content)
    file = upload(SYSTEM, installation.version, name="a.pdf", sha256=sha256, **known)
    File.objects.create(
        pipeline_version=installation.version, name="a.xml", media_type="application/xml", size=1,
        sha256=originals().put(xml), state="aside", goes_with=file, position=2,
    )  # fmt: skip
    reading.read(file.pk)
    document = Document.objects.get(file=file)
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    assert document.state == State.AT_DESK
    # The page asks for another amount than the XML: a person is told both.
    (finding,) = [each for each in document.findings if each["fields"] == ["gross_total"]]
    assert (finding["code"], finding["weight"]) == ("einvoice.differs", "block")
    newest = document.readings.get().reading["fields"]
    assert newest["order_number"]["origin"] == "embedded"
    assert newest["number"]["box"] is not None


def test_a_scan_can_be_entered_by_hand_and_posted_with_a_reason(installation, cleo):
    document = installation.arrive_bytes(scanned(LAYOUTS["band"](bills.SKIMMER), blur=15))
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    entered = {
        "kind": "invoice",
        "fields": {
            "number": "SG/10467", "issue_date": "2026-11-12", "currency": "GBP",
            "seller.name": "Saltglass Systems Ltd", "order_number": "PO-26-0103",
            "net_total": "346.00", "tax_total": "69.20", "gross_total": "415.20",
        },
        "lines": [{"description": "Skimmer cup", "quantity": "4", "unit_price": "86.50",
                   "amount": "346.00"}],
    }  # fmt: skip
    after = correct(cleo, document.pk, document.version, entered)
    assert codes(after) == ["page.no_text", "tax.no_id"]
    done = post(cleo, after.pk, after.version, "entered from the picture")
    assert done.state == State.CLEARED
    assert done.posting.bill["lines"][0]["amount"] == "346.00"


# -- the desk


def test_posting_against_a_finding_needs_a_reason(slip, cleo):
    with pytest.raises(BadInputError, match="give a reason"):
        post(cleo, slip.pk, slip.version, " ")


def test_what_was_accepted_is_kept_with_name_and_reason(slip, cleo):
    after = post(cleo, slip.pk, slip.version, "agreed by phone")
    assert after.state == State.CLEARED
    (said,) = accepted(after)
    assert (said["code"], said["by"], said["reason"], said["reading_version"]) == (
        "total.sum", "person:cleo", "agreed by phone", 1,
    )  # fmt: skip


@pytest.mark.parametrize(("field", "value", "holds"), [
    ("due_date", "2026-12-31", True), ("gross_total", "1491.28", False),
])  # fmt: skip
def test_what_was_accepted_holds_for_these_figures_and_no_others(slip, cleo, field, value, holds):
    after = post(cleo, slip.pk, slip.version, "agreed")
    Document.objects.filter(pk=slip.pk).update(state=State.AT_DESK)  # as after a refusal
    again = correct(cleo, slip.pk, after.version, {"fields": {field: value}})
    assert [finding["code"] for finding in again.findings] == ["total.sum"]
    assert (bool(accepted(again)), again.state == State.CLEARED) == (holds, holds)


def test_an_unknown_vendor_cannot_be_accepted_away(installation, cleo):
    document = installation.checked(bills.KIOSK)
    with pytest.raises(WrongStateError, match="put right"):
        post(cleo, document.pk, document.version, "never mind")


def test_only_a_person_clears(slip):
    with pytest.raises(NotAllowedError):
        post(SYSTEM, slip.pk, slip.version, "because")


def test_discarding_needs_a_reason_and_ends_the_document(slip, cleo):
    with pytest.raises(BadInputError):
        discard(cleo, slip.pk, slip.version, "")
    after = discard(cleo, slip.pk, slip.version, "sent twice")
    assert (after.state, after.end_reason) == (State.DISCARDED, "sent twice")
    assert after.ended_at is not None


def test_a_document_waits_until_its_vendor_is_imported(installation):
    document = installation.checked(bills.KIOSK)
    row = f"V3001,{TIDEWRACK.name},{TIDEWRACK.tax_id},GB,,no,no\n"
    table("vendors", (vendors_csv() + row).encode())
    assert {"document_id": document.pk} in rechecked()
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    assert (document.state, document.vendor.code) == (State.CLEARED, "V3001")


def test_a_failed_document_goes_on_where_it_stopped(installation, cleo):
    document = installation.checked(bills.KRILL)
    fail(SYSTEM, document.pk, "the ledger was down all night")
    document.refresh_from_db()
    assert (document.state, document.reasons) == (State.FAILED, ["the ledger was down all night"])
    after = resume(cleo, document.pk, document.version)
    assert after.state == State.CLEARED
    assert len(jobs("post")) == 2


def test_of_equal_invoices_checked_at_the_same_moment_one_goes_on(committed, monkeypatch):
    installation = install(monkeypatch)
    documents = [installation.arrive(bills.KRILL) for _ in range(4)]
    barrier = threading.Barrier(len(documents))

    def run(document):
        barrier.wait()
        try:
            advance(SYSTEM, document.pk)
        finally:
            connections.close_all()

    threads = [threading.Thread(target=run, args=(each,)) for each in documents]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    states = sorted(Document.objects.values_list("state", flat=True))
    assert states == [State.AT_DESK] * 3 + [State.CLEARED]
    assert BillReservation.objects.count() == 1
    assert Posting.objects.count() == 1
