"""Checks as tables: facts in, findings out."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal

import pytest

from veridox.core.checks import CODES, run_checks
from veridox.core.facts import CheckSettings, EntityRecord, Facts, OrderTolerance, choose_entity
from veridox.core.findings import Finding, Weight
from veridox.core.matching import (
    EarlierDocument,
    OrderRecord,
    VendorRecord,
    choose_vendor,
    likeness,
    number_key,
    order_key,
)
from veridox.core.money import Money
from veridox.core.pages import Box
from veridox.core.reading import Field, Kind, Origin, Reading

VENDOR = VendorRecord(code="V1", name="Saltglass Systems Ltd", tax_id="GB220519011")
ENTITY = EntityRecord(code="trust", name="Merrowmere Aquarium Trust")


def gbp(amount):
    return Money.of(amount, "GBP")


def line(quantity, price, amount, **more):
    cells = {"quantity": Decimal(quantity), "unit_price": Decimal(price), "amount": gbp(amount)}
    return {name: Field(value=value) for name, value in {**cells, **more}.items()}


def facts(lines=(), tax_lines=(), *, without=(), settings=None, **fields):
    values = {
        "number": "SG/10442",
        "issue_date": date(2026, 11, 5),
        "seller.name": VENDOR.name,
        "seller.tax_id": VENDOR.tax_id,
        "currency": "GBP",
        "order_number": "PO-1",
        "net_total": gbp("1184.40"),
        "tax_total": gbp("236.88"),
        "gross_total": gbp("1421.28"),
        **fields,
    }
    reading = Reading(
        kind=Kind.INVOICE,
        fields={k: Field(value=v) for k, v in values.items() if k not in without},
        lines=tuple(lines),
        tax_lines=tuple(tax_lines),
    )
    order = OrderRecord(
        number="PO-1", vendor="V1", net_total=gbp("1200.00"), invoiced=gbp("0"), entity="trust"
    )
    return Facts(
        reading=reading,
        vendor=VENDOR,
        entity=ENTITY,
        order=order,
        settings=settings or CheckSettings(),
    )


def came(given, *before):
    """The facts with bills that came before, where they are alike."""
    issued = given.issued
    found = [like for each in before if (like := likeness(given.reading, issued, each))]
    return replace(given, alike=tuple(sorted(found, key=lambda like: not like.exact)))


def codes(given):
    return [finding.code for finding in run_checks(given)]


LINES = [line("30", "31.90", "957.00"), line("6", "31.90", "191.40")]


def test_a_clean_invoice_has_no_finding():
    assert codes(facts(LINES, charges=gbp("36.00"), settings=CheckSettings(
        order_total=OrderTolerance(charges=Decimal(50))))) == []  # fmt: skip


def test_a_total_sixty_too_high_is_told_with_both_figures():
    (finding,) = run_checks(facts(gross_total=gbp("1481.28")))
    assert finding.code == "total.sum"
    assert (finding.expected, finding.found, finding.difference) == ("1421.28", "1481.28", "+60.00")
    assert finding.fields == ("gross_total", "net_total", "tax_total")
    assert finding.blocks


@pytest.mark.parametrize(("gross", "within", "found"), [
    ("1421.29", 0, ["total.sum"]), ("1421.29", 1, []), ("1421.30", 1, ["total.sum"]),
    ("1421.27", 1, []),
])  # fmt: skip
def test_the_tolerance_counts_in_minor_units(gross, within, found):
    settings = CheckSettings(totals_within=within)
    assert codes(facts(gross_total=gbp(gross), settings=settings)) == found


def test_yen_have_no_minor_unit_to_be_lenient_with():
    yen = {
        "net_total": Money.of("1000", "JPY"),
        "tax_total": Money.of("100", "JPY"),
        "gross_total": Money.of("1101", "JPY"),
    }
    given = replace(facts(currency="JPY", **yen), order=None)
    assert "total.sum" in codes(given)


@pytest.mark.parametrize(
    ("off", "due", "told"),
    [
        ({"prepaid": "421.28"}, "1000.00", False),
        ({"withheld": "221.28", "prepaid": "200.00"}, "1000.00", False),
        ({}, "1421.28", False),
        ({"prepaid": "421.28"}, "1421.28", True),
        ({}, "1000.00", True),
    ],
)
def test_what_is_left_to_pay_follows_from_the_total(off, due, told):
    stated = {name: gbp(amount) for name, amount in off.items()}
    found = [f for f in run_checks(facts(amount_due=gbp(due), **stated)) if f.code == "total.due"]
    assert bool(found) is told
    assert all(finding.blocks for finding in found)  # a total that is wrong never goes on


def test_tax_in_the_currency_of_the_books_is_no_second_currency():
    assert codes(facts(tax_total_accounting=Money.of("277.15", "EUR"))) == []
    assert codes(facts(prepaid=Money.of("277.15", "EUR"))) == ["total.unchecked"]


def test_lines_that_do_not_make_the_net_total_are_told():
    assert codes(facts([line("1", "100.00", "100.00")])) == ["lines.sum"]


def test_lines_with_prices_including_tax_are_recognised():
    assert codes(facts([line("1", "1421.28", "1421.28")])) == []


@pytest.mark.parametrize(("price", "amount", "found"), [
    ("0.333", "33.35", []), ("0.333", "33.36", ["line.amount"]), ("0.33", "33.01", []),
    ("0.33", "33.02", ["line.amount"]), ("0.012", "1.21", []), ("0.012", "1.22", ["line.amount"]),
    ("43", "4300.01", []), ("43", "4345.00", ["line.amount"]),
])  # fmt: skip
def test_a_line_may_be_off_by_a_unit_or_by_what_its_long_price_left_out(price, amount, found):
    given = facts([line("100", price, amount)], without=("net_total",), gross_total=gbp(amount))
    assert [code for code in codes(given) if code == "line.amount"] == found


def test_a_total_without_anything_to_check_it_against_stops():
    (finding,) = run_checks(facts(without=("tax_total",)))
    assert (finding.code, finding.blocks) == ("total.unchecked", True)


def test_a_tax_amount_is_base_times_rate():
    wrong = {"rate": Field(value=Decimal(20)), "amount": Field(value=gbp("230.00"))}
    given = facts(tax_lines=[wrong], tax_total=gbp("230.00"), gross_total=gbp("1414.40"))
    assert codes(given) == ["tax.amount"]


def test_tax_lines_add_up_to_the_tax_total():
    rows = [{"rate": Field(value=Decimal(20)), "amount": Field(value=gbp("200.00"))}] * 2
    given = facts(tax_lines=rows)
    assert "tax.sum" in codes(given)


@pytest.mark.parametrize("name", ["number", "issue_date", "seller.name", "currency"])
def test_a_needed_field_that_is_absent_is_named(name):
    found = [f for f in run_checks(facts(without=(name,))) if f.code == "field.missing"]
    assert [f.fields for f in found] == [(name,)]


@pytest.mark.parametrize("kind", [Kind.REMINDER, Kind.STATEMENT, Kind.PRO_FORMA, Kind.OTHER])
def test_a_reminder_is_never_posted_as_an_invoice(kind):
    given = facts()
    given = replace(given, reading=replace(given.reading, kind=kind))
    assert "kind.not_posted" in codes(given)


def test_an_unknown_vendor_blocks():
    assert codes(replace(facts(), vendor=None, order=None)) == ["vendor.unknown", "order.unknown"]


def test_a_blocked_vendor_blocks():
    assert "vendor.blocked" in codes(replace(facts(), vendor=replace(VENDOR, blocked=True)))


def test_the_same_number_again_names_the_document_before():
    before = EarlierDocument(
        reference="7", number="SG/10442", issued=None, state="posted", posted_as="BL-1"
    )
    (finding,) = run_checks(came(facts(), before))
    assert finding.code == "duplicate.exact"
    assert "document 7, posted as BL-1" in finding.message


@pytest.mark.parametrize(("change", "code"), [
    ({"vendor": "V2"}, "order.vendor"),
    ({"closed": True}, "order.closed"),
    ({"net_total": gbp("1184.39")}, "order.total"),
    ({"invoiced": gbp("15.61")}, "order.total"),
])  # fmt: skip
def test_what_does_not_fit_the_order_is_told(change, code):
    given = facts()
    assert codes(replace(given, order=replace(given.order, **change))) == [code]


def test_the_narrower_tolerance_over_an_order_counts():
    given = facts(settings=CheckSettings(
        order_total=OrderTolerance(percent=Decimal(10), amount=Decimal(5))))  # fmt: skip
    small = replace(given.order, net_total=gbp("1179.40"))
    assert codes(replace(given, order=small)) == []
    assert codes(replace(given, order=replace(small, net_total=gbp("1179.39")))) == ["order.total"]


def test_freight_is_not_counted_against_the_order_but_has_its_own_limit():
    given = facts(LINES, charges=gbp("36.00"))
    exact = replace(given.order, net_total=gbp("1148.40"))
    assert codes(replace(given, order=exact)) == ["order.charges"]


def test_an_order_number_is_needed_where_the_vendor_delivers_on_orders():
    given = replace(facts(without=("order_number",)), order=None)
    assert codes(given) == ["order.missing"]
    assert codes(replace(given, vendor=replace(VENDOR, needs_order=False))) == []


def test_the_pipeline_sets_weights():
    settings = CheckSettings(weights={"order.missing": Weight.NOTE})
    given = replace(facts(without=("order_number",), settings=settings), order=None)
    assert [f.weight for f in run_checks(given)] == [Weight.NOTE]


def test_every_code_is_documented():
    assert all(about.title and about.why for about in CODES.values())


def test_a_finding_survives_its_json_form():
    (finding,) = run_checks(facts(gross_total=gbp("1481.28")))
    assert Finding.from_json(finding.to_json()) == finding


# -- matching


@pytest.mark.parametrize(("one", "other"), [
    ("re 2026/0017", "RE-2026-17"), ("SG/10442", "sg 10442"), ("0042", "42"), ("A.1", "a-01"),
])  # fmt: skip
def test_numbers_are_the_same_whatever_their_separators(one, other):
    assert number_key(one) == number_key(other)


def test_joined_digits_are_another_number():
    assert number_key("RE-2026-17") != number_key("RE-202617")
    assert order_key("PO 26-0101") == order_key("po260101")


def seller(name, tax_id=None):
    fields = {"seller.name": Field(value=name)}
    if tax_id:
        fields["seller.tax_id"] = Field(value=tax_id)
    return Reading(fields=fields)


OTHER = VendorRecord(code="V2", name="Saltglas Services Ltd", tax_id="GB411056167")


def test_a_name_is_enough_without_a_tax_id():
    assert choose_vendor(seller("SALTGLASS SYSTEMS LIMITED"), [VENDOR, OTHER]).vendor is VENDOR


@pytest.mark.parametrize("name", ["Saltglass", "SALTGLASS SYSTEMS LTD", "Systems Saltglass"])
@pytest.mark.parametrize("tax_id", ["GB220519011", "220519011", "GB 220 5190 11"])
def test_a_name_and_its_own_tax_id_agree(name, tax_id):
    assert choose_vendor(seller(name, tax_id), [VENDOR, OTHER]).vendor is VENDOR


@pytest.mark.parametrize(("name", "tax_id", "both"), [
    # Another vendor's id under this one's name, and the other way round.
    (VENDOR.name, OTHER.tax_id, ["V1", "V2"]), (OTHER.name, VENDOR.tax_id, ["V1", "V2"]),
    # A name that nobody here has, with the id of one of ours.
    ("Completely Different Ltd", VENDOR.tax_id, ["nobody here", "V1"]),
    # A name of ours with an id that is nobody's.
    (VENDOR.name, "GB595662546", ["V1", "nobody's"]),
])  # fmt: skip
def test_what_contradicts_itself_is_told_with_both_sides_and_left_to_a_person(name, tax_id, both):
    choice = choose_vendor(seller(name, tax_id), [VENDOR, OTHER])
    assert choice.vendor is None
    assert all(side in choice.contradiction for side in both)
    given = replace(facts(), vendor=None, vendor_contradiction=choice.contradiction, order=None)
    found = [finding for finding in run_checks(given) if finding.code == "vendor.contradicted"]
    assert [finding.blocks for finding in found] == [True]
    assert found[0].message == choice.contradiction


def test_two_vendors_of_one_name_are_left_to_a_person():
    twin = replace(VENDOR, code="V9", tax_id="")
    choice = choose_vendor(seller(VENDOR.name), [VENDOR, twin])
    assert (choice.vendor, choice.contradiction, len(choice.near)) == (None, "", 2)


def test_of_two_vendors_with_one_tax_id_the_name_tells_which():
    branch = replace(VENDOR, code="V9", name="Saltglass Marine Ltd")
    both = [VENDOR, branch]
    assert choose_vendor(seller("Saltglass Marine Ltd", VENDOR.tax_id), both).vendor is branch
    assert choose_vendor(seller("Saltglass Systems Ltd", VENDOR.tax_id), both).vendor is VENDOR
    unnamed = choose_vendor(Reading(fields={"seller.tax_id": Field(value=VENDOR.tax_id)}), both)
    assert (unnamed.vendor, unnamed.contradiction) == (None, "")


def test_a_stranger_is_nobody():
    choice = choose_vendor(seller("Tidewrack Kiosk Supplies Ltd"), [VENDOR, OTHER])
    assert (choice.vendor, choice.contradiction) == (None, "")


TRUST = replace(ENTITY, tax_id="GB333289454")
GERMAN = EntityRecord(code="meerhaus", name="Merrowmere Meerhaus GmbH", tax_id="DE862541651")


def buyer(name=None, tax_id=None, seller_id=None):
    given = {"buyer.name": name, "buyer.tax_id": tax_id, "seller.tax_id": seller_id}
    return Reading(fields={key: Field(value=value) for key, value in given.items() if value})


@pytest.mark.parametrize(("reading", "code"), [
    (buyer("Merrowmere Meerhaus GmbH"), "meerhaus"),
    (buyer(None, "DE862541651"), "meerhaus"),
    (buyer("Merrowmere Meerhaus GmbH", "DE 862 541 651"), "meerhaus"),
    (buyer("Merrowmere Aquarium Trust", "333289454"), "trust"),
    (buyer("Merrowmere Aquarium Trust", "GB220519011", "GB220519011"), "trust"),
    (buyer("Harbour Bakery Ltd"), None),
    (buyer(), "trust"),  # the order tells
])  # fmt: skip
def test_the_billed_entity_is_the_one_that_name_and_tax_id_speak_for(reading, code):
    choice = choose_entity(reading, [TRUST, GERMAN], facts().order)
    assert (choice.entity.code if choice.entity else None, choice.contradiction) == (code, "")


@pytest.mark.parametrize(("reading", "both"), [
    (buyer("Merrowmere Aquarium Trust", "DE862541651"), ["trust", "meerhaus"]),
    (buyer("Harbour Bakery Ltd", "DE862541651"), ["none of ours", "meerhaus"]),
    (buyer("Merrowmere Aquarium Trust", "GB999999973"), ["trust", "GB999999973"]),
])  # fmt: skip
def test_a_buyer_that_contradicts_itself_is_told_with_both_sides(reading, both):
    choice = choose_entity(reading, [TRUST, GERMAN], facts().order)
    assert choice.entity is None
    assert all(side in choice.contradiction for side in both)
    given = replace(facts(), entity=None, entity_contradiction=choice.contradiction)
    assert "entity.contradicted" in codes(given)


def test_without_a_buyer_and_an_order_only_a_single_entity_is_meant():
    assert choose_entity(Reading(), [TRUST, GERMAN], None).entity is None
    assert choose_entity(Reading(), [TRUST], None).entity is TRUST


def test_an_order_of_another_of_our_companies_is_told():
    given = facts()
    (finding,) = run_checks(replace(given, order=replace(given.order, entity="meerhaus")))
    assert (finding.code, finding.blocks) == ("order.entity", True)
    assert (finding.expected, finding.found) == ("meerhaus", "trust")


def test_a_number_typed_without_its_separators_is_a_near_duplicate():
    before = EarlierDocument(reference="7", number="SG10442", issued=None, state="posted")
    (finding,) = run_checks(came(facts(), before))
    assert (finding.code, finding.blocks) == ("duplicate.near", True)
    assert "SG10442" in finding.message
    same = replace(before, reference="8", number="SG/10442")
    assert codes(came(facts(), before, same)) == ["duplicate.exact"]


@pytest.mark.parametrize(("days", "found"), [
    (-2, ["date.future"]), (-1, []), (0, []), (730, []), (731, ["date.old"]),
])  # fmt: skip
def test_an_issue_date_lies_neither_ahead_nor_years_back(days, found):
    arrived = facts().reading.day("issue_date") + timedelta(days=days)
    assert codes(replace(facts(), arrived=arrived)) == found


def test_how_old_a_bill_may_be_is_the_pipelines_choice():
    given = replace(facts(settings=CheckSettings(oldest_days=30)), arrived=date(2026, 12, 6))
    assert codes(given) == ["date.old"]


def test_a_bill_of_nothing_is_told():
    nothing = {name: gbp("0.00") for name in ("net_total", "tax_total", "gross_total")}
    assert codes(facts(**nothing)) == ["total.zero"]


@pytest.mark.parametrize(
    ("origin", "confidence", "found"),
    [
        ("ocr", 0.84, ["field.unsure"]), ("ocr", 0.86, []), ("text", 0.84, ["field.unsure"]),
        ("text", 0.86, []), ("embedded", 0.5, []), ("person", 0.5, []),
    ],
)  # fmt: skip
def test_what_was_read_with_doubt_waits_for_a_person(origin, confidence, found):
    given = facts(LINES, charges=gbp("36.00"))
    number = Field(
        value="S6/10442", text="S6/10442", page=1, box=Box(1, 2, 3, 4), confidence=confidence,
        origin=Origin(origin),
    )  # fmt: skip
    doubtful = replace(given, reading=given.reading.with_fields({"number": number}))
    findings = [each for each in run_checks(doubtful) if each.code == "field.unsure"]
    assert [each.code for each in findings] == found
    if found:
        assert findings[0].blocks
        assert findings[0].fields == ("number",)
        assert "'S6/10442', which is only 84% sure" in findings[0].message
