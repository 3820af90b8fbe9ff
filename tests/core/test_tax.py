"""Taxes on sales: rates by day, ids, reasons, and what a vendor's bills usually are."""

from dataclasses import replace
from datetime import date
from decimal import Decimal

import pytest

from tests.core.paper import page_of
from tests.core.test_checks import ENTITY, VENDOR, codes, facts, gbp, line
from veridox.core.checks import run_checks
from veridox.core.extract.remarks import with_remarks
from veridox.core.findings import Weight
from veridox.core.money import Money
from veridox.core.reading import Field, Kind, Reading
from veridox.core.tax import EU, RateStanding, Treatment, holds, rates_of, reason_in, standing
from veridox.core.tax.ids import country_of
from veridox.core.tax.rates import TABLE

D = Decimal


# -- the table


def test_every_row_has_a_source_and_rows_of_one_rate_do_not_overlap():
    assert all(row.source for rows in TABLE.values() for row in rows)
    assert EU | {"GB", "XI", "CH", "NO", "JP", "CA", "US"} == TABLE.keys()
    for rows in TABLE.values():
        for one in rows:
            for other in rows:
                if one is not other and one.rate == other.rate and one.kind == other.kind:
                    ends, begins = one.ends or date.max, other.begins or date.min
                    assert ends < begins or (other.ends or date.max) < (one.begins or date.min)


@pytest.mark.parametrize("country", sorted(EU | {"GB", "CH", "NO", "JP"}))
@pytest.mark.parametrize("day", [date(2024, 2, 1), date(2026, 11, 1)])
def test_each_country_has_exactly_one_standard_rate_a_day(country, day):
    rows = [row for row in TABLE[country] if row.kind == "standard" and row.holds(day)]
    assert len(rows) == 1
    assert D(15) <= rows[0].rate or country in ("CH", "JP")


@pytest.mark.parametrize(("country", "rate", "day", "found"), [
    ("DE", "19", "2026-11-01", "valid"), ("DE", "16", "2020-07-01", "valid"),
    ("DE", "16", "2020-06-30", "to come"), ("DE", "16", "2021-01-01", "ended"),
    ("DE", "18", "2026-11-01", "unknown"), ("EE", "22", "2025-06-30", "valid"),
    ("EE", "22", "2025-07-01", "ended"), ("EE", "24", "2025-06-30", "to come"),
    ("FI", "25.5", "2024-09-01", "valid"), ("FI", "25.5", "2024-08-31", "to come"),
    ("RO", "21", "2025-08-01", "valid"), ("SK", "23", "2025-01-01", "valid"),
    ("CH", "7.7", "2023-12-31", "valid"), ("CH", "8.1", "2024-01-01", "valid"),
    ("GB", "0", "2026-11-01", "valid"), ("US", "7.25", "2026-11-01", "free"),
    ("BR", "17", "2026-11-01", "no country"), ("GR", "24", "2026-11-01", "valid"),
])  # fmt: skip
def test_a_rate_holds_on_its_days_and_on_no_other(country, rate, day, found):
    assert standing(country, D(rate), date.fromisoformat(day)) == RateStanding(found)


def test_rates_of_a_day_are_told_highest_first():
    assert rates_of("DE", date(2026, 11, 1)) == (D(19), D(7), D(0))
    assert rates_of("DE", date(2020, 8, 1)) == (D(16), D(5))


@pytest.mark.parametrize(("tax_id", "country", "right"), [
    ("GB740175356", "GB", True), ("GB740175357", "GB", False), ("DE862541651", "DE", True),
    ("DE862541652", "DE", False), ("EL094259216", "GR", True), ("XI740175356", "XI", True),
    ("CHE-107.787.577 MWST", "CH", True), ("CHE-107.787.578", "CH", False),
    ("NO 995525828 MVA", "NO", True), ("T7000012050002", "JP", True),
    ("T7000012050003", "JP", False),
    ("IT00743110157", "IT", True), ("FR40303265045", "FR", True), ("12345", "", None),
])  # fmt: skip
def test_a_tax_id_names_its_country_and_passes_its_checksum_or_not(tax_id, country, right):
    assert country_of(tax_id) == country
    assert holds(tax_id) is right


