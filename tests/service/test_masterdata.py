"""Master data, tables, and how vendors and orders are found in it."""

from decimal import Decimal

import pytest

from demo import bills
from demo.merrowmere import VENDORS, orders_csv, vendors_csv
from tests.service.conftest import jobs, rechecked, table
from tests.service.test_contradictions import known_of, order_in
from veridox.core.facts import MailFact
from veridox.core.reading import Field, Reading
from veridox.service.documents.models import Document, State
from veridox.service.errors import BadInputError
from veridox.service.masterdata.families import family_of
from veridox.service.masterdata.models import Entity, Order, Vendor


def test_entities_are_imported_and_updated(db):
    table("entities", b"code,name,country,currency\ntrust,Old Name,gb,GBP\n")
    table("entities", b"code,name,country,currency\ntrust,New Name,gb,GBP\n")
    entity = Entity.objects.get()
    assert (entity.name, entity.country) == ("New Name", "GB")


def test_tax_ids_are_kept_without_blanks(db):
    table("vendors", b"code,name,tax_id\nV1,Salt,gb 220 5190 11\n")
    assert Vendor.objects.get().tax_id == "GB220519011"


@pytest.mark.parametrize(("line", "said"), [
    ("PO-9,nobody,V1001,GBP,1,1,1", "entity"),
    ("PO-9,aquarium-trust,V9,GBP,1,1,1", "vendor"),
    (",aquarium-trust,V1001,GBP,1,1,1", "number"),
    ("PO-9,aquarium-trust,V1001,XXX,1,1,1", "currency"),
])  # fmt: skip
def test_an_order_that_does_not_fit_is_refused(installation, line, said):
    content = "number,entity,vendor,currency,line,quantity,unit_price\n" + line + "\n"
    with pytest.raises(BadInputError) as refused:
        table("orders", content.encode())
    assert any(said in str(error["path"]) for error in refused.value.extra["errors"])


def test_two_lines_of_one_number_are_refused(installation):
    row = "PO-9,aquarium-trust,V1001,GBP,1,1,1\n"
    head = "number,entity,vendor,currency,line,quantity,unit_price\n"
    with pytest.raises(BadInputError):
        table("orders", (head + row * 2).encode())
    assert not Order.objects.filter(number="PO-9").exists()


def test_importing_master_data_checks_only_what_it_may_help(installation):
    unknown = installation.checked(bills.KIOSK)
    wrong_sum = installation.checked(bills.SALT_SLIP, "band")
    before = len(jobs("advance"))
    table("vendors", vendors_csv().encode())
    waiting = [each["document_id"] for each in rechecked()[before:]]
    assert unknown.pk in waiting
    assert wrong_sum.pk not in waiting


# -- finding


def seller(**fields):
    return Reading(fields={n.replace("__", "."): Field(value=v) for n, v in fields.items()})


@pytest.mark.parametrize("fields", [
    {"seller__tax_id": "GB220519011"},
    {"seller__tax_id": "220519011"},
    {"seller__name": "SALTGLASS SYSTEMS LIMITED"},
    {"seller__name": "Saltglas Sistems"},
])  # fmt: skip
def test_the_index_brings_the_vendor_among_few_candidates(installation, fields):
    found = known_of(installation.arrive(bills.KRILL)).vendors_like(seller(**fields), MailFact())
    assert "V1002" in [vendor.code for vendor in found]
    assert len(found) < len(VENDORS)


def test_nothing_stated_brings_nobody(installation):
    assert known_of(installation.arrive(bills.KRILL)).vendors_like(Reading(), MailFact()) == []


@pytest.mark.parametrize("number", ["PO-26-0102", "po 26 0102", "PO260102"])
def test_an_order_is_found_however_its_number_is_written(installation, number):
    document = installation.arrive(bills.KRILL)
    record = order_in(known_of(document), number)
    assert (record.number, record.vendor) == ("PO-26-0102", "V1002")


def test_what_is_billed_on_an_order_counts_bills_and_takes_credits_off(installation):
    first = installation.checked(bills.UPKEEP, "window")
    assert first.state == State.CLEARED
    other = installation.arrive(bills.FLEECE, "window")
    record = order_in(known_of(other), "PO-26-0202")
    assert record.invoiced.amount == Decimal("564.00")
    Document.objects.filter(pk=first.pk).update(kind="credit note")
    record = order_in(known_of(other), "PO-26-0202")
    assert record.invoiced.amount == Decimal("-564.00")


def test_a_document_does_not_count_against_itself(installation):
    document = installation.checked(bills.UPKEEP, "window")
    record = order_in(known_of(document), "PO-26-0202")
    assert record.invoiced.amount == 0


def test_an_order_closed_by_an_import_stops_bills(installation):
    table("orders", orders_csv().replace("open", "closed").encode())
    document = installation.checked(bills.KRILL)
    assert "order.closed" in [finding["code"] for finding in document.findings]


@pytest.mark.parametrize(("tax_id", "family"), [
    ("GB 220 5190 11", "tax 220519011"), ("220519011", "tax 220519011"),
    ("DE862541651", "tax DE862541651"), ("", "code V1"),
])  # fmt: skip
def test_vendors_of_one_tax_id_are_one_family(tax_id, family):
    assert family_of("V1", tax_id) == family
