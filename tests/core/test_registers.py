"""Lists that everything else relies on: catalogue, codes, lexicon, checks."""

import re
from collections import Counter
from dataclasses import replace
from pathlib import Path

import pytest

from tests.core.test_checks import LINES, facts, gbp, line
from tests.core.test_order_lines import given as given_on_order
from tests.core.test_order_lines import krill
from veridox.core.checks import CHECKS, CODES
from veridox.core.checks.table import check
from veridox.core.findings import Finding, Weight
from veridox.core.findings.wording import counted
from veridox.core.language import NAMES, Control, Scope, known_at
from veridox.core.language.names import TABLE
from veridox.core.locales.labels import LANGUAGES, lexicon, load_data, normalise
from veridox.core.money import CURRENCIES
from veridox.core.pipeline.states import EVENTS, event_of
from veridox.core.reading import FIELDS, LINE_CELLS, POSTED_KINDS, TAX_CELLS, Kind

SOURCES = [path.read_text() for path in Path("src/veridox").rglob("*.py")]


def test_business_terms_are_those_of_the_standard_and_stand_once_in_the_header():
    # Tax that the buyer withholds is no business of the standard's.
    terms = [spec.term for name, spec in FIELDS.items() if name != "withheld"]
    assert all(re.fullmatch(r"BT-\d{1,3}", term) for term in terms)
    assert max(Counter(terms).values()) == 1


@pytest.mark.parametrize(("name", "term"), [
    ("number", "BT-1"), ("issue_date", "BT-2"), ("currency", "BT-5"), ("due_date", "BT-9"),
    ("order_number", "BT-13"), ("seller.name", "BT-27"), ("seller.tax_id", "BT-31"),
    ("net_total", "BT-109"), ("tax_total", "BT-110"), ("gross_total", "BT-112"),
])  # fmt: skip
def test_fields_carry_the_terms_of_en_16931(name, term):
    assert FIELDS[name].term == term


def test_every_field_has_a_title_for_people():
    for specs in (FIELDS, LINE_CELLS, TAX_CELLS):
        assert all(spec.title for spec in specs.values())


def test_every_code_that_is_documented_is_used_and_none_is_used_undocumented():
    text = "\n".join(SOURCES)
    used = set(re.findall(r'code(?:, message)? = "([a-z]+\.[a-z_]+)"', text))
    used |= set(re.findall(r'code="([a-z]+\.[a-z_]+)"', text))
    used |= set(re.findall(r'\("([a-z]+\.[a-z_]+)", "[a-z_]+", reading\.', text))  # rows of a table
    used |= set(re.findall(r'"([a-z]+\.[a-z_]+)",\s+base=', text))  # percents of a base
    used |= set(re.findall(r'"((?:file|page|einvoice|payment)\.[a-z_]+)"', text)) & set(CODES)
    used |= set(re.findall(r'code, message = "([a-z]+\.[a-z_]+)"', text))
    assert used <= set(CODES)
    never = set(CODES) - used - {"duplicate.in_ledger"}
    assert never == set()


def test_the_reference_names_every_code():
    page = Path("docs/reference/findings.md").read_text()
    assert all(f"## `{code}`" in page for code in CODES)


NEVER_LOWERED = ("vendor.", "entity.", "duplicate.", "total.", "payment.", "field.", "posting.un")


def test_what_would_pay_wrongly_is_never_lowered():
    mild = {"vendor.first_bill", "duplicate.many"}  # block nothing where nothing is said
    fixed = [code for code in CODES if code.startswith(NEVER_LOWERED) and code not in mild]
    fixed += ["bank.changed", "bank.recent", "payee.other", "credit.above", "buyer.other_entity"]
    fixed += ["lines.sum", "tax.sum", "order.vendor", "order.entity", "ledger.refused"]
    assert [code for code in fixed if CODES[code].lowered] == []


def test_what_names_no_payee_or_pays_twice_is_never_accepted():
    needs = ("vendor.unknown", "vendor.contradicted", "vendor.blocked", "entity.contradicted")
    assert not any(CODES[code].accepted for code in (*needs, "field.missing", "vendor.gone"))
    by_two = {code for code, about in CODES.items() if about.second}
    assert by_two == {
        "duplicate.exact", "bank.changed", "bank.first_seen", "bank.recent", "payee.other",
        "payment.code_differs", "sender.lookalike", "sender.unproven",
    }  # fmt: skip
    assert all(CODES[code].accepted for code in by_two)


def test_what_was_refused_or_contradicted_never_goes_on_alone():
    stay = ("vendor.contradicted", "entity.contradicted", "duplicate.near", "ledger.refused")
    assert not any(CODES[code].alone for code in (*stay, "posting.unsure"))
    assert CODES["vendor.unknown"].alone
    assert CODES["order.unknown"].alone


def test_every_check_says_what_it_checks():
    assert all(check.run.__doc__ for check in CHECKS)
    assert len({check.name for check in CHECKS}) == len(CHECKS)