@pytest.mark.parametrize(("text", "treatment"), [
    ("VAT reverse charge: customer to account for VAT", "reverse charge"),
    ("Steuerschuldnerschaft des Leistungsempfängers", "reverse charge"),
    ("Autoliquidation, article 283-2 du CGI", "reverse charge"),
    ("Inversión del sujeto pasivo", "reverse charge"), ("Inversione contabile", "reverse charge"),
    ("BTW verlegd", "reverse charge"), ("odwrotne obciążenie", "reverse charge"),
    ("IVA - autoliquidação", "reverse charge"), ("Omvänd skattskyldighet", "reverse charge"),
    ("steuerfreie innergemeinschaftliche Lieferung", "intra-community"),
    ("Exempt intra-community supply", "intra-community"),
    ("Livraison intracommunautaire exonérée", "intra-community"),
    ("Steuerfreie Ausfuhrlieferung", "export"), ("Zero-rated export of goods", "export"),
    ("Gemäß § 19 UStG wird keine Umsatzsteuer berechnet", "small business"),
    ("TVA non applicable, art. 293 B du CGI", "small business"),
    ("Differenzbesteuerung nach § 25a UStG", "margin"),
    ("Margin scheme: second-hand goods", "margin"),
    ("Umsatzsteuerfrei nach § 4 Nr. 14 UStG", "exempt"), ("Exempt from VAT", "exempt"),
    ("Nicht steuerbar", "outside scope"), ("Zero-rated", "zero rated"),
    ("Thank you for your order", None), ("VAT 20 %", None), ("Free delivery within the EU", None),
])  # fmt: skip
def test_words_on_a_page_tell_why_there_is_no_tax(text, treatment):
    found = reason_in(text)
    assert (found[0].value if found else None) == treatment


# -- against the vendor's usual bills


GERMAN = replace(VENDOR, country="DE", tax_id="DE247191465")


def bill(*, vendor=None, entity=None, tax="236.88", gross="1421.28", rate=None, **fields):
    taxes = [{"rate": Field(value=D(rate)), "base": Field(value=gbp("1184.40")),
              "amount": Field(value=gbp(tax))}] if rate else []  # fmt: skip
    given = facts(tax_lines=taxes, tax_total=gbp(tax), gross_total=gbp(gross), **fields)
    return replace(given, order=None, vendor=vendor or replace(VENDOR, needs_order=False),
                   entity=entity or replace(ENTITY, country="GB"))  # fmt: skip


def told(given, code):
    return [f for f in run_checks(given) if f.code == code]


@pytest.mark.parametrize(("usual", "rates", "tax", "gross", "rate", "found"), [
    ("domestic", ("20",), "236.88", "1421.28", "20", []),
    ("domestic", ("20", "5"), "59.22", "1243.62", "5", []),
    ("domestic", ("20",), "59.22", "1243.62", "5", ["block"]),
    ("domestic", ("20",), "0.00", "1184.40", "0", ["block"]),
    ("domestic", ("20", "0"), "0.00", "1184.40", "0", []),
    ("domestic", (), "0.00", "1184.40", "0", ["block"]),
    ("reverse charge", (), "236.88", "1421.28", "20", ["block"]),
    ("reverse charge", (), "0.00", "1184.40", "0", []),
    ("small business", (), "236.88", "1421.28", None, ["block"]),
    (None, (), "59.22", "1243.62", "5", []),
])  # fmt: skip
def test_tax_is_what_the_vendors_bills_usually_have(usual, rates, tax, gross, rate, found):
    vendor = replace(VENDOR, needs_order=False, treatment=Treatment(usual) if usual else None,
                     rates=tuple(map(D, rates)))  # fmt: skip
    given = bill(vendor=vendor, tax=tax, gross=gross, rate=rate)
    assert [f.weight.value for f in told(given, "tax.unexpected")] == found


