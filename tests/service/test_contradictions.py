"""Bills that a controller would stop: names and ids of different companies."""

from dataclasses import replace
from datetime import timedelta
from decimal import Decimal

import pytest

from demo import bills
from demo import merrowmere as m
from tests.service.conftest import SYSTEM, jobs, rechecked, table
from tests.service.conftest import carry_through as post
from tests.service.test_api import Caller
from veridox.core.matching import order_key
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.correct import correct
from veridox.service.desk.actions.post import post as clear
from veridox.service.desk.actions.take import release, take
from veridox.service.documents.models import Document, State
from veridox.service.errors import BadInputError, WrongStateError
from veridox.service.flow.actions.advance import advance
from veridox.service.flow.known import KnownHere
from veridox.service.masterdata.models import Order, Vendor
from veridox.service.pipelines.queries import definition_of

KRILL, VET = bills.KRILL, bills.VET_VISIT


def codes(document):
    document.refresh_from_db()
    return [each["code"] for each in document.findings if each["weight"] == "block"]


@pytest.fixture
def cleo(clerk):
    return Actor.of(clerk)


@pytest.fixture
def impostor(installation):
    """The vet's name with the tax id of the feed vendor."""
    document = installation.arrive(VET)
    newest = document.readings.get()
    newest.reading["fields"]["seller.tax_id"] = {
        **newest.reading["fields"]["seller.tax_id"], "value": KRILL.vendor.tax_id,
        "confidence": 0.75,
    }  # fmt: skip
    newest.save()
    advance(SYSTEM, document.pk)
    return document


def test_a_bill_with_anothers_tax_id_stops_and_says_both_sides(impostor):
    assert codes(impostor) == ["vendor.contradicted"]
    assert impostor.state == State.AT_DESK
    assert KRILL.vendor.name in impostor.reasons[0]
    assert VET.vendor.name in impostor.reasons[0]
    assert impostor.vendor is None


def test_it_cannot_be_posted_with_a_reason_alone(impostor, cleo):
    impostor.refresh_from_db()
    with pytest.raises(WrongStateError, match="put right"):
        clear(cleo, impostor.pk, impostor.version, "looks fine")


def test_a_person_chooses_the_vendor_and_it_goes_on(impostor, cleo, installation):
    impostor.refresh_from_db()
    chosen = correct(cleo, impostor.pk, impostor.version, {"vendor": VET.vendor.code})
    assert (chosen.state, chosen.vendor.code) == (State.CLEARED, VET.vendor.code)
    post(str(chosen.posting.pk))
    (bill,) = installation.ledger.bills.values()
    assert bill.vendor == VET.vendor.code


def test_a_choice_holds_for_what_the_bill_said_only(impostor, cleo):
    impostor.refresh_from_db()
    hold_up = {"vendor": VET.vendor.code, "fields": {"gross_total": "1.00"}}
    chosen = correct(cleo, impostor.pk, impostor.version, hold_up)
    assert chosen.vendor.code == VET.vendor.code
    renamed = {"fields": {"seller.name": "Harbour Bakery Ltd"}}
    again = correct(cleo, chosen.pk, chosen.version, renamed)
    assert "vendor.contradicted" in codes(again)
    assert again.vendor is None


def test_a_vendor_that_is_none_cannot_be_chosen(impostor, cleo):
    impostor.refresh_from_db()
    with pytest.raises(BadInputError) as refused:
        correct(cleo, impostor.pk, impostor.version, {"vendor": "V103"})
    (error,) = refused.value.extra["errors"]
    assert error["path"] == "vendor"
    assert "V1003" in error["message"]  # the nearest


def test_a_name_that_a_person_entered_does_not_lose_to_a_tax_id(installation, cleo):
    document = installation.checked(replace(VET, gross_slip=1))
    entered = {"fields": {"seller.name": KRILL.vendor.name}}
    after = correct(cleo, document.pk, document.version, entered)
    assert "vendor.contradicted" in codes(after)


def test_new_master_data_never_sends_what_contradicted_itself(impostor, installation):
    Vendor.objects.filter(code=KRILL.vendor.code).update(tax_id="")
    Vendor.objects.filter(code=VET.vendor.code).update(tax_id=KRILL.vendor.tax_id)
    table("vendors", b"code,name\nV999,Somebody New\n")
    assert {"what": "vendors"} in jobs("recheck")
    assert {"document_id": impostor.pk} in rechecked()
    advance(SYSTEM, impostor.pk)
    assert codes(impostor) == []  # nothing contradicts itself any more
    assert impostor.state == State.AT_DESK
    assert "a person lets it go on" in impostor.reasons[0]
    advance(SYSTEM, impostor.pk)
    impostor.refresh_from_db()
    assert impostor.state == State.AT_DESK  # not the second time either


def test_what_only_waited_goes_on_alone(installation):
    Vendor.objects.filter(code=VET.vendor.code).update(
        name="Another", name_key="another", tax_id=""
    )
    document = installation.checked(VET)
    assert codes(document) == ["vendor.unknown"]
    table("vendors", m.vendors_csv().encode())
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    assert document.state == State.CLEARED


