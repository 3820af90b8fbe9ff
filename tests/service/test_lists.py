"""Lists, their filters and files; numbers of a day; the search; people."""

import io
import zipfile
from dataclasses import replace
from datetime import timedelta
from decimal import Decimal
from zoneinfo import ZoneInfo

import pytest
from django.utils import timezone

from demo import bills
from tests.service.conftest import SYSTEM
from tests.service.test_api import Caller
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.take import take
from veridox.service.documents.models import Document
from veridox.service.errors import BadInputError, NotThereError, WrongStateError
from veridox.service.people.actions.people import (
    change_own_password,
    change_person,
    create_person,
)
from veridox.service.reports.today import today
from veridox.service.web.tables import harmless


@pytest.fixture
def works(installation, clerk):
    return Caller(clerk, "read", "work")


@pytest.fixture
def rules(installation, admin):
    return Caller(admin, "read", "work", "admin")


@pytest.fixture
def three(installation):
    """A cleared bill, one with a slip, one of an unknown vendor."""
    return [
        installation.checked(bills.KRILL),
        installation.checked(bills.SALT_SLIP, "band"),
        installation.checked(bills.KIOSK),
    ]


def numbers(answer):
    assert answer.status_code == 200, answer.content
    return sorted(row["number"] for row in answer.json()["results"])


ALL = ["BF-2026-0413", "SG/10442", "TW-5521"]


@pytest.mark.parametrize(("wanted", "found"), [
    ({}, ALL),
    ({"state": "at_desk"}, ALL[1:]),
    ({"state": "at_desk,cleared"}, ALL),
    ({"amount_from": "1000"}, ALL[:2]),
    ({"amount_from": "1000", "amount_to": "1220.40"}, ALL[:1]),
    ({"issued_from": "2026-11-05"}, ALL[1:]),
    ({"issued_from": "2026-11-05", "issued_to": "2026-11-05"}, ALL[1:2]),
    ({"received_to": "2020-01-01"}, []),
    ({"received_from": "2020-01-01T00:00:00Z"}, ALL),
    ({"touched": "no"}, ALL),
    ({"touched": "yes"}, []),
    ({"vendor": "V1001"}, ALL[:1]),
    ({"entity": "aquarium-trust", "currency": "GBP"}, ALL),
    ({"pipeline": "supplier-invoices"}, ALL),
    ({"finding": "vendor.unknown"}, ALL[2:]),
    ({"taken_by": "nobody"}, ALL),
    ({"search": "1,481.28"}, ALL[1:2]),
    ({"search": "1.481,28"}, ALL[1:2]),
    ({"search": "oat drink"}, ALL[2:]),  # stands on the page alone
    ({"search": '"reef salt" hydrometer'}, ALL[1:2]),
    ({"search": "PO-26-0101"}, ALL[:1]),
    ({"search": "tidewrack"}, ALL[2:]),
    ({"search": "nothing holds this"}, []),
])  # fmt: skip
def test_documents_are_narrowed_down(works, three, wanted, found):
    assert numbers(works.get("/documents", **wanted)) == found


@pytest.mark.parametrize(("name", "value"), [
    ("state", "lost"), ("amount_from", "much"), ("amount_to", "NaN"), ("issued_from", "31.3.2026"),
    ("received_from", "yesterday"), ("touched", "perhaps"), ("held", "1"),
])  # fmt: skip
def test_a_wish_that_cannot_be_read_is_told(works, name, value):
    answer = works.get("/documents", **{name: value})
    assert answer.status_code == 400
    assert name in answer.json()["detail"]


def test_the_desk_knows_whose_is_whose(works, three, clerk):
    take(Actor.of(clerk), three[1].pk)
    assert numbers(works.get("/desk", taken_by="cleo")) == ["SG/10442"]
    assert numbers(works.get("/desk", taken_by="nobody")) == ["TW-5521"]


# -- files for spreadsheets


def test_what_is_shown_comes_as_csv_with_the_columns_asked_for(works, three):
    answer = works.get("/documents/export", columns="number,gross_total,state", state="at_desk")
    lines = b"".join(answer.streaming_content).decode("utf-8-sig").splitlines()
    assert lines == [
        "Number,Total with tax,State",
        "SG/10442,1481.28,at_desk",
        "TW-5521,319.68,at_desk",
    ]
    assert "attachment" in answer["Content-Disposition"]


def test_it_comes_as_xlsx_with_numbers_as_numbers(works, three):
    answer = works.get("/documents/export", **{"as": "xlsx"})
    book = zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content)))
    sheet = book.read("xl/worksheets/sheet1.xml").decode()
    assert "<v>1481.28</v>" in sheet
    assert "<f>" not in sheet


