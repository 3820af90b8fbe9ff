"""Under what lines are booked: who prevails, how lines are split, what history says, what stops."""

from dataclasses import replace
from decimal import Decimal

import pytest

from tests.core.test_checks import VENDOR, facts, line
from tests.core.test_order_lines import KRILL, given, krill
from veridox.core.checks import run_checks
from veridox.core.coding import (
    ByHand,
    CodedBefore,
    CostCentre,
    Dimension,
    GlAccount,
    LedgerCodes,
    Project,
    Proposal,
    Share,
    Source,
    TaxCode,
    code_line,
    key_of,
    lines_to_code,
    most_likely,
    place_of,
    tax_code_of,
    wording_key,
)
from veridox.core.findings import Weight
from veridox.core.money import Money
from veridox.core.pipeline import Case, advance
from veridox.core.pipeline.effects import PreparePosting
from veridox.core.pipeline.file.load import examine
from veridox.core.posting import Bill, bill_of_facts
from veridox.core.posting.answers import Standing, differences
from veridox.core.reading import Field

ACCOUNT, CENTRE, TAX = Dimension.GL_ACCOUNT, Dimension.COST_CENTRE, Dimension.TAX_CODE
CODES = LedgerCodes(
    accounts={each.code: each for each in (
        GlAccount(code="4310", name="Feed", needs_cost_centre=True), GlAccount(code="6310"),
        GlAccount(code="6410", name="Signs", closed=True),
    )},
    cost_centres={"CC-10": CostCentre(code="CC-10"), "CC-20": CostCentre(code="CC-20")},
    tax_codes=(TaxCode(code="GB20", country="GB", category="S", rate=Decimal(20)),
               TaxCode(code="GB05", country="GB", category="S", rate=Decimal(5))),
)  # fmt: skip


def gbp(text):
    return Money.of(text, "GBP")


def split(amount, *shares):
    coded = code_line(1, "x", gbp(amount), [Proposal(source=Source.RULE, shares=shares)])
    return [part.amount.plain() for part in coded.parts], coded.problem


def percent(number):
    return Share(percent=Decimal(number))


def amount(number):
    return Share(amount=Decimal(number))


@pytest.mark.parametrize(("whole", "shares", "parts"), [
    ("100.00", (percent(50), percent(50)), ["50.00", "50.00"]),
    ("100.00", (percent("33.33"), percent("33.33"), percent("33.34")), ["33.33", "33.33", "33.34"]),
    ("0.01", (percent(50), percent(50)), ["0.01", "0.00"]),
    ("10.01", (percent(50), percent(50)), ["5.01", "5.00"]),
    ("-10.01", (percent(50), percent(50)), ["-5.01", "-5.00"]),
    ("100.00", (percent(60), Share()), ["60.00", "40.00"]),
    ("100.00", (amount("12.34"), Share(), percent(10)), ["12.34", "77.66", "10.00"]),
    ("100.00", (amount("40.00"), amount("60.00")), ["40.00", "60.00"]),
])  # fmt: skip
def test_shares_are_the_whole_line_to_the_cent(whole, shares, parts):
    assert split(whole, *shares) == (parts, "")


@pytest.mark.parametrize(("shares", "problem"), [
    ((percent(50), percent(40)), "come to 90.00 GBP, 10.00 too little"),
    ((percent(50), percent(60)), "come to 110.00 GBP, 10.00 too much"),
    ((amount("70.00"), amount("40.00")), "come to 110.00 GBP, 10.00 too much"),
    ((amount("120.00"), Share()), "the other shares take 20.00 GBP too much"),
    ((Share(), Share()), "several shares say how much not"),
])  # fmt: skip
def test_shares_that_are_not_the_whole_are_told(shares, problem):
    assert problem in split("100.00", *shares)[1]


def test_who_comes_first_prevails_for_each_code_alone():
    coded = code_line(1, "x", gbp("1"), [
        Proposal(source=Source.RULE, codes={ACCOUNT: "1", CENTRE: ""}),
        Proposal(source=Source.ORDER, codes={ACCOUNT: "2", CENTRE: "C"}),
        Proposal(source=Source.HISTORY, codes={TAX: "T"}, chances={TAX: 0.75}),
    ])  # fmt: skip
    (part,) = coded.parts
    assert {d: (c.code, c.source) for d, c in part.codes.items()} == {
        ACCOUNT: ("1", Source.RULE), CENTRE: ("C", Source.ORDER), TAX: ("T", Source.HISTORY),
    }  # fmt: skip
    assert coded.chance == 0.75