def refused(installation):
    document = installation.checked(VET)
    installation.ledger.refuses = ("period: November is closed",)
    post(str(document.posting.pk))
    installation.ledger.refuses = ()
    document.refresh_from_db()
    return document


@pytest.mark.parametrize("how", ["take and release", "an import"])
def test_what_the_ledger_refused_is_not_sent_again_with_nobody_deciding(installation, cleo, how):
    document = refused(installation)
    assert codes(document) == ["ledger.refused"]
    if how == "an import":
        table("vendors", m.vendors_csv().encode())
    else:
        take(cleo, document.pk)
        release(cleo, document.pk)
        assert jobs("advance") == [{"document_id": document.pk}]
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    assert document.state == State.AT_DESK
    assert codes(document) == ["ledger.refused"]  # its words do not get lost either
    assert "November is closed" in document.findings[-1]["message"]
    assert installation.ledger.bills == {}


def test_after_a_refusal_a_person_decides(installation, cleo):
    document = refused(installation)
    after = clear(cleo, document.pk, document.version, "the period is open again")
    assert after.state == State.CLEARED


# -- our own companies


def with_fields(document, **values):
    newest = document.readings.get()
    known = newest.reading["fields"]
    for name, value in values.items():
        name = name.replace("__", ".")
        known[name] = {**known["number"], "value": value, "text": value}
    newest.save()
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    return document


def test_an_order_of_one_of_ours_billed_to_the_other_is_stopped(installation):
    other = next(e for e in m.ENTITIES if e.code != KRILL.buyer.code)
    document = with_fields(
        installation.arrive(KRILL), buyer__name=other.name, buyer__tax_id=other.tax_id
    )
    assert codes(document) == ["rate.missing", "order.entity"]
    assert KRILL.buyer.code in document.reasons[1]
    assert other.code in document.reasons[1]


def test_a_buyer_that_contradicts_itself_is_said_by_a_person(installation, cleo):
    other = next(e for e in m.ENTITIES if e.code != VET.buyer.code)
    document = with_fields(
        installation.arrive(VET), buyer__name=VET.buyer.name, buyer__tax_id=other.tax_id
    )
    assert codes(document) == ["entity.contradicted"]
    after = correct(cleo, document.pk, document.version, {"entity": VET.buyer.code})
    assert (after.state, after.entity.code) == (State.CLEARED, VET.buyer.code)


# -- numbers typed anew


@pytest.mark.parametrize("number", ["QV4415", "QV.44.15", "QV/4415"])
def test_a_number_typed_without_its_separators_is_stopped(installation, number):
    first = replace(VET, number="QV-44-15")
    installation.checked(first)
    again = installation.checked(replace(VET, number=number))
    expected = "duplicate.exact" if number == "QV.44.15" else "duplicate.near"
    assert codes(again) == [expected]
    assert again.state == State.AT_DESK


def test_another_number_is_no_near_duplicate(installation):
    installation.checked(replace(VET, number="QV-4415"))
    later = replace(VET, number="QV-4416", issued=VET.issued + timedelta(days=6))
    assert installation.checked(later).state == State.CLEARED


def test_another_number_with_the_same_total_and_date_is_one(installation):
    installation.checked(replace(VET, number="QV-4415"))
    again = installation.checked(replace(VET, number="QV-9981"))
    (finding,) = [each for each in again.findings if each["code"] == "duplicate.near"]
    assert "the same total of 735.12 GBP and the same date" in finding["message"]
    assert again.evidence["alike"][0]["number"] == "QV-4415"


def test_a_near_duplicate_is_posted_with_a_reason(installation, cleo):
    installation.checked(replace(VET, number="QV-4415"))
    again = installation.checked(replace(VET, number="QV4415"))
    after = clear(cleo, again.pk, again.version, "the vendor has both")
    assert after.state == State.CLEARED


@pytest.mark.parametrize("missing", [True, False])
def test_without_an_issue_date_the_year_of_receipt_guards_against_doubles(installation, missing):
    def arrive():
        document = installation.arrive(VET)
        if missing:
            newest = document.readings.get()
            del newest.reading["fields"]["issue_date"]
            newest.save()
            Document.objects.filter(pk=document.pk).update(issue_date=None)
        return document

    one, two = arrive(), arrive()
    from veridox.service.ledgers.actions.prepare import reserve

    for each in (one, two):
        each.refresh_from_db()
        each.vendor = Vendor.objects.get(code=VET.vendor.code)
        each.save()
    assert (reserve(one), reserve(two)) == (True, False)
    assert (one.year if missing else VET.issued.year) == one.year


def test_vendors_that_share_a_tax_id_share_the_right_to_a_number(installation):
    from veridox.service.ledgers.actions.prepare import reserve

    twin = Vendor.objects.get(code=VET.vendor.code)
    twin.pk, twin.code = None, "V9003"
    twin.save()
    one, two = installation.arrive(VET), installation.arrive(VET)
    one.vendor, two.vendor = Vendor.objects.get(code=VET.vendor.code), twin
    one.save()
    two.save()
    assert (reserve(one), reserve(two)) == (True, False)


