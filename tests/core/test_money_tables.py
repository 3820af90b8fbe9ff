"""Where money is decided: each term of each equation, and both sides of each tolerance."""

from dataclasses import replace
from decimal import Decimal

import pytest

from tests.core.test_checks import codes, facts, gbp, line
from veridox.core.checks import run_checks
from veridox.core.checks.orders import order_limit
from veridox.core.facts import CheckSettings, OrderTolerance
from veridox.core.money import Money, minor_unit, round_half_up, total
from veridox.core.money.amounts import CurrencyMismatchError
from veridox.core.reading import Field


def only(given, *wanted):
    return [code for code in codes(given) if code in wanted]


def cell(value):
    return Field(value=Decimal(value) if isinstance(value, str) else value)


# -- a line: quantity x price / base - discount


@pytest.mark.parametrize(("quantity", "price", "more", "amount", "good"), [
    ("10", "42.00", {}, "420.00", True), ("10", "42.00", {}, "420.01", True),
    ("10", "42.00", {}, "420.02", False), ("10", "42.00", {}, "419.98", False),
    ("11", "42.00", {}, "420.00", False), ("10", "43.00", {}, "420.00", False),
    ("10", "42.00", {"discount": gbp("20.00")}, "400.00", True),
    ("10", "42.00", {"discount": gbp("20.00")}, "420.00", False),
    ("10", "42.00", {"discount": gbp("20.00")}, "440.00", False),
    ("250", "42.00", {"price_base": "100"}, "105.00", True),
    ("250", "42.00", {"price_base": "100"}, "10500.00", False),
    ("250", "42.00", {"price_base": "0"}, "1.00", False),
    ("100000", "0.05", {}, "5000.00", True), ("100000", "0.05", {}, "5400.00", False),
    ("100", "43", {}, "4345.00", False), ("-10", "42.00", {}, "-420.00", True),
    ("-10", "42.00", {}, "420.00", False), ("1000", "0.125", {}, "125.00", True),
    ("1000", "0.125", {}, "125.50", True), ("1000", "0.125", {}, "125.51", False),
    ("1000", "0.012", {}, "12.06", True), ("1000", "0.012", {}, "12.07", False),
    ("1000", "0.1250", {}, "125.06", False),
    ("2000", "1.2345", {"price_base": "1000"}, "2.47", True),
    ("2000", "1.2345", {"price_base": "1000"}, "2.49", False),
])  # fmt: skip
def test_a_line_is_quantity_times_price_by_base_less_discount(quantity, price, more, amount, good):
    cells = {n: Decimal(value) if isinstance(value, str) else value for n, value in more.items()}
    given = facts([line(quantity, price, amount, **cells)])
    assert only(given, "line.amount") == ([] if good else ["line.amount"])


def test_a_line_tells_the_product_as_it_was_computed():
    given = facts([line("250", "42.00", "99.00", price_base=Decimal(100), discount=gbp("5"))])
    finding = next(each for each in run_checks(given) if each.code == "line.amount")
    assert "250 x 42.00 / 100 - 5.00 is 100.00, but 99.00 GBP is stated" in finding.message
    assert (finding.expected, finding.found, finding.difference) == ("100.00", "99.00", "-1.00")


# -- lines - allowances + charges = net


@pytest.mark.parametrize(("charges", "allowances", "net", "good"), [
    (None, None, "300.00", True), ("36.00", None, "336.00", True), ("36.00", None, "300.00", False),
    ("36.00", None, "264.00", False), (None, "20.00", "280.00", True),
    (None, "20.00", "320.00", False), (None, "20.00", "300.00", False),
    ("36.00", "20.00", "316.00", True), ("36.00", "20.00", "356.00", False),
    (None, None, "300.01", False), (None, None, "299.99", False),
])  # fmt: skip
def test_lines_less_allowances_and_with_charges_make_the_net_total(charges, allowances, net, good):
    given = {name: gbp(amount) for name, amount in
             (("charges", charges), ("allowances", allowances)) if amount}  # fmt: skip
    rows = [line("10", "20.00", "200.00"), line("5", "20.00", "100.00")]
    checked = facts(rows, net_total=gbp(net), gross_total=gbp("9999.00"), **given)
    assert only(checked, "lines.sum") == ([] if good else ["lines.sum"])


@pytest.mark.parametrize(("within", "net", "good"), [
    (0, "300.01", False), (1, "300.01", True), (1, "300.02", False), (1, "299.99", True),
    (2, "300.02", True),
])  # fmt: skip
def test_lines_may_be_off_by_what_the_pipeline_allows(within, net, good):
    settings = CheckSettings(totals_within=within)
    given = facts([line("15", "20.00", "300.00")], net_total=gbp(net), gross_total=gbp("9999.00"),
                  settings=settings)  # fmt: skip
    assert only(given, "lines.sum") == ([] if good else ["lines.sum"])