def test_what_is_unexpected_is_told_with_both_sides():
    vendor = replace(VENDOR, needs_order=False, treatment=Treatment.DOMESTIC, rates=(D(20),))
    (finding,) = told(bill(vendor=vendor, tax="59.22", gross="1243.62", rate="5"), "tax.unexpected")
    assert (finding.expected, finding.found) == ("20 %", "5 %")
    assert "usually charges 20 %; 5 % is charged here" in finding.message


@pytest.mark.parametrize(("usual", "reason", "weights"), [
    (None, "", ["block"]), ("reverse charge", "", ["warn"]), (None, "VAT reverse charge", []),
    (None, "thank you", ["block"]), ("zero rated", "", []),
])  # fmt: skip
def test_no_tax_needs_a_reason(usual, reason, weights):
    vendor = replace(VENDOR, needs_order=False, treatment=Treatment(usual) if usual else None)
    given = bill(vendor=vendor, tax="0.00", gross="1184.40", rate="0", exemption_reason=reason)
    assert [f.weight.value for f in told(given, "tax.reason_missing")] == weights


@pytest.mark.parametrize(("seller", "buyer", "reason", "tax", "said"), [
    ("GB", "GB", "VAT reverse charge", "236.88", "charges 236.88 GBP tax all the same"),
    ("GB", "GB", "margin scheme", "236.88", "margin"),
    ("DE", "GB", "innergemeinschaftliche Lieferung", "0.00", "GB is no member state"),
    ("DE", "DE", "innergemeinschaftliche Lieferung", "0.00", "both sides are in DE"),
    ("DE", "FR", "innergemeinschaftliche Lieferung", "0.00", None),
    ("DE", "XI", "innergemeinschaftliche Lieferung", "0.00", None),
    ("DE", "FR", "Ausfuhrlieferung", "0.00", "both sides are in the union"),
    ("DE", "GB", "Ausfuhrlieferung", "0.00", None), ("DE", "GB", "reverse charge", "0.00", None),
    ("GB", "GB", "zero-rated items are marked", "236.88", None),
])  # fmt: skip
def test_a_reason_that_cannot_hold_is_told(seller, buyer, reason, tax, said):
    vendor = replace(VENDOR, needs_order=False, country=seller,
                     tax_id="DE247191465" if seller == "DE" else VENDOR.tax_id)  # fmt: skip
    gross = "1421.28" if tax != "0.00" else "1184.40"
    given = bill(vendor=vendor, entity=replace(ENTITY, country=buyer), tax=tax, gross=gross,
                 rate="20" if tax != "0.00" else "0", exemption_reason=reason,
                 **{"seller.tax_id": vendor.tax_id})  # fmt: skip
    found = told(given, "tax.contradicted")
    assert [said in f.message for f in found] == ([True] if said else [])


def test_a_category_that_carries_no_tax_has_no_rate():
    given = bill(rate="20")
    row = {**given.reading.tax_lines[0], "category": Field(value="AE")}
    given = replace(given, reading=replace(given.reading, tax_lines=(row,)))
    assert any("reverse charge" in f.message for f in told(given, "tax.contradicted"))


@pytest.mark.parametrize(("reason", "buyer_id", "found"), [
    ("reverse charge", None, 1), ("reverse charge", "GB740175356", 0), ("zero-rated", None, 0),
])  # fmt: skip
def test_under_reverse_charge_our_tax_id_is_stated(reason, buyer_id, found):
    given = bill(tax="0.00", gross="1184.40", rate="0", exemption_reason=reason,
                 **({"buyer.tax_id": buyer_id} if buyer_id else {}))  # fmt: skip
    assert len(told(given, "tax.buyer_id_missing")) == found


