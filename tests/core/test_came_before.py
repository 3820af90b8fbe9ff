"""Have we had this before? Numbers, totals, dates, files, and what tells two bills apart."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from tests.core.test_checks import came, codes, facts, gbp
from veridox.core.checks import run_checks
from veridox.core.matching import EarlierDocument, likeness, misread, runs_on
from veridox.core.matching.duplicates import next_to, picture_distance
from veridox.core.reading import Kind

DAY = date(2026, 11, 5)
BEFORE = EarlierDocument(
    reference="7", number="SG/10399", issued=DAY, state="posted", posted_as="BL-1",
    kind=Kind.INVOICE, year=2026, total=gbp("1421.28"), vendor="V1", entity="trust",
)  # fmt: skip


@pytest.mark.parametrize(("one", "other", "how"), [
    ("RE-10442", "RE-1O442", "look alike"), ("RE-10442", "RE-I0442", "look alike"),
    ("RE-10442", "RE-10447", ""), ("RE-10441", "RE-10447", "1 and 7 look alike"),
    ("RE-10442", "RE-10424", "exchanged"), ("RE-10442", "RE-1042", "missing"),
    ("RE-10442", "RE-10443", ""), ("RE-10442", "RE-10442", ""), ("RE-10442", "RE-20442", ""),
    ("", "RE-1", ""), ("A-5", "A-S", "look alike"), ("12", "1", ""),
])  # fmt: skip
def test_a_number_may_be_a_misreading_of_another(one, other, how):
    assert how in misread(one, other)
    assert bool(misread(one, other)) is bool(how)
    assert bool(misread(other, one)) is bool(how)


@pytest.mark.parametrize(("earlier", "later", "found"), [
    ("RE-41", "RE-57", True), ("RE-57", "RE-41", False), ("RE-41", "AB-57", False),
    ("2026/0041", "2026/0042", True), ("41", "42", True), ("RE", "RE", False),
])  # fmt: skip
def test_numbers_run_on(earlier, later, found):
    assert runs_on(earlier, later) is found


def test_the_next_number_is_no_misreading():
    assert next_to("RE-1005", "RE-1006")
    assert not next_to("RE-1005", "RE-1007")
    assert not next_to("RE-1005", "AB-1006")


def alike(number="SG/10442", issued=DAY, before=0, earlier=BEFORE, **fields):
    given = facts(number=number, issue_date=issued, **fields)
    return likeness(given.reading, issued, earlier, before)


@pytest.mark.parametrize(("earlier", "exact"), [
    ({"number": "SG/10442"}, True), ({"number": "sg 10442"}, True), ({"number": "SG10442"}, False),
])  # fmt: skip
def test_the_same_number_is_exact_and_without_separators_near(earlier, exact):
    assert alike(earlier=replace(BEFORE, **earlier)).exact is exact


@pytest.mark.parametrize("change", [
    {"number": "SG/10442", "year": 2025}, {"number": "SG/10442", "kind": Kind.CREDIT_NOTE},
])  # fmt: skip
def test_another_year_or_kind_is_another_bill(change):
    apart = replace(BEFORE, **change, total=gbp("1.00"))
    assert alike(earlier=apart) is None


@pytest.mark.parametrize(("change", "reason"), [
    ({"number": "SG/1O442"}, "the same date, and the number may be misread"),
    ({"number": "SG/10424"}, "two signs are exchanged"),
    ({"number": "SG/10424", "issued": DAY - timedelta(days=40), "order": "PO-1"}, "the same order"),
    ({"number": "SG/10424", "issued": DAY - timedelta(days=40), "order": "PO-2"}, None),
    ({"number": "SG/10424", "issued": DAY - timedelta(days=40)}, None),
    ({"number": "SG/10424", "total": gbp("1421.29")}, None),
    ({}, "the same total of 1,421.28 GBP and the same date"),
    ({"issued": DAY - timedelta(days=5)}, "dates 5 days apart"),
    ({"issued": DAY - timedelta(days=6)}, None),
    ({"issued": DAY + timedelta(days=1)}, "dates 1 day apart"),
    ({"same_file": True, "total": None}, "the very same file"),
    ({"picture": 3, "total": None}, None),  # a picture alone proves nothing
])  # fmt: skip
def test_reasons_to_take_two_bills_for_one(change, reason):
    found = alike(earlier=replace(BEFORE, **change))
    assert (found is not None) is (reason is not None)
    if reason:
        assert not found.exact
        assert any(reason in each for each in found.reasons)


def test_a_picture_is_told_beside_other_reasons():
    assert "the page looks the same" in alike(earlier=replace(BEFORE, picture=3)).reasons
    assert "the page looks the same" not in alike(earlier=replace(BEFORE, picture=5)).reasons
    assert (picture_distance(0b1011, 0b0010), picture_distance(None, 1)) == (2, None)


@pytest.mark.parametrize("name", ["delivery_note", "period"])
def test_what_both_are_for_tells_them_apart(name):
    other = replace(BEFORE, **{name: "DN-1"})
    assert alike(earlier=other, **{name: "DN-2"}) is None
    assert alike(earlier=other, **{name: "DN-1"}) is not None


@pytest.mark.parametrize(("number", "before", "found"), [
    ("SG/10400", 2, False), ("SG/10400", 1, True), ("SG/10300", 2, True), ("AB/10400", 2, True),
])  # fmt: skip
def test_a_constant_price_with_running_numbers_is_no_double(number, before, found):
    earlier = replace(BEFORE, issued=DAY - timedelta(days=4))
    assert (alike(number, before=before, earlier=earlier) is not None) is found


def test_even_of_a_constant_price_two_of_one_day_are_looked_at():
    assert alike("SG/10500", before=12) is not None


def test_the_finding_names_the_other_with_reasons_and_where_it_stands():
    other = replace(BEFORE, vendor="V9", entity="meerhaus")
    (finding,) = [f for f in run_checks(came(facts(), other)) if f.code == "duplicate.near"]
    assert "document 7, posted as BL-1" in finding.message
    assert "under vendor V9 of the same family, billed to meerhaus" in finding.message
    assert (finding.about, finding.expected, finding.blocks) == ("document 7", "SG/10399", True)


def test_what_stands_in_the_books_only_is_named_so():
    other = replace(BEFORE, number="SG/10442", reference="BL-77", in_books=True)
    (finding,) = [f for f in run_checks(came(facts(), other)) if f.code == "duplicate.exact"]
    assert "stands in the ledger's books as BL-77" in finding.message
    assert finding.about == "BL-77 in the books"


@pytest.mark.parametrize(("count", "found"), [(4, False), (5, True)])
def test_five_of_one_amount_are_noted(count, found):
    given = replace(facts(), same_total=count)
    assert ("duplicate.many" in codes(given)) is found
    assert all(not f.blocks for f in run_checks(given) if f.code == "duplicate.many")
