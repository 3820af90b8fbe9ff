"""What the database knows around a bill: names alike, bills before it, bills that are credited."""

from dataclasses import replace
from datetime import timedelta
from decimal import Decimal

import pytest

from demo import bills
from tests.service.conftest import SYSTEM, go_on, table
from veridox.core.facts import MailFact
from veridox.core.reading import Field, Reading
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.discard import discard
from veridox.service.documents.columns import current_reading
from veridox.service.documents.models import Document, State
from veridox.service.flow.known import KnownHere
from veridox.service.flow.lookups import MOST_ALIKE
from veridox.service.flow.preceding import preceding_bills
from veridox.service.ledgers.models import BillReservation
from veridox.service.masterdata.models import BookedBill, Vendor
from veridox.service.people.actions.people import create_person
from veridox.service.pipelines.queries import definition_of

VET = bills.VET_VISIT


def known_of(document):
    return KnownHere(document, definition_of(document.pipeline_version), locking=False)


def named(name):
    return Reading(fields={"seller.name": Field(value=name)})


def codes_like(document, name):
    return {each.code for each in known_of(document).vendors_like(named(name), MailFact())}


def before(document, bill_reading=None):
    """Ids of what came before a document, as the check is given them."""
    known = known_of(document)
    vendor = known.vendor(document.vendor.code)
    return [each.reference for each in known.earlier(bill_reading or current_reading(document),
                                                     vendor)]  # fmt: skip


@pytest.mark.parametrize(("name", "found"), [
    ("Saltglass Systems Ltd", True),  # as it stands
    ("SALTGLASS SYSTEMS LIMITED", True),  # legal form and capitals aside
    ("Saltgloss Systemz Ltd", True),  # misread
    ("Ostrcl", False),
    ("Harbour Crane Hire", False),
])  # fmt: skip
def test_vendors_of_similar_names_are_found(installation, name, found):
    document = installation.arrive(VET)
    assert ("V1002" in codes_like(document, name)) is found


def test_a_short_name_is_found_with_a_letter_misread(installation):
    table("vendors", "code,name\nV7001,Orvel Ltd\n")
    assert "V7001" in codes_like(installation.arrive(VET), "Orvol")


def test_who_is_called_just_so_comes_alone(installation):
    table("vendors", "code,name\nV7001,Saltglass Systems North Ltd\n")
    document = installation.arrive(VET)
    assert codes_like(document, "Saltglass Systems North") == {"V7001"}
    assert codes_like(document, "Saltglass System Norh") >= {"V7001", "V1002"}


def test_another_name_of_a_vendor_is_looked_at_too(installation):
    table("vendors", "code,name,names\nV1002,Saltglass Systems Ltd,Crystal Brine Works\n")
    assert "V1002" in codes_like(installation.arrive(VET), "Crystal Brine Works")
    assert "V1002" in codes_like(installation.arrive(replace(VET, number="X-2")),
                                 "Crystal Brine Worcs")  # fmt: skip


def test_a_bill_of_the_same_total_came_before_and_one_that_ended_counts_no_more(installation):
    first = installation.checked(VET)
    second = installation.checked(replace(VET, number="QV 777"))
    assert before(second) == [str(first.pk)]
    assert before(first) == []  # what came later holds no right to its number
    other = installation.checked(replace(VET, number="QV 778", lines=VET.lines[:1]))
    assert str(first.pk) not in before(other)
    dan = _person("dan")
    second.refresh_from_db()
    discard(dan, second.pk, second.version, "a copy")
    third = installation.checked(replace(VET, number="QV 779"))
    assert before(third) == [str(first.pk)]


def test_what_came_later_counts_where_it_holds_the_right_to_the_number(installation):
    first = installation.arrive(VET)
    later = installation.checked(replace(VET, issued=VET.issued + timedelta(days=1)))
    assert BillReservation.objects.filter(document=later).exists()
    go_on()
    first.refresh_from_db()
    first.vendor = later.vendor
    (found,) = known_of(first).earlier(current_reading(first), _record(first, later.vendor.code))
    assert (found.reference, found.came_later) == (str(later.pk), True)