@pytest.mark.parametrize(("known", "stated", "weights"), [
    ("GB220519011", "GB220519011", []), ("GB220519011", "", ["note"]), ("", "", ["block"]),
])  # fmt: skip
def test_tax_is_charged_only_with_a_tax_id(known, stated, weights):
    vendor = replace(VENDOR, needs_order=False, tax_id=known)
    without = () if stated else ("seller.tax_id",)
    given = replace(facts(without=without), vendor=vendor, order=None)
    assert [f.weight.value for f in told(given, "tax.no_id")] == weights


def test_a_tax_id_that_fails_its_checksum_is_told():
    given = bill(**{"seller.tax_id": "GB220519012"})
    (finding,) = told(given, "tax.id_invalid")
    assert (finding.weight, finding.found) == (Weight.WARN, "GB220519012")


@pytest.mark.parametrize(("rate", "day", "code", "weight"), [
    ("19", date(2026, 11, 5), None, None), ("16", date(2026, 11, 5), "tax.rate", "block"),
    ("16", date(2020, 8, 5), None, None), ("18", date(2026, 11, 5), "tax.rate_unknown", "note"),
])  # fmt: skip
def test_a_rate_is_judged_by_the_day_and_one_that_is_not_known_never_blocks(
    rate, day, code, weight
):
    tax = (D("1184.40") * D(rate) / 100).quantize(D("0.01"))
    given = bill(vendor=replace(GERMAN, needs_order=False), tax=str(tax),
                 gross=str(D("1184.40") + tax), rate=rate, issue_date=day,
                 **{"seller.tax_id": "DE247191465"})  # fmt: skip
    found = [f for f in run_checks(given) if f.code in ("tax.rate", "tax.rate_unknown")]
    assert [(f.code, f.weight.value) for f in found] == ([(code, weight)] if code else [])


def test_the_day_of_delivery_counts_before_the_day_of_issue():
    late = bill(vendor=replace(GERMAN, needs_order=False), tax="189.50", gross="1373.90", rate="16",
                issue_date=date(2021, 1, 15), delivery_date=date(2020, 12, 15),
                **{"seller.tax_id": "DE247191465"})  # fmt: skip
    assert told(late, "tax.rate") == []


def test_tax_of_another_country_is_told_where_nothing_is_known_of_the_vendor():
    given = bill(vendor=replace(GERMAN, needs_order=False), rate="20",
                 **{"seller.tax_id": "DE247191465"})  # fmt: skip
    (finding,) = told(given, "tax.foreign")
    assert "DE are charged to a company in GB" in finding.message


# -- sums of parts


def test_bases_and_lines_of_each_rate_go_together():
    lines = [line("1", "100", "100.00", tax_rate=D(20)), line("1", "50", "50.00", tax_rate=D(5))]
    taxes = [{"rate": Field(value=D(r)), "base": Field(value=gbp(b)), "amount": Field(value=gbp(a))}
             for r, b, a in (("20", "100.00", "20.00"), ("5", "50.00", "2.50"))]  # fmt: skip
    sums = {"net_total": gbp("150.00"), "tax_total": gbp("22.50"), "gross_total": gbp("172.50")}
    given = replace(facts(lines, taxes, **sums), order=None)
    assert {"tax.base", "tax.bases"}.isdisjoint(codes(given))
    shifted = [{**taxes[0], "base": Field(value=gbp("120.00"))},
               {**taxes[1], "base": Field(value=gbp("30.00"))}]  # fmt: skip
    found = [f for f in run_checks(replace(facts(lines, shifted, **sums), order=None))
             if f.code == "tax.base"]  # fmt: skip
    assert [(f.expected, f.found) for f in found] == [("100.00", "120.00"), ("50.00", "30.00")]