@pytest.mark.parametrize("wanted", [{"as": "pdf"}, {"columns": "number,password"}, {"state": "x"}])
def test_a_file_that_cannot_be_made_is_told(works, wanted):
    assert works.get("/documents/export", **wanted).status_code == 400


@pytest.mark.parametrize("text", ["=1+1", "+cmd", "-2", "@sum", "\tx", "\rx"])
def test_no_cell_is_a_formula(text):
    assert harmless(text) == "'" + text
    assert harmless("a" + text) == "a" + text


def test_a_vendors_name_cannot_reach_into_a_spreadsheet(works, installation):
    evil = installation.checked(bills.KIOSK)
    Document.objects.filter(pk=evil.pk).update(seller_name='=HYPERLINK("http://x")')
    answer = works.get("/documents/export", columns="seller_name")
    assert "'=HYPERLINK" in b"".join(answer.streaming_content).decode()


def test_the_trail_is_narrowed_and_exported_with_its_seals(works, three):
    names = works.get("/trail/names").json()
    assert "document.checked" in names["acts"]
    assert "system:test" in names["actors"]
    later = (timezone.now() + timedelta(hours=1)).isoformat()
    assert works.get("/trail", **{"from": later}).json()["results"] == []
    answer = works.get("/trail/export", act="document.checked")
    lines = b"".join(answer.streaming_content).decode("utf-8-sig").splitlines()
    assert lines[0].startswith("Entry,At,Who,Act")
    assert len(lines) == 4
    assert works.get("/trail", **{"from": "soon"}).status_code == 400


# -- numbers of a day, the search, what stands beside


def test_the_day_counts_what_came_and_where_it_stands(installation, three):
    now = timezone.now()
    numbers = today(now.date(), ZoneInfo("UTC"))
    assert numbers["came_in"]["documents"] == 3
    assert numbers["came_in"]["uploads"] == 3
    assert {each["state"]: each["count"] for each in numbers["came_in"]["states"]} == {
        "at_desk": 2, "cleared": 1,
    }  # fmt: skip
    assert numbers["waiting"]["count"] == 2
    assert numbers["trend"][-1]["came_in"] == 3
    assert len(numbers["trend"]) == 14
    before = today(now.date() - timedelta(days=1), ZoneInfo("UTC"))
    assert before["came_in"]["documents"] == 0


def test_the_untouched_rate_counts_what_nobody_had_a_hand_in(installation):
    now = timezone.now()
    for index, touched in enumerate((False, False, True)):
        issued = bills.VET_VISIT.issued - timedelta(days=7 * index)
        each = installation.checked(replace(bills.VET_VISIT, number=f"QV-{index}", issued=issued))
        Document.objects.filter(pk=each.pk).update(state="posted", ended_at=now, touched=touched)
        each.posting.posted_at = each.file.received_at + timedelta(seconds=10 * (index + 1))
        each.posting.save()
    posted = today(now.date(), ZoneInfo("UTC"))["posted"]
    assert (posted["count"], posted["untouched"]) == (3, 2)
    assert posted["half_within"] == 20.0
    assert posted["most_within"] == 28.0
    assert posted["amounts"][0]["amount"] == Decimal("2205.36")


def test_a_day_begins_where_one_lives(works, three):
    Document.objects.filter(pk=three[0].pk).update(received_at="2026-03-01T23:30:00Z")
    in_berlin = works.get("/today", day="2026-03-02", zone="Europe/Berlin").json()
    assert in_berlin["came_in"]["documents"] == 1
    assert in_berlin["from"].startswith("2026-03-01T23:00:00")
    assert works.get("/today", day="2026-03-02", zone="UTC").json()["came_in"]["documents"] == 0


@pytest.mark.parametrize("wanted", [{"zone": "Mars/Crater"}, {"zone": "../etc"}, {"day": "today"}])
def test_a_day_that_is_none_is_told(works, wanted):
    assert works.get("/today", **wanted).status_code == 400


def test_one_question_finds_records_of_all_kinds(works, three):
    found = works.get("/search", q="saltglass").json()
    assert [each["number"] for each in found["documents"]] == ["SG/10442"]
    assert [each["code"] for each in found["vendors"]] == ["V1002"]
    assert [each["number"] for each in works.get("/search", q="0204").json()["orders"]] == [
        "PO-26-0204"
    ]
    assert works.get("/search", q=" ").status_code == 400