def test_bills_of_vendors_with_one_tax_id_are_one_family(installation):
    first = installation.checked(VET)
    vendor = first.vendor
    table("vendors", f"code,name,tax_id\nV7002,Quillfin Night Service,{vendor.tax_id}\n")
    other = Vendor.objects.get(code="V7002")
    document = installation.arrive(replace(VET, number="QV 801"))
    known = known_of(document)
    found = known.earlier(current_reading(document), _record(document, other.code))
    assert [each.reference for each in found] == [str(first.pk)]
    assert [each.vendor for each in found] == [vendor.code]


def test_of_thousands_with_one_total_the_newest_are_compared(installation):
    model = installation.checked(VET)
    Document.objects.bulk_create(
        Document(
            file=model.file, position=100 + n, pipeline_version=model.pipeline_version,
            state=State.POSTED, kind=model.kind, number=f"R-{n}", number_key=f"R-{n}",
            number_bare=f"R{n}", issue_date=model.issue_date, currency=model.currency,
            gross_total=model.gross_total, vendor=model.vendor,
        )
        for n in range(MOST_ALIKE + 20)
    )  # fmt: skip
    newest = Document.objects.latest("pk")
    document = installation.checked(replace(VET, number="QV 900"))
    found = before(document)
    assert len(found) == MOST_ALIKE
    assert str(newest.pk) in found
    assert str(model.pk) not in found


def test_what_stands_in_the_books_only_came_before_too(installation):
    vendor = Vendor.objects.get(code="V1003")
    BookedBill.objects.create(
        booked_as="BL-9", vendor=vendor, number="QV-20931", number_key="QV-20931",
        number_bare="QV20931", kind="invoice", issue_date=VET.issued, currency="GBP",
        gross_total=Decimal("1.00"), ledger="main-books",
    )  # fmt: skip
    document = installation.checked(VET)
    assert "duplicate.exact" in {each["code"] for each in document.findings}
    assert "BL-9" in before(document)
    BookedBill.objects.update(reference="our own")  # then it is a posting of ours
    assert "BL-9" not in before(document)


def credit(**more):
    """A credit note of the vet."""
    return replace(VET, title="CREDIT NOTE", number="QV-C1", **more)


def test_a_credit_finds_the_bill_of_its_total_and_what_is_left_of_it(installation):
    first = installation.checked(VET)
    go_on()
    document = installation.checked(credit())
    assert document.kind == "credit note"
    (found,) = preceding_bills(current_reading(document), document, [first.vendor_id])
    assert (found.reference, found.how) == (f"document {first.pk}", "total")
    assert found.credited.amount == 0
    Document.objects.filter(pk=document.pk).update(
        credits=f"document {first.pk}", state=State.POSTED, vendor=first.vendor
    )
    again = installation.checked(replace(credit(), number="QV-C2"))
    (found,) = preceding_bills(current_reading(again), again, [first.vendor_id])
    assert found.credited == found.total
    assert str(found.total) == "735.12 GBP"  # as people write it, however the column keeps it


def test_a_credit_of_nothing_we_were_billed_finds_nothing(installation):
    document = installation.checked(credit(lines=VET.lines[:1]))
    assert preceding_bills(current_reading(document), document, [document.vendor_id or 0]) == []
    assert "credit.unknown" in {each["code"] for each in document.findings}


def _record(document, code):
    return known_of(document).vendor(code)


def _person(name):
    return Actor.of(create_person(SYSTEM, name, "a long enough word", "clerk"))


def test_the_lookalike_of_a_vendors_domain_is_known_and_its_own_is_none(installation):
    table("vendors", "code,name,domains\nV1002,Saltglass Systems Ltd,saltglass.example\n")
    vendor = Vendor.objects.get(code="V1002")
    if not vendor.marks.filter(kind="domain").exists():  # it waits for a second person
        vendor.marks.create(kind="domain", value="saltglass.example", key="saltglass.example")
    known = known_of(installation.arrive(VET))
    near = {each.domain for each in known.domains_near("saltg1ass.example")}
    assert near == {"saltglass.example"}
    assert known.domains_near("harbour-cranes.example") == []
