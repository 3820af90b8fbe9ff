"""The trail against who can write to the database: what shows, and by what."""

import json

import pytest
from django.db import connection, transaction
from django.utils import timezone

from tests.service.conftest import SYSTEM
from tests.service.test_api import Caller
from tests.service.test_trail_and_queue import without_guard, write
from veridox.service.errors import BadInputError
from veridox.service.reports.running import run
from veridox.service.secrets import seal
from veridox.service.trail import verify as verifying
from veridox.service.trail.heads import current_head, keep_head, kept_heads, parse_head
from veridox.service.trail.models import Entry, Head
from veridox.service.trail.record import content_of, record
from veridox.service.trail.verify import verify

pytestmark = pytest.mark.usefixtures("committed")


@pytest.fixture(autouse=True)
def kept(monkeypatch, tmp_path):
    monkeypatch.setattr("veridox.service.trail.heads.folder", lambda: tmp_path / "heads")


@pytest.mark.parametrize("value", [1e16, -0.0, 1e-7, 123456789012345678, 0.1 + 0.2, "1e16"])
def test_numbers_that_jsonb_writes_its_own_way_are_no_tampering(value):
    with transaction.atomic():
        record(SYSTEM, "test.act", "thing", 1, {"figure": value, "deep": [{"x": value}]})
    assert verify().problems == ()


def test_entries_of_before_still_verify():
    write(2)
    entry = Entry.objects.get(number=2)
    entry.form, entry.text = 1, ""
    entry.seal = seal("trail", content_of(entry))
    without_guard(
        f"update trail_entry set form = 1, text = '', seal = '{entry.seal}' where number = 2"
    )
    Head.objects.update(seal=entry.seal, mark="")
    assert verify().problems == ()
    write(1)
    assert verify().problems == ()


@pytest.mark.parametrize("statement", [
    "update trail_entry set details = '{\"figure\": \"9.50\"}' where number = 2",
    "update trail_entry set text = replace(text, '1.50', '9.50') where number = 2",
])  # fmt: skip
def test_what_is_shown_and_what_is_sealed_are_the_same(statement):
    write(3)
    without_guard(statement)
    assert any("entry 2" in problem for problem in verify().problems)


def cut_back_to(number):
    """The end cut off, and the old head's row put back: both were genuine once."""
    old = Head.objects.get()
    write(3)
    without_guard(f"delete from trail_entry where number > {number}")
    Head.objects.update(number=old.number, seal=old.seal, mark=old.mark)


def test_a_cut_with_a_replayed_head_shows_by_a_kept_head_alone():
    write(2)
    Head.objects.get()
    before = current_head()
    write(1)
    kept = current_head()
    Head.objects.update(number=before.number, seal=before.seal, mark=before.mark)
    without_guard("delete from trail_entry where number > 2")
    assert verify().problems == ()  # nothing in the database can show it
    assert verify([before]).problems == ()
    (problem,) = verify([kept]).problems
    assert "its end was cut off" in problem


def test_a_trail_that_was_emptied_whole_shows_by_a_kept_head():
    write(2)
    kept = current_head()
    without_guard("delete from trail_entry")
    Head.objects.update(number=0, seal="", mark="")
    assert verify().problems == ()
    assert "its end was cut off" in verify([kept]).problems[0]


def test_a_trail_written_anew_shows_by_a_kept_head():
    write(2)
    kept = current_head()
    without_guard("delete from trail_entry")
    Head.objects.update(number=0, seal="", mark="")
    with transaction.atomic():
        record(SYSTEM, "other.act", "thing", 1)
        record(SYSTEM, "other.act", "thing", 2)
    assert "names another entry 2" in verify([kept]).problems[0]


def test_a_missing_head_is_told():
    write(1)
    Head.objects.all().delete()
    assert "head of the trail is missing" in verify().problems[0]


def test_a_head_made_by_hand_is_told():
    write(2)
    Head.objects.update(mark="0" * 64)
    assert "not written by this installation" in verify().problems[-1]


@pytest.mark.parametrize("data", [
    {"number": 2, "seal": "x", "mark": "0" * 64, "at": ""}, {"number": 2}, [], "head", None,
])  # fmt: skip
def test_a_head_of_somebody_else_is_refused(data):
    with pytest.raises(BadInputError):
        parse_head(data)


def test_heads_are_kept_a_file_a_day_and_compared_by_every_check(admin):
    write(3)
    keep_head(timezone.now())
    (kept,) = kept_heads()
    assert kept.number == Entry.objects.count()
    rules = Caller(admin, "read", "admin")
    Head.objects.all().delete()
    without_guard("delete from trail_entry where number > 1")
    Head.objects.create(pk=1, number=Entry.objects.count())
    asked = rules.send("post", "/reports/runs", {"kind": "trail"}).json()
    run(asked["id"])
    result = rules.get(f"/reports/runs/{asked['id']}").json()["result"]
    assert (result["good"], result["compared"]) == (False, [kept.number])


def test_the_head_is_mailed_every_day_where_that_is_set(settings, monkeypatch):
    from dataclasses import replace

    from tests.service.test_house_and_notices import Outbox
    from veridox.service import wiring
    from veridox.service.connections.actions.manage import put_connection
    from veridox.service.upkeep.heads import export_head

    there = {"host": "127.0.0.1", "sender": "v@merrowmere.example", "security": "none"}
    put_connection(SYSTEM, "mail-out", "outbox", there, None)
    outbox = Outbox()
    monkeypatch.setattr(wiring, "open_outbox", lambda connection: outbox)
    export_head()
    assert outbox.sent == []
    assert len(kept_heads()) == 1
    settings.CONFIGURATION = replace(settings.CONFIGURATION, trail_mail="audit@house.example")
    export_head()
    (mail,) = outbox.sent
    assert mail.to == "audit@house.example"
    found = parse_head(json.loads(mail.text[mail.text.index("{") :]))
    assert verify([found]).problems == ()


def test_a_head_is_handed_out_and_compared_over_the_api(admin):
    rules = Caller(admin, "read", "admin")
    head = rules.get("/trail/head").json()
    asked = rules.send("post", "/reports/runs", {"kind": "trail", "head": head}).json()
    run(asked["id"])
    found = rules.get(f"/reports/runs/{asked['id']}").json()
    assert (found["result"]["good"], found["result"]["compared"]) == (True, [head["number"]])
    forged = {**head, "number": head["number"] + 5}
    answer = rules.send("post", "/reports/runs", {"kind": "trail", "head": forged})
    assert answer.status_code == 400
    assert "this installation's key" in answer.json()["detail"]
    assert json.dumps(found)


def test_the_database_gives_what_postgresql_says_of_itself():
    with connection.cursor() as cursor:
        cursor.execute("select count(*) from pg_control_system()")
        assert cursor.fetchone() == (1,)


@pytest.mark.parametrize("late", [1, 3])
def test_what_others_write_while_the_trail_is_read_is_no_tampering(monkeypatch, late):
    write(3)
    entries = verifying._entries

    def slowly():
        yield from list(entries())  # what stood there when the reading began
        write(late)

    monkeypatch.setattr(verifying, "_entries", slowly)
    assert verify().problems == ()


def test_a_cut_while_the_trail_is_read_shows(monkeypatch):
    write(3)
    entries = verifying._entries

    def cut():
        return iter(list(entries())[:-1])

    monkeypatch.setattr(verifying, "_entries", cut)
    assert "the last that is there is" in verify().problems[0]