def test_codes_of_a_share_prevail_over_those_of_the_line():
    coded = code_line(1, "x", gbp("10"), [Proposal(
        source=Source.RULE, codes={ACCOUNT: "4310", CENTRE: "CC-10"},
        shares=(Share(percent=Decimal(60)), Share(codes={CENTRE: "CC-20"})),
    )])  # fmt: skip
    assert [part.codes[CENTRE].code for part in coded.parts] == ["CC-10", "CC-20"]
    assert [part.codes[ACCOUNT].code for part in coded.parts] == ["4310", "4310"]


# -- history


@pytest.mark.parametrize(("one", "other"), [
    ("Cleaning, October 2026", "Cleaning, November 2026"), ("Fracht 12/26", "FRACHT 7/26"),
    ("Energie März", "Energie Juni"),
])  # fmt: skip
def test_wordings_are_alike_but_for_numbers_and_months(one, other):
    assert wording_key(one) == wording_key(other)


def before(*rows):
    return [CodedBefore(wording=wording_key(text), codes={"gl_account": code})
            for text, code in rows]  # fmt: skip


def test_a_line_is_booked_as_lines_like_it_were_the_more_surely_the_more_there_were():
    once = most_likely("reef salt", before(("Reef salt", "4320")), "gl_account")
    assert once == ("4320", 0.75, 1)
    often = most_likely("reef salt", before(*[("Reef salt", "4320")] * 10), "gl_account")
    assert often is not None
    assert often[1] > 0.95
    mixed = most_likely("reef salt", before(*[("Reef salt", "4320")] * 3, ("Reef salt", "9")),
                        "gl_account")  # fmt: skip
    assert mixed is not None
    assert (mixed[0], round(mixed[1], 2)) == ("4320", 0.7)


def test_other_wordings_of_the_vendor_say_little_and_other_dimensions_nothing():
    found = most_likely("krill", before(("Reef salt", "4320")), "gl_account")
    assert found is not None
    assert (found[0], found[2]) == ("4320", 0)
    assert found[1] < 0.7
    assert most_likely("krill", before(("Reef salt", "4320")), "cost_centre") is None


# -- tax codes


@pytest.mark.parametrize(("country", "category", "rate", "code"), [
    ("GB", "S", "20", "GB20"), ("GB", "S", "5", "GB05"), ("GB", "S", "7", None),
    ("DE", "S", "20", None), ("GB", "S", None, None),
])  # fmt: skip
def test_a_tax_code_is_of_country_category_and_rate(country, category, rate, code):
    found = tax_code_of(CODES.tax_codes, country=country, category=category,
                        rate=None if rate is None else Decimal(rate))  # fmt: skip
    assert (found.code if found else None) == code


def test_of_two_tax_codes_the_one_counts_that_says_more_and_of_equals_none():
    wide, close = TaxCode(code="A", rate=Decimal(20)), TaxCode(code="B", rate=Decimal(20),
                                                               supply="goods")  # fmt: skip
    asked = {"country": "GB", "category": "S", "rate": Decimal(20)}
    assert tax_code_of([wide, close], **asked, supply="goods").code == "B"
    assert tax_code_of([wide, close], **asked, supply="services").code == "A"
    assert tax_code_of([wide, TaxCode(code="C", rate=Decimal(20))], **asked) is None
    assert tax_code_of([replace(wide, closed=True)], **asked) is None


# -- on the road

HEAD = "pipeline: p\ncollect: [{mailbox: m}]\npost:\n  ledger: l\n  coding:"


def pipeline(coding):
    found = examine(HEAD + coding)
    assert found.problems == (), found.problems
    return found.definition


def ready(*lines, order=(KRILL,), **more):
    """Facts of a bill that nothing but its coding stops."""
    more.setdefault("codes", replace(CODES, tax_codes=()))
    there = replace(given(*lines, order=order), **more)
    notes = dict.fromkeys({each.code for each in run_checks(there)}, Weight.NOTE)
    return there, notes


def go(coding, there, notes, **case):
    definition = pipeline(coding)
    settings = replace(definition.check, weights=notes)
    there = replace(there, settings=replace(there.settings, weights=notes))
    return advance(replace(definition, check=settings), Case(facts=there, **case))


