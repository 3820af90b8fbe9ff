"""Facts gathered from whoever knows them: here from a double in memory."""

from datetime import date

import pytest

from tests.core.test_checks import ENTITY, VENDOR, facts, gbp
from veridox.core.checks import run_checks
from veridox.core.facts import (
    CheckSettings,
    Chosen,
    EntityRecord,
    MemoryKnown,
    gather,
    said_of,
)
from veridox.core.matching import EarlierDocument, OrderRecord, VendorRecord
from veridox.core.reading import Field

OTHER = VendorRecord(code="V2", name="Tidewell Pumps Ltd", tax_id="GB101010101")
ORDER = OrderRecord(number="PO-1", vendor="V1", net_total=gbp("1200.00"), invoiced=gbp("0"),
                    entity="trust")  # fmt: skip
BEFORE = EarlierDocument(reference="7", number="SG-10442", issued=None, state="posted")
SETTINGS = CheckSettings()


def known(**more):
    usual = {"every_vendor": (VENDOR, OTHER), "every_entity": (ENTITY,), "every_order": (ORDER,)}
    return MemoryKnown(**{**usual, **more})


def reading(**fields):
    found = facts().reading.with_fields({k: Field(value=v) for k, v in fields.items()})
    return found.with_fields({"buyer.name": Field(value=ENTITY.name)})


def codes(there, read=None, **more):
    given = gather(there, read or reading(), settings=SETTINGS, chosen={}, **more)
    return [finding.code for finding in run_checks(given)]


def test_a_known_bill_has_its_vendor_entity_and_order():
    found = gather(known(), reading(), settings=SETTINGS, chosen={}, arrived=date(2026, 11, 9))
    assert (found.vendor, found.entity, found.order) == (VENDOR, ENTITY, ORDER)
    assert run_checks(found) == ()


@pytest.mark.parametrize(("more", "code"), [
    ({"every_vendor": (OTHER,)}, "vendor.unknown"), ({"every_order": ()}, "order.unknown"),
    ({"every_entity": ()}, "entity.unknown"), ({"taken": {("V1", "SG-10442")}}, "duplicate.exact"),
    ({"before": {"V1": (BEFORE,)}}, "duplicate.exact"),
    ({"before": {"V1": (EarlierDocument(reference="7", number="SG10442", issued=None,
                                        state="posted"),)}}, "duplicate.near"),
])  # fmt: skip
def test_what_is_not_known_or_came_before_is_a_finding(more, code):
    assert code in codes(known(**more))


def test_of_an_unknown_vendor_nothing_earlier_is_asked():
    class Asked(MemoryKnown):
        def earlier(self, reading, vendor):
            raise AssertionError("asked for nobody's documents")

    there = Asked(every_vendor=(), every_entity=(ENTITY,), every_order=(ORDER,))
    assert codes(there) == ["vendor.unknown"]


@pytest.mark.parametrize(("changed", "holds"), [
    ({}, True), ({"due_date": date(2026, 12, 1)}, True), ({"seller.name": "Another Ltd"}, False),
])  # fmt: skip
def test_a_choice_holds_as_long_as_the_bill_says_what_it_said(changed, holds):
    choice = Chosen(code="V2", said=said_of(reading(), "vendor"))
    found = gather(known(), reading(**changed), settings=SETTINGS, chosen={"vendor": choice})
    assert (found.vendor == OTHER, found.vendor_chosen) == (holds, holds)


def test_a_chosen_entity_is_billed_whatever_the_name_says():
    other = EntityRecord(code="meerhaus", name="Merrowmere Meerhaus GmbH")
    there = known(every_entity=(ENTITY, other))
    choice = Chosen(code="meerhaus", said=said_of(reading(), "entity"))
    found = gather(there, reading(), settings=SETTINGS, chosen={"entity": choice})
    assert found.entity == other


def test_a_vendor_that_is_gone_cannot_be_chosen_any_more():
    choice = Chosen(code="V9", said=said_of(reading(), "vendor"))
    found = gather(known(), reading(), settings=SETTINGS, chosen={"vendor": choice})
    assert found.vendor == VENDOR