@pytest.mark.parametrize("written", ["GB{}", "{}"])
def test_a_bill_on_the_twin_of_a_vendor_is_a_double_however_its_tax_id_is_written(
    installation, written
):
    """Two records of one company, one with the prefix of British tax ids and one without."""
    from veridox.core.matching import VendorRecord, registration
    from veridox.core.reading import reading_from_json

    vendor = Vendor.objects.get(code=VET.vendor.code)
    first = installation.checked(VET)
    assert first.vendor == vendor
    second = installation.arrive(VET)
    reading = reading_from_json(second.readings.get().reading)
    twin = VendorRecord(
        code="V9003", name=vendor.name, tax_id=written.format(registration(vendor.tax_id))
    )
    known = known_of(second)
    assert [each.reference for each in known.earlier(reading, twin)] == [str(first.pk)]
    other = VendorRecord(code="V9003", name=vendor.name, tax_id="GB999999999")
    # Of a stranger it is only the same file.
    assert [each.same_file for each in known.earlier(reading, other)] == [True]


def test_a_reservation_is_renewed_by_a_correction(installation, cleo):
    document = installation.checked(replace(VET, number="QV-1"))
    assert document.reservation.number_key == "QV-1"
    document.state = State.AT_DESK
    document.save()
    after = correct(cleo, document.pk, document.version, {"fields": {"number": "QV-2"}})
    assert after.state == State.CLEARED
    after.refresh_from_db()
    assert type(after.reservation).objects.get(document=after).number_key == "QV-2"
    other = replace(VET, number="QV-1", issued=VET.issued + timedelta(days=6))
    assert installation.checked(other).state == State.CLEARED


# -- orders


def order_in(known, number):
    """The order of a number, as the checks know it."""
    return known.orders([number], None).get(order_key(number))


def known_of(document):
    definition = definition_of(document.pipeline_version)
    return KnownHere(document, definition, locking=False)


def test_freight_of_earlier_bills_does_not_use_up_the_order(installation):
    first = installation.checked(replace(bills.FLEECE, number="RE-26-1"))
    assert (first.state, first.charges) == (State.CLEARED, Decimal("9.80"))
    known = known_of(installation.arrive(VET))
    billed = order_in(known, bills.FLEECE.order).invoiced.amount
    assert billed == first.net_total - Decimal("9.80")


def test_credit_notes_give_an_orders_room_back(installation):
    first = installation.checked(KRILL)
    known = known_of(installation.arrive(VET))
    billed = order_in(known, KRILL.order).invoiced.amount
    assert billed == first.net_total
    first.kind = "credit note"
    first.save()
    assert order_in(known, KRILL.order).invoiced.amount == -billed


# -- imports


def test_a_column_that_is_absent_leaves_its_values_alone(installation):
    Vendor.objects.filter(code="V1003").update(blocked=True, email="old@x.example")
    before = Vendor.objects.get(code="V1003")
    done = table("vendors", f"code,name\nV1003,{before.name}\n".encode()).loading
    after = Vendor.objects.get(code="V1003")
    assert (after.blocked, after.tax_id, after.email) == (True, before.tax_id, "old@x.example")
    assert (done.same, done.changed, done.new) == (1, 0, 0)


def test_a_closed_order_stays_closed_without_its_column_and_with_an_empty_cell(installation):
    number = Order.objects.order_by("pk").first().number
    Order.objects.filter(number=number).update(closed=True)
    rows = m.orders_csv().splitlines()
    head = rows[0].split(",")
    at = head.index("status")

    def changed(change):
        return "\n".join(
            ",".join(change(line.split(",", len(head) - 1))) for line in rows if "," in line
        ).encode()

    without = changed(lambda cells: [c for i, c in enumerate(cells) if i != at])
    table("orders", without)
    assert Order.objects.get(number=number).closed
    rows = [line.replace(",open,", ",,") if line != rows[0] else line for line in rows]
    table("orders", "\n".join(rows).encode())
    assert Order.objects.get(number=number).closed


def test_unblocking_and_new_contacts_show_in_preview_and_trail(installation, admin):
    from veridox.service.trail.models import Entry

    Vendor.objects.filter(code="V1003").update(blocked=True)
    name = Vendor.objects.get(code="V1003").name
    content = f"code,name,email,blocked\nV1003,{name},new@quillfin.example,no\n".encode()
    rules = Caller(admin, "read", "admin")
    seen = rules.upload("/vendors/import", content, preview="true").json()
    assert (seen["imported"], seen["preview"], seen["changed"]) == (0, True, 1)
    assert {(c["column"], c["told"]) for c in seen["changes"]} == {
        ("email", "held"), ("blocked", "held"),
    }  # fmt: skip
    assert Vendor.objects.get(code="V1003").blocked  # a preview keeps nothing
    kept = rules.upload("/vendors/import", content).json()
    assert (kept["imported"], kept["held"]) == (1, 1)
    assert Vendor.objects.get(code="V1003").blocked  # it waits for a second person
    entry = Entry.objects.filter(act="vendors.imported").latest("number")
    assert {each["column"] for each in entry.details["told"]} == {"email", "blocked"}