def test_without_a_net_total_the_lines_are_compared_with_the_total():
    rows = [line("1", "300.00", "300.00")]
    assert only(facts(rows, without=("net_total",), gross_total=gbp("300.00")), "lines.sum") == []
    assert only(facts(rows, without=("net_total",), gross_total=gbp("301.00")), "lines.sum")


# -- tax: base x rate, the sum of it, and the total


@pytest.mark.parametrize(("base", "rate", "amount", "lines", "good"), [
    ("100.00", "20", "20.00", 0, True), ("100.00", "20", "20.01", 0, True),
    ("100.00", "20", "20.02", 0, False), ("100.00", "20", "19.98", 0, False),
    ("100.00", "19", "20.00", 0, False), ("200.00", "20", "20.00", 0, False),
    ("100.00", "20", "20.02", 4, True), ("100.00", "20", "20.03", 4, False),
    ("100.00", "5.5", "5.50", 0, True), ("10.03", "20", "2.01", 0, True),
])  # fmt: skip
def test_a_tax_amount_is_base_times_rate(base, rate, amount, lines, good):
    row = {"base": cell(gbp(base)), "rate": cell(rate), "amount": cell(gbp(amount))}
    given = facts([line("1", "1.00", "1.00")] * lines, [row], tax_total=gbp(amount))
    assert only(given, "tax.amount") == ([] if good else ["tax.amount"])


def test_a_single_tax_line_without_a_base_is_taken_of_the_net_total():
    row = {"rate": cell("20"), "amount": cell(gbp("236.88"))}
    assert only(facts(tax_lines=[row]), "tax.amount") == []
    assert only(facts(tax_lines=[row], net_total=gbp("1184.50")), "tax.amount") == ["tax.amount"]
    two = [row, {"rate": cell("5"), "amount": cell(gbp("99.00"))}]
    assert only(facts(tax_lines=two), "tax.amount") == []  # of what, is not said


@pytest.mark.parametrize(("amounts", "stated", "within", "good"), [
    (("20.00", "5.00"), "25.00", 0, True), (("20.00", "5.00"), "25.01", 0, False),
    (("20.00", "5.00"), "25.01", 1, True), (("20.00", "5.00"), "25.02", 1, False),
    (("20.00", "5.00"), "20.00", 0, False), (("20.00", "-5.00"), "15.00", 0, True),
])  # fmt: skip
def test_tax_amounts_make_the_tax_total(amounts, stated, within, good):
    rows = [{"amount": cell(gbp(amount))} for amount in amounts]
    given = facts(
        tax_lines=rows, tax_total=gbp(stated), settings=CheckSettings(totals_within=within)
    )
    assert only(given, "tax.sum") == ([] if good else ["tax.sum"])


@pytest.mark.parametrize(("net", "tax", "gross", "good"), [
    ("100.00", "20.00", "120.00", True), ("100.00", "20.00", "80.00", False),
    ("100.00", "20.00", "100.00", False), ("100.00", "20.00", "120.01", False),
    ("100.00", "20.00", "119.99", False), ("100.00", "0.00", "100.00", True),
    ("-100.00", "-20.00", "-120.00", True),
])  # fmt: skip
def test_net_and_tax_make_the_total(net, tax, gross, good):
    given = facts(net_total=gbp(net), tax_total=gbp(tax), gross_total=gbp(gross))
    assert only(given, "total.sum") == ([] if good else ["total.sum"])


@pytest.mark.parametrize(("gross", "said"), [("121.00", "too high"), ("119.00", "too low")])
def test_a_wrong_total_says_in_which_direction(gross, said):
    given = facts(net_total=gbp("100.00"), tax_total=gbp("20.00"), gross_total=gbp(gross))
    finding = next(each for each in run_checks(given) if each.code == "total.sum")
    assert f"1.00 GBP {said}" in finding.message
    assert finding.letter == finding.message


