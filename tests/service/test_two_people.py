"""What only two people accept: another account, another payee, a number that came before."""

from dataclasses import replace
from datetime import timedelta

import pytest

from demo import bills
from tests.service.conftest import SYSTEM, table
from veridox.service.accounts.actors import Actor
from veridox.service.connections.models import Connection
from veridox.service.desk.actions.correct import correct
from veridox.service.desk.actions.post import post
from veridox.service.desk.actions.prove import prove
from veridox.service.documents.models import Document, State
from veridox.service.errors import BadInputError, NotAllowedError, WrongStateError
from veridox.service.flow.actions.advance import advance
from veridox.service.intake.models import Message
from veridox.service.ledgers.models import BillReservation
from veridox.service.masterdata.models import Vendor
from veridox.service.people.actions.people import create_person
from veridox.service.trail.models import Entry

HOW = "called 01234 555 010, the number in the contract of 2024"
VET = bills.VET_VISIT


@pytest.fixture
def people(db):
    return [
        Actor.of(create_person(SYSTEM, name, "a long enough word", "clerk"))
        for name in ("cleo", "bo", "dan")
    ]


@pytest.fixture
def changed(installation):
    """A bill that asks to be paid elsewhere than its vendor is."""
    table("vendors", "code,name,accounts\nV1003,Quillfin Veterinary Services Ltd,"
          "GB51MRWK99000020304150\n")  # fmt: skip
    vendor = Vendor.objects.get(code="V1003")
    vendor.marks.create(kind="account", value="GB51MRWK99000020304150",
                        key="GB51MRWK99000020304150")  # fmt: skip
    document = installation.checked(VET)
    assert [f["code"] for f in document.findings if f["weight"] == "block"] == ["bank.changed"]
    return document


def act(document):
    document.refresh_from_db()
    return document.pk, document.version


def mail_of(document, sender, stamp):
    """The document's file came with a mail of which the mail server said this."""
    inbox = Connection.objects.get(name="ap-inbox")
    inbox.settings = {**inbox.settings, "authserv_id": "mx.merrowmere.example"}
    inbox.save()
    headers = {"authentication-results": f"mx.merrowmere.example; {stamp}"}
    message = Message.objects.create(
        connection=inbox, pipeline_version=document.pipeline_version, arrived_folder="INBOX",
        arrived_uidvalidity=1, arrived_uid=1, folder="INBOX", fingerprint="f" * 64,
        sender_address=sender, headers=headers, received_at=document.received_at, size=1,
    )  # fmt: skip
    document.file.message = message
    document.file.save()


def test_one_proves_and_another_accepts(changed, people):
    cleo, bo, _ = people
    with pytest.raises(WrongStateError, match="takes two people"):
        post(cleo, *act(changed), "it is fine")
    prove(cleo, *act(changed), "bank.changed", HOW)
    changed.refresh_from_db()
    assert (changed.state, changed.posting) == (State.AT_DESK, None)
    with pytest.raises(NotAllowedError, match="another person accepts it"):
        post(cleo, *act(changed), "it is fine")
    done = post(bo, *act(changed), "proven by cleo")
    assert done.state == State.CLEARED
    acts = list(Entry.objects.filter(subject="document", subject_id=str(changed.pk))
                .order_by("number").values_list("act", "actor"))  # fmt: skip
    assert [each for each in acts if each[0] in ("document.proven", "document.cleared")] == [
        ("document.proven", "person:cleo"),
        ("document.cleared", "person:bo"),
    ]
    proven = Entry.objects.get(act="document.proven")
    assert (proven.details["how"], proven.details["code"]) == (HOW, "bank.changed")
    assert Vendor.objects.get(code="V1003").marks.filter(kind="account").count() == 1


def test_whoever_entered_a_value_neither_proves_nor_accepts(changed, people):
    cleo, bo, dan = people
    correct(dan, *act(changed), {"fields": {"due_date": "2026-12-01"}})
    with pytest.raises(NotAllowedError, match="you entered a value"):
        prove(dan, *act(changed), "bank.changed", HOW)
    prove(cleo, *act(changed), "bank.changed", HOW)
    with pytest.raises(NotAllowedError, match="you entered a value"):
        post(dan, *act(changed), "fine")
    assert post(bo, *act(changed), "fine").state == State.CLEARED


def test_a_value_entered_later_takes_the_acceptance_back(changed, people):
    cleo, bo, _ = people
    prove(cleo, *act(changed), "bank.changed", HOW)
    changed.refresh_from_db()
    after = correct(bo, *act(changed), {"fields": {"due_date": "2026-12-01"}})
    with pytest.raises(NotAllowedError):
        post(bo, after.pk, after.version, "fine")


def test_it_holds_for_this_account_only(changed, people):
    cleo, bo, dan = people
    prove(cleo, *act(changed), "bank.changed", HOW)
    correct(dan, *act(changed), {"fields": {"account": "GB71MRWK99000010201531"}})
    with pytest.raises(WrongStateError, match="takes two people"):
        post(bo, *act(changed), "fine")


@pytest.mark.parametrize(("code", "how", "error", "said"), [
    ("bank.changed", "ok", BadInputError, "Say how"),
    ("bank.chanced", HOW, BadInputError, "No finding"),
    ("tax.no_id", HOW, BadInputError, "No finding"),
])  # fmt: skip
def test_a_proof_that_says_nothing_is_refused(changed, people, code, how, error, said):
    with pytest.raises(error, match=said):
        prove(people[0], *act(changed), code, how)


@pytest.mark.parametrize(("stamp", "code"), [
    ("dmarc=fail header.from=quillfin.example", "sender.unproven"),
    ("dmarc=pass header.from=qui11fin.example", "sender.lookalike"),
])  # fmt: skip
def test_a_sender_that_proves_nothing_takes_two_people(installation, people, stamp, code):
    cleo, bo, _ = people
    vendor = Vendor.objects.get(code="V1003")
    vendor.marks.create(kind="domain", value="quillfin.example", key="quillfin.example")
    document = installation.arrive(VET)
    sender = "office@qui11fin.example" if "lookalike" in code else "office@quillfin.example"
    mail_of(document, sender, stamp)
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    assert code in [f["code"] for f in document.findings if f["weight"] == "block"]
    with pytest.raises(WrongStateError, match="takes two people"):
        post(cleo, *act(document), "it is fine")
    prove(cleo, *act(document), code, HOW)
    assert post(bo, *act(document), "proven by cleo").state == State.CLEARED


def test_a_machine_proves_nothing(changed):
    with pytest.raises(NotAllowedError):
        prove(SYSTEM, *act(changed), "bank.changed", HOW)


def test_a_number_that_a_vendor_really_used_twice_is_posted_by_two(installation, people):
    cleo, bo, _ = people
    installation.checked(VET)
    other = replace(VET, issued=VET.issued + timedelta(days=30))
    again = installation.checked(other)
    assert again.state == State.AT_DESK
    prove(cleo, *act(again), "duplicate.exact", "asked the vendor: they number by month")
    done = post(bo, *act(again), "their numbers begin anew each month")
    assert done.state == State.CLEARED
    turns = BillReservation.objects.filter(number_key=done.number_key).order_by("turn")
    assert list(turns.values_list("turn", flat=True)) == [0, 1]
    third = installation.checked(replace(VET, issued=VET.issued + timedelta(days=60)))
    assert third.state == State.AT_DESK
    assert Document.objects.filter(state=State.CLEARED).count() == 2