def told(result):
    return {each.code: each.message for each in result.checked.findings
            if each.code.startswith("coding.")}  # fmt: skip


def codes(result):
    return [{d.value: c.code for d, c in part.codes.items()}
            for line in result.checked.coding for part in line.parts]  # fmt: skip


def test_a_rule_codes_a_line_by_its_wording_and_splits_it():
    there, notes = ready(krill("2", "42.00"))
    result = go(
        """
    need: [gl_account, cost_centre]
    rules:
      - {when: 'line.description matches "*salt*"', gl_account: "6310"}
      - when: 'line.amount > 50 GBP'
        gl_account: "4310"
        split: [{percent: 60, cost_centre: CC-10}, {cost_centre: CC-20, project: Pool}]
""",
        there,
        notes,
    )
    assert codes(result) == [
        {"gl_account": "4310", "cost_centre": "CC-10"},
        {"gl_account": "4310", "cost_centre": "CC-20", "project": "Pool"},
    ]
    assert told(result) == {}
    (effect,) = [each for each in result.effects if isinstance(each, PreparePosting)]
    bill = bill_of_facts(there, effect.coding)
    assert bill.to_json()["lines"][0]["coding"] == [
        {"amount": "50.40", "gl_account": "4310", "cost_centre": "CC-10"},
        {"amount": "33.60", "gl_account": "4310", "cost_centre": "CC-20", "project": "Pool"},
    ]
    assert Bill.from_json(bill.to_json()) == bill


def test_the_order_comes_before_the_vendors_default_and_that_before_history():
    ordered = replace(KRILL, gl_account="6310")
    seller = replace(VENDOR, gl_account="4310", cost_centre="CC-10")
    history = (CodedBefore(wording="frozen krill", codes={
        "gl_account": "6410", "cost_centre": "CC-20", "project": "Pool"}),)  # fmt: skip
    there, notes = ready(krill("2", "42.00"), order=(ordered,), coded_before=history)
    result = go(" {}", replace(there, vendor=seller), notes)
    assert codes(result)[0] == {"gl_account": "6310", "cost_centre": "CC-10", "project": "Pool"}
    plain, notes = ready(krill("2", "42.00"), coded_before=history)
    assert codes(go(" {}", plain, notes))[0]["gl_account"] == "6410"


def test_what_a_person_said_prevails_as_long_as_the_line_says_the_same():
    there, notes = ready(krill("2", "42.00"))
    rule = '\n    rules: [{gl_account: "4310", cost_centre: CC-10}]'
    said = ByHand(line=1, description="Frozen krill", amount="84.00", codes={ACCOUNT: "6310"})
    assert codes(go(rule, there, notes, by_hand=(said,)))[0]["gl_account"] == "6310"
    other = replace(said, amount="85.00")
    assert codes(go(rule, there, notes, by_hand=(other,)))[0]["gl_account"] == "4310"


@pytest.mark.parametrize(("rule", "code", "message"), [
    ("{project: P}", "coding.missing", "Line 1 has no GL account."),
    ('{gl_account: "9999"}', "coding.unknown",
     "Line 1 is coded with GL account 9999, which the ledger does not have."),
    ('{gl_account: "6410"}', "coding.closed",
     "Line 1 is coded with GL account 6410 Signs, which is closed."),
    ('{gl_account: "4310"}', "coding.missing",
     "Line 1 is booked on 4310 Feed, which needs a cost centre."),
    ('{gl_account: "6310", split: [{amount: 100}, {}]}', "coding.split",
     "Line 1 is split, but the other shares take 16.00 GBP too much."),
])  # fmt: skip
def test_what_the_ledger_would_refuse_stops_before_it_is_asked(rule, code, message):
    there, notes = ready(krill("2", "42.00"))
    result = go(f"\n    need: [gl_account]\n    rules: [{rule}]", there, notes)
    assert told(result) == {code: message}
    assert result.state.value == "at_desk"


def test_lines_that_lack_a_code_are_told_in_one_sentence():
    there, notes = ready(*(krill(str(count), "42.00") for count in (1, 2, 3)))
    result = go("\n    need: [gl_account, project]\n    rules: [{when: line.quantity == 2, "
                'gl_account: "6310"}]', there, notes)  # fmt: skip
    (account, project) = [e for e in result.checked.findings if e.code == "coding.missing"]
    assert account.message == "Lines 1 and 3 have no GL account."
    assert account.fields == ("lines[1].amount", "lines[3].amount")
    assert project.message == "Lines 1, 2 and 3 have no project."