@pytest.mark.parametrize(("gross", "off", "due", "within", "good"), [
    ("1421.28", {}, "1421.28", 0, True), ("1421.28", {}, "1421.29", 0, False),
    ("1421.28", {}, "1421.29", 1, True), ("1421.28", {}, "1421.30", 1, False),
    ("1421.28", {"prepaid": "421.28"}, "1000.00", 0, True),
    ("1421.28", {"prepaid": "421.28"}, "1842.56", 0, False),
    ("1421.28", {"withheld": "421.28"}, "1000.00", 0, True),
    ("1421.28", {"withheld": "21.28", "prepaid": "400.00"}, "1000.00", 0, True),
    ("1421.28", {"withheld": "21.28", "prepaid": "400.00"}, "1021.28", 0, False),
])  # fmt: skip
def test_what_is_left_to_pay_is_the_total_less_prepaid_and_withheld(gross, off, due, within, good):
    more = {name: gbp(amount) for name, amount in off.items()}
    settings = CheckSettings(totals_within=within)
    given = facts(gross_total=gbp(gross), amount_due=gbp(due), settings=settings, **more)
    assert only(given, "total.due") == ([] if good else ["total.due"])


@pytest.mark.parametrize(("without", "said", "letter"), [
    ("net_total", "no net total is stated", "It states no net total."),
    ("tax_total", "no tax is stated", "It states no tax."),
])  # fmt: skip
def test_a_total_without_its_parts_says_which_is_missing(without, said, letter):
    finding = next(f for f in run_checks(facts(without=(without,))) if f.code == "total.unchecked")
    assert said in finding.message
    assert finding.letter == letter


def test_without_a_total_there_is_nothing_to_add_up():
    found = codes(facts(without=("gross_total",)))
    assert [code for code in found if code.startswith("total.")] == []


@pytest.mark.parametrize("without", ["quantity", "unit_price", "amount"])
def test_a_line_that_lacks_a_part_is_no_finding(without):
    row = {name: each for name, each in line("10", "42.00", "1.00").items() if name != without}
    assert only(facts([row]), "line.amount") == []


def test_differences_say_how_much_and_where():
    rows = [line("10", "20.00", "200.00"), line("10", "20.00", "210.00")]
    wrong = {"rate": cell("20"), "base": cell(gbp("100.00")), "amount": cell(gbp("25.00"))}
    right = {"rate": cell("20"), "base": cell(gbp("100.00")), "amount": cell(gbp("20.00"))}
    given = facts(rows, [right, wrong], net_total=gbp("500.00"), gross_total=gbp("9.00"))
    found = {each.code: each for each in run_checks(given)}
    assert found["line.amount"].fields[0] == "lines[2].amount"
    assert (found["line.amount"].expected, found["line.amount"].difference) == ("200.00", "+10.00")
    assert found["tax.amount"].fields[0] == "tax_lines[2].amount"
    assert (found["tax.amount"].expected, found["tax.amount"].difference) == ("20.00", "+5.00")
    assert (found["lines.sum"].expected, found["lines.sum"].difference) == ("410.00", "+90.00")
    assert found["tax.sum"].difference == "+191.88"
    assert found["total.sum"].difference == "-727.88"


@pytest.mark.parametrize(("due", "difference"), [("1000.00", "-421.28"), ("1500.00", "+78.72")])
def test_what_is_left_to_pay_says_by_how_much_it_is_off(due, difference):
    finding = next(f for f in run_checks(facts(amount_due=gbp(due))) if f.code == "total.due")
    assert (finding.expected, finding.difference) == ("1421.28", difference)


def test_a_base_of_one_is_not_worth_a_word():
    given = facts([line("10", "42.00", "1.00", price_base=Decimal(1))])
    finding = next(each for each in run_checks(given) if each.code == "line.amount")
    assert "10 x 42.00 is 420.00" in finding.message


# -- orders


@pytest.mark.parametrize(("percent", "amount", "limit"), [
    ("0", None, "1000.00"), ("2", None, "1020.00"), ("0", "50", "1050.00"), ("2", "50", "1020.00"),
    ("10", "50", "1050.00"), ("0.333", None, "1003.33"), ("2", "0", "1000.00"),
])  # fmt: skip
def test_the_most_that_may_be_billed_on_an_order(percent, amount, limit):
    order = replace(facts().order, net_total=gbp("1000.00"))
    most = None if amount is None else Decimal(amount)
    tolerance = OrderTolerance(percent=Decimal(percent), amount=most)
    assert order_limit(order, tolerance) == gbp(limit)


@pytest.mark.parametrize(("net", "charges", "invoiced", "good"), [
    ("1000.00", None, "0.00", True), ("1000.01", None, "0.00", False),
    ("1036.00", "36.00", "0.00", True), ("1036.01", "36.00", "0.00", False),
    ("400.00", None, "600.00", True), ("400.01", None, "600.00", False),
    ("1100.00", None, "-100.00", True), ("1100.01", None, "-100.00", False),
])  # fmt: skip
def test_goods_of_all_bills_stay_within_the_order(net, charges, invoiced, good):
    more = {"charges": gbp(charges)} if charges else {}
    settings = CheckSettings(order_total=OrderTolerance(charges=Decimal(50)))
    given = facts(net_total=gbp(net), settings=settings, **more)
    order = replace(given.order, net_total=gbp("1000.00"), invoiced=gbp(invoiced))
    assert only(replace(given, order=order), "order.total") == ([] if good else ["order.total"])