@pytest.mark.parametrize(("name", "rows", "stated", "code"), [
    ("charge_lines", ("20.00", "8.00"), {"charges": "28.00"}, None),
    ("charge_lines", ("20.00", "8.00"), {"charges": "38.00"}, "charges.sum"),
    ("allowance_lines", ("20.00",), {"allowances": "21.00"}, "allowances.sum"),
])  # fmt: skip
def test_charges_and_allowances_add_up_singly(name, rows, stated, code):
    given = replace(facts(**{k: gbp(v) for k, v in stated.items()}), order=None)
    parts = tuple({"amount": Field(value=gbp(each))} for each in rows)
    given = replace(given, reading=replace(given.reading, **{name: parts}))
    found = [f for f in run_checks(given) if f.code in ("charges.sum", "allowances.sum")]
    assert [f.code for f in found] == ([code] if code else [])


def test_an_allowance_is_its_base_times_its_percent():
    row = {"percent": Field(value=D(3)), "base": Field(value=gbp("1000.00")),
           "amount": Field(value=gbp("31.00"))}  # fmt: skip
    given = replace(facts(), order=None)
    given = replace(given, reading=replace(given.reading, allowance_lines=(row,)))
    (finding,) = told(given, "adjustment.amount")
    assert (finding.expected, finding.found, finding.difference) == ("30.00", "31.00", "+1.00")


@pytest.mark.parametrize(("rounding", "due", "found"), [
    ("0.02", "1421.30", 0), (None, "1421.30", 1), ("-0.03", "1421.25", 0), ("0.02", "1421.28", 1),
])  # fmt: skip
def test_rounding_is_part_of_what_is_due(rounding, due, found):
    more = {"rounding": gbp(rounding)} if rounding else {}
    given = facts(amount_due=gbp(due), **more)
    assert len(told(given, "total.due")) == found


def test_the_sum_of_lines_is_what_they_make():
    lines = [line("30", "31.90", "957.00"), line("6", "31.90", "191.40")]
    given = facts(lines, lines_total=gbp("1148.40"), charges=gbp("36.00"))
    assert told(given, "lines.total") == []
    (finding,) = told(facts(lines, lines_total=gbp("1184.40"), charges=gbp("36.00")), "lines.total")
    assert (finding.expected, finding.found, finding.difference) == ("1148.40", "1184.40", "+36.00")


def test_a_line_with_a_charge_of_its_own():
    given = facts([line("2", "10", "25.00", charge=gbp("5.00"))], net_total=gbp("25.00"),
                  tax_total=gbp("5.00"), gross_total=gbp("30.00"))  # fmt: skip
    assert told(given, "line.amount") == []


# -- what pages say


def noted(*lines, kind=Kind.INVOICE):
    rows = tuple((40 + 20 * at, (50, text)) for at, text in enumerate(lines))
    reading = Reading(kind=kind, fields={"currency": Field(value="GBP")})
    return with_remarks(reading, (page_of(*rows),)).fields


def test_a_sentence_on_the_page_becomes_a_field_with_its_place():
    found = noted("Total 100.00", "VAT reverse charge applies to this supply")
    assert found["exemption_reason"].value == "VAT reverse charge applies to this supply"
    assert found["exemption_reason"].box is not None


@pytest.mark.parametrize(("text", "name", "value"), [
    ("The amount will be collected by direct debit on 12 Nov", "payment_means", "direct debit"),
    ("Der Betrag wird per Lastschrift eingezogen", "payment_means", "direct debit"),
    ("This debt has been assigned to Ebbgeld Factoring AG, Bern", "payee.name",
     "Ebbgeld Factoring AG"),
    ("Die Forderung ist abgetreten an die Ebbgeld Factoring AG", "payee.name",
     "Ebbgeld Factoring AG"),
    ("Rounding -0.02", "rounding", Money.of("-0.02", "GBP")),
    ("Rundungsdifferenz 0,03", "rounding", Money.of("0.03", "GBP")),
])  # fmt: skip
def test_whom_and_how_to_pay_is_read_from_sentences(text, name, value):
    assert noted(text)[name].value == value


def test_what_is_stated_already_and_what_is_no_bill_are_left_alone():
    assert "exemption_reason" not in noted("VAT reverse charge", kind=Kind.DELIVERY_NOTE)