def test_a_tax_code_of_another_rate_than_the_line_stops():
    there, notes = ready(krill("2", "42.00", tax_rate=Decimal(20)), codes=CODES)
    result = go("\n    rules: [{tax_code: GB05}]", there, notes)
    assert told(result)["coding.tax_rate"] == "Line 1 is taxed at 20 %; tax code GB05 is for 5 %."
    right = go(" {}", there, notes)
    assert "coding.tax_rate" not in told(right)
    assert codes(right) == [{"tax_code": "GB20"}]


def test_how_unsure_codes_are_counts_in_the_risk_once_for_each_wording():
    history = (CodedBefore(wording="frozen krill", codes={"gl_account": "6310"}),)
    two = (krill("1", "42.00"), krill("2", "42.00"))
    there, notes = ready(*two, coded_before=history)
    plain = go(" {}", replace(there, coded_before=()), notes).checked.risk.share
    coded = go(" {}", there, notes).checked.risk.share
    assert round(1 - (1 - coded) / (1 - plain), 4) == Decimal("0.25")


def test_a_guess_is_told_with_how_sure_it_is_and_counts_in_the_risk_alone():
    history = (CodedBefore(wording="frozen krill", codes={"gl_account": "6310"}),)
    there, notes = ready(krill("1", "42.00"), coded_before=history)
    result = go(" {}", there, notes)
    assert told(result) == {
        "coding.guessed": "Line 1 is coded as lines before it were: GL account 6310 (75 % sure, "
        "1 line like it)."
    }
    assert result.checked.open == ()
    assert result.state.value == "at_desk"  # for the risk, which it is part of
    sure, notes = ready(krill("1", "42.00"), coded_before=history * 30)
    assert told(go(" {}", sure, notes)) == {}


def test_without_a_word_of_coding_nothing_is_coded():
    there, notes = ready(krill("2", "42.00"))
    definition = examine("pipeline: p\ncollect: [{mailbox: m}]\npost: {ledger: l}\n").definition
    result = advance(definition, Case(facts=replace(
        there, settings=replace(there.settings, weights=notes))))  # fmt: skip
    assert result.checked.coding == ()
    assert "coding" not in bill_of_facts(there).to_json()["lines"][0]


def test_a_bill_without_lines_is_coded_as_a_whole():
    there, notes = ready()
    result = go('\n    rules: [{gl_account: "6310"}]', there, notes)
    (coded,) = result.checked.coding
    assert (coded.at, coded.amount) == (0, there.reading.money("net_total"))
    bill = bill_of_facts(there, result.checked.coding)
    assert bill.lines[0].coding[0].codes == {"gl_account": "6310"}


@pytest.mark.parametrize(("coding", "message"), [
    ("\n    need: [colour]", "something that lines are coded with"),
    ("\n    rules: [{when: line.colour == 3, gl_account: x}]", "line.colour"),
    ("\n    rules: [{when: line.amount > 5 GBP}]", "says no code"),
    ("\n    rules: [{gl_account: =gross_total}]", "a code is a text, this is a money"),
    ("\n    rules: [{split: [{percent: 50}, {percent: 40}]}]", "the shares come to 90 %"),
    ("\n    rules: [{split: [{amount: 5}, {amount: 6}]}]", "are the whole of one line"),
    ("\n    rules: [{split: [{percent: 5, amount: 6}, {}]}]", "not both"),
    ("\n    rules: [{split: [{}, {}]}]", "only one share may be what is left"),
    ("\n    rules: [{split: [{percent: -5}, {}]}]", "no share of a line"),
])  # fmt: skip
def test_what_is_wrong_in_a_pipelines_coding_is_told_at_its_place(coding, message):
    problems = examine(HEAD + coding).problems
    assert any(message in each.message for each in problems), problems
    assert all(each.line >= 5 for each in problems)


def test_codes_that_stand_otherwise_in_the_ledger_are_told():
    there, notes = ready(krill("2", "42.00"))
    result = go('\n    rules: [{gl_account: "6310"}]', there, notes)
    bill = bill_of_facts(there, result.checked.coding)
    total = bill.gross_total.plain() if bill.gross_total else None
    lines = tuple(each.amount.plain() for each in bill.lines)
    same = Standing(gross_total=total, lines=lines, attachments=(),
                    coding={"line 1": ({"amount": "84.00", "gl_account": "6310"},)})  # fmt: skip
    assert differences(bill, same, {}) == ()
    other = replace(same, coding={"line 1": ({"amount": "84.00", "gl_account": "4310"},)})
    assert differences(bill, other, {}) == ("other codes on line 1",)
    assert differences(bill, replace(same, coding=None), {}) == ()