@pytest.mark.parametrize(("charges", "limit", "good"), [
    ("50.00", 50, True), ("50.01", 50, False), ("0.00", 0, True), ("0.01", 0, False),
])  # fmt: skip
def test_charges_have_a_limit_of_their_own(charges, limit, good):
    settings = CheckSettings(order_total=OrderTolerance(charges=Decimal(limit)))
    given = facts(charges=gbp(charges), settings=settings)
    assert only(given, "order.charges") == ([] if good else ["order.charges"])


def test_a_credit_note_never_exceeds_an_order():
    from veridox.core.reading import Kind

    given = facts(net_total=gbp("99999.00"))
    credit = replace(given, reading=replace(given.reading, kind=Kind.CREDIT_NOTE))
    assert only(credit, "order.total") == []


# -- money itself


@pytest.mark.parametrize(("amount", "currency", "rounded"), [
    ("0.005", "EUR", "0.01"), ("-0.005", "EUR", "-0.01"), ("0.0049", "EUR", "0.00"),
    ("0.5", "JPY", "1"), ("1.0005", "KWD", "1.001"), ("2.675", "GBP", "2.68"),
])  # fmt: skip
def test_halves_are_rounded_away_from_zero(amount, currency, rounded):
    assert round_half_up(Decimal(amount), currency) == Decimal(rounded)


@pytest.mark.parametrize(("currency", "unit"), [("EUR", "0.01"), ("JPY", "1"), ("KWD", "0.001")])
def test_the_smallest_amount_is_the_currencys(currency, unit):
    assert minor_unit(currency) == Decimal(unit)


@pytest.mark.parametrize(("one", "other", "tolerance", "within"), [
    ("1.00", "1.00", "0", True), ("1.00", "1.01", "0", False), ("1.00", "1.01", "0.01", True),
    ("1.01", "1.00", "0.01", True), ("1.00", "1.02", "0.01", False), ("-1", "1", "1.99", False),
])  # fmt: skip
def test_two_amounts_are_within_a_tolerance(one, other, tolerance, within):
    assert gbp(one).within(gbp(other), Decimal(tolerance)) is within


def test_sums_are_exact_and_of_one_currency():
    assert total([gbp("0.10")] * 3, "GBP") == gbp("0.30")
    assert total([], "GBP") == gbp("0")
    assert gbp("3") - gbp("1") == gbp("2")
    assert -gbp("3") == gbp("-3")
    assert abs(gbp("-3")) == gbp("3")
    assert gbp("1") < gbp("2")
    assert gbp("2") <= gbp("2")
    assert not gbp("2") < gbp("2")
    assert not gbp("3") <= gbp("2")
    for act in (lambda: gbp("1") + Money.of("1", "EUR"), lambda: gbp("1") < Money.of("1", "EUR")):
        with pytest.raises(CurrencyMismatchError):
            act()


@pytest.mark.parametrize(("amount", "currency", "plain", "shown"), [
    ("1421.28", "GBP", "1421.28", "1,421.28 GBP"), ("1421", "GBP", "1421.00", "1,421.00 GBP"),
    ("0.12345", "EUR", "0.12345", "0.12345 EUR"), ("1500", "JPY", "1500", "1,500 JPY"),
    ("-3.5", "EUR", "-3.50", "-3.50 EUR"),
])  # fmt: skip
def test_amounts_are_written_with_their_currencys_digits_at_least(amount, currency, plain, shown):
    money = Money.of(amount, currency)
    assert (money.plain(), str(money)) == (plain, shown)


@pytest.mark.parametrize(("more", "said"), [
    ({"charges": gbp("5.00")},
     "together make 30.00 GBP and with charges of 5.00 GBP: 35.00 GBP net"),
    ({"allowances": gbp("5.00")},
     "together make 30.00 GBP and less allowances of 5.00 GBP: 25.00 GBP net"),
    ({}, "together make 30.00 GBP: 30.00 GBP net"),
])  # fmt: skip
def test_what_the_lines_do_not_add_up_to_is_told_part_by_part(more, said):
    lines = [line("1", "10.00", "10.00"), line("2", "10.00", "20.00")]
    fields = {"net_total": gbp("99.00"), "tax_total": gbp("1.00"), "gross_total": gbp("100.00")}
    found = run_checks(facts(lines, **fields, **more))
    (finding,) = [each for each in found if each.code == "lines.sum"]
    assert said in finding.message