class Looked:
    """Facts that remember what was asked of them."""

    def __init__(self, given):
        self.given, self.asked = given, set()

    def __getattr__(self, name):
        self.asked.add(name)
        return getattr(self.given, name)


@pytest.mark.parametrize("row", CHECKS, ids=lambda row: row.name)
@pytest.mark.parametrize("given", [
    facts(LINES, charges=gbp("36.00")), facts(without=("order_number", "seller.name")),
    given_on_order(krill("99", "99.00"), line("1", "5.00", "5.00", description="Cups")),
    replace(facts(), vendor=None, entity=None), replace(facts(), order=None, number_taken=True),
])  # fmt: skip
def test_a_check_looks_only_at_what_its_row_says_it_needs(row, given):
    looked = Looked(given)
    list(row.findings(looked))
    worked_out = {
        "issued",
        "taxed_on",
        "posting_day",
        "raised",
        "raised_on",
        "unknown_orders",
    }  # of what it may ask for
    assert looked.asked <= {"reading", "settings", *worked_out, *row.needs}


def test_two_checks_never_stand_at_one_place():
    with pytest.raises(ValueError, match="kind_is_posted both stand at place 20"):
        check(place=20, codes={})(lambda given: [])
    assert [row.place for row in CHECKS] == sorted({row.place for row in CHECKS})


def test_every_name_of_the_language_says_what_it_is_and_who_controls_it():
    assert all(row.help for row in TABLE.values())
    ours = {name for name, row in TABLE.items() if row.control is Control.OURS}
    # What a document or its mail says never decides who gets or answers anything.
    assert ours.isdisjoint(FIELDS)
    assert {name.partition(".")[0] for name in ours} == {
        "blocked", "risk", "entity", "vendor", "order", "link", "mailbox", "queue", "end_reason",
        "posting", "pipeline", "run", "sender",
    }  # fmt: skip
    assert set(known_at(Scope.MAIL)) < set(known_at(Scope.FILE)) < set(known_at(Scope.READING))
    assert "vendor.code" not in known_at(Scope.READING)


def test_every_event_has_its_text_and_its_state_once():
    texts = Path("src/veridox/core/pipeline/texts")
    assert all((texts / f"{event.template}.txt").is_file() for event in EVENTS.values())
    states = [event.state for event in EVENTS.values() if event.state]
    assert len(states) == len(set(states))
    assert all(event_of(event.state) == name for name, event in EVENTS.items() if event.state)


def test_a_reminder_can_never_be_posted():
    assert {Kind.INVOICE, Kind.CREDIT_NOTE, Kind.TILL_RECEIPT} == POSTED_KINDS


@pytest.mark.parametrize("language", LANGUAGES)
def test_labels_name_known_fields_or_say_that_they_are_something_else(language):
    data = load_data(f"labels.{language}.json")
    assert all(name in FIELDS or name.startswith("not.") for name in data["header"])
    assert set(data["columns"]) <= set(LINE_CELLS)
    assert {Kind(name) for name in data["kinds"]}


@pytest.mark.parametrize("language", LANGUAGES)
@pytest.mark.parametrize("purpose", ["header", "columns", "kinds"])
def test_no_label_stands_for_two_fields_of_one_language(language, purpose):
    seen = {}
    for field, phrases in load_data(f"labels.{language}.json")[purpose].items():
        for phrase in phrases:
            words = normalise(phrase)
            assert words, phrase
            assert seen.setdefault(words, field) == field, phrase


def test_the_longest_label_wins():
    words = normalise("Invoice date of issue")
    assert lexicon("header").match(normalise("your order no 7"), 0).field == "order_number"
    assert lexicon("header").match(words, 0).field == "issue_date"
    assert lexicon("header").match(normalise("order date"), 0).field == "not.order_date"


def test_every_header_field_is_a_name_of_the_language():
    assert set(FIELDS) <= set(NAMES)


def test_currencies_know_their_minor_unit():
    assert (CURRENCIES["EUR"], CURRENCIES["JPY"], CURRENCIES["KWD"]) == (2, 0, 3)
    assert all(re.fullmatch("[A-Z]{3}", code) for code in CURRENCIES)


@pytest.mark.parametrize(("count", "said"), [
    (0, "0 lines"), (1, "1 line"), (2, "2 lines"), (1200, "1,200 lines"),
])  # fmt: skip
def test_counts_agree_with_their_nouns(count, said):
    assert counted(count, "line") == said


def test_weights_are_the_three_and_only_one_blocks():
    findings = [Finding(code="total.sum", weight=w, message="x") for w in Weight]
    assert [finding.blocks for finding in findings] == [True, False, False]


def test_no_amount_is_ever_a_float():
    offenders = [
        line
        for path in (Path("src/veridox/core").rglob("*.py"))
        for line in path.read_text().splitlines()
        if re.search(r"float\(.*(amount|total|price|quantity)", line)
    ]
    assert offenders == []