def test_the_order_stands_beside_with_its_lines_paired(works, three):
    found = works.get(f"/documents/{three[1].pk}/orders").json()
    assert [each["number"] for each in found["orders"]] == ["PO-26-0102"]
    assert found["pairs"] == [
        {"order": "PO-26-0102", "position": 1}, {"order": "PO-26-0102", "position": 2},
    ]  # fmt: skip
    assert works.get(f"/documents/{three[2].pk}/orders").status_code == 404


def test_a_pages_words_come_with_their_boxes(works, three):
    found = works.get(f"/documents/{three[1].pk}/pages/1/words").json()
    words = {word["text"]: word["box"] for word in found["words"]}
    left, top, right, bottom = words["SG/10442"]
    assert 0 < left < right < found["width"]
    assert 0 < top < bottom < found["height"]
    assert "Hydrometer, glass, calibrated" in found["text"]
    assert works.get(f"/documents/{three[1].pk}/pages/9/words").status_code == 404


# -- people


def test_roles_are_enforced_by_the_service(installation, admin):
    approver = create_person(SYSTEM, "anna", "a long enough word", "approver")
    slip = installation.checked(bills.SALT_SLIP, "band")
    anna = Caller(approver, "read", "comment", "work", "admin")  # the token asks for more
    path = f"/documents/{slip.pk}"
    assert anna.get(path).json()["may"] == ["comment"]
    assert anna.send("post", f"{path}/comments", {"text": "fine by me"}).status_code == 201
    for act, body in (
        ("post", {"reason": "x"}), ("discard", {"reason": "x"}), ("take", {}),
        ("hold", {"until": None}), ("return", {"to": "a@b.example", "subject": "s", "text": "t"}),
        ("restore", {"number": 1}), ("release", {}),
    ):  # fmt: skip
        answer = anna.send("post", f"{path}/{act}", body, If_Match='"2"')
        assert answer.status_code == 403, act
    assert (
        anna.send("patch", f"{path}/fields", {"kind": "other"}, If_Match='"2"').status_code == 403
    )
    assert anna.send("post", "/people", {}).status_code == 403
    assert anna.send("patch", "/people/anna", {"role": "admin"}).status_code == 403


def test_a_reading_token_does_not_comment(installation, clerk):
    slip = installation.checked(bills.SALT_SLIP, "band")
    reads = Caller(clerk, "read")
    answer = reads.send("post", f"/documents/{slip.pk}/comments", {"text": "x"})
    assert answer.status_code == 403


def test_people_are_created_listed_and_changed(rules):
    wanted = {
        "username": "bo",
        "name": "Bo Lind",
        "role": "clerk",
        "password": "a long enough word",
    }
    created = rules.send("post", "/people", wanted)
    assert created.status_code == 201
    assert "password" not in created.json()
    assert created.json()["may"] == ["accept", "comment", "read", "work"]
    assert rules.send("post", "/people", {**wanted, "username": "BO"}).status_code == 400
    changed = rules.send("patch", "/people/bo", {"role": "approver", "active": False}).json()
    assert (changed["role"], changed["active"], changed["may"]) == ("approver", False, [])
    assert [each["username"] for each in rules.get("/people").json()["results"]] == ["ada", "bo"]
    assert rules.get("/people/nobody").status_code == 404


def test_who_may_not_sign_in_is_out_at_once(rules, installation):
    bo = create_person(SYSTEM, "bo", "a long enough word", "clerk")
    caller = Caller(bo, "read")
    assert caller.get("/documents").status_code == 200
    change_person(SYSTEM, "bo", {"active": False})
    assert caller.get("/documents").status_code == 401


@pytest.mark.parametrize("changes", [{"role": "clerk"}, {"active": False}])
def test_the_last_admin_stays(admin, changes):
    with pytest.raises(WrongStateError, match="last admin"):
        change_person(SYSTEM, "ada", changes)
    create_person(SYSTEM, "eve", "a long enough word", "admin")
    assert change_person(SYSTEM, "ada", changes)


@pytest.mark.parametrize("changes", [{"role": "emperor"}, {"password": "short"}])
def test_a_change_that_cannot_be_is_told(admin, changes):
    with pytest.raises(BadInputError):
        change_person(SYSTEM, "ada", changes)
    with pytest.raises(NotThereError):
        change_person(SYSTEM, "nobody", {})


def test_ones_own_password_needs_the_present_one(clerk):
    cleo = Actor.of(clerk)
    with pytest.raises(BadInputError, match="not right"):
        change_own_password(cleo, "a wrong guess", "another long word")
    change_own_password(cleo, "a long enough word", "another long word")
    clerk.refresh_from_db()
    assert clerk.check_password("another long word")