def test_facts_without_the_ledgers_codes_are_not_judged():
    there = facts([line("1", "10.00", "10.00")])
    result = advance(pipeline("\n    need: [gl_account]"), Case(facts=there))
    assert not [each for each in result.checked.findings if each.code.startswith("coding.")]


# -- what stands at the foot


def at_foot(**stated):
    """Facts of a bill of one line with charges or allowances at its foot."""
    there, notes = ready(krill("2", "42.00"))
    fields = {**there.reading.fields, **{name: Field(value=gbp(v)) for name, v in stated.items()}}
    return replace(there, reading=replace(there.reading, fields=fields)), notes


def test_charges_and_allowances_are_coded_beside_the_lines_and_are_part_of_the_bill():
    there, notes = at_foot(charges="36.00", allowances="5.00")
    result = go(
        """
    need: [gl_account]
    rules:
      - {when: 'line.description == "charges"', gl_account: "6310"}
      - {when: 'line.description == "allowances"', gl_account: "6410"}
      - {when: 'line.amount > 50 GBP', gl_account: "4310"}
""",
        there,
        notes,
    )
    assert [(each.at, each.amount) for each in result.checked.coding] == [
        (1, gbp("84.00")), (-1, gbp("36.00")), (-2, gbp("-5.00")),
    ]  # fmt: skip
    assert codes(result) == [{"gl_account": code} for code in ("4310", "6310", "6410")]
    bill = bill_of_facts(there, result.checked.coding)
    shown = bill.to_json()
    assert shown["charges_coding"] == [{"amount": "36.00", "gl_account": "6310"}]
    assert shown["allowances_coding"] == [{"amount": "-5.00", "gl_account": "6410"}]
    assert Bill.from_json(shown) == bill


def test_what_lacks_a_code_is_named_in_one_sentence_with_the_foot():
    there, notes = at_foot(charges="36.00")
    missing = told(go("\n    need: [gl_account]", there, notes))["coding.missing"]
    assert missing == "Line 1 and what is stated as charges have no GL account."
    rule = "\n    need: [gl_account]\n    rules: [{when: line.amount > 50 GBP, gl_account: '6310'}]"
    result = go(rule, there, notes)
    assert told(result)["coding.missing"] == "What is stated as charges has no GL account."
    (finding,) = [each for each in result.checked.findings if each.code == "coding.missing"]
    assert finding.fields == ("charges",)


def test_a_bill_without_lines_is_coded_as_a_whole_with_its_charges():
    there, _ = at_foot(charges="36.00")
    assert [at for at, _, _ in lines_to_code(replace(there.reading, lines=()))] == [0]
    none, _ = at_foot(charges="0.00")
    assert [at for at, _, _ in lines_to_code(none.reading)] == [1]


@pytest.mark.parametrize(("key", "place"), [
    ("1", 1), ("0", 0), ("charges", -1), ("allowances", -2), ("-1", None), ("freight", None),
    ("", None), ("1.5", None),
])  # fmt: skip
def test_places_are_named(key, place):
    assert place_of(key) == place
    assert place is None or key_of(place) == key


# -- projects


def test_a_project_is_looked_for_where_the_ledger_lists_any():
    there, notes = ready(krill("2", "42.00"))
    listed = replace(CODES, tax_codes=(), projects={
        "P-1": Project(code="P-1", name="Pool"), "P-2": Project(code="P-2", closed=True),
    })  # fmt: skip
    with_list = replace(there, codes=listed)
    rule = "\n    rules: [{{gl_account: '4310', cost_centre: CC-10, project: {}}}]"
    assert told(go(rule.format("Pool"), there, notes)) == {}
    assert told(go(rule.format("P-1"), with_list, notes)) == {}
    assert told(go(rule.format("Pool"), with_list, notes)) == {
        "coding.unknown": "Line 1 is coded with project Pool, which the ledger does not have."
    }
    assert told(go(rule.format("P-2"), with_list, notes)) == {
        "coding.closed": "Line 1 is coded with project P-2, which is closed."
    }
