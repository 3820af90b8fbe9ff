"""What rules leave open is filled from words; what they state stays."""

from dataclasses import replace

from tests.core.paper import page_of
from tools.grammar.pages import compose
from tools.teach.samples import pages_of
from veridox.core.checks import CheckSettings, Facts, run_checks
from veridox.core.extract import Hints
from veridox.core.extract.assemble import ruled
from veridox.core.extract.tagging import fill
from veridox.core.extract.tagging.network import shipped
from veridox.core.extract.tagging.read import renamed, told
from veridox.core.extract.tagging.tags import HEADER
from veridox.core.reading import Field, Kind, Origin, Reading, Source


def pages(seed, kind="invoice"):
    return pages_of(compose(f"filled {seed}", held=True, kind=kind))


def test_what_rules_state_stays_and_much_is_added():
    added = 0
    for seed in range(6):
        before, _ = ruled(pages(seed), Source(), Hints())
        after = fill.filled(before, pages(seed), Hints(), shipped())
        assert {name: after.fields[name] for name in before.fields} == dict(before.fields)
        added += len(after.fields) - len(before.fields)
    assert added >= 6


def test_on_composed_bills_never_trained_on_words_tell_most_of_the_header():
    right = stated = 0
    for seed in range(12):
        made = compose(f"told {seed}", held=True, kind="invoice")
        found = told(pages_of(made), Hints(), shipped(), Reading())
        for name in ("number", "seller.name", "seller.tax_id", "gross_total", "issue_date"):
            if name in made.truth:
                stated += 1
                field = found.fields.get(name)
                begins = made.truth[name].replace(" ", "")[:6]
                right += field is not None and str(field.value).replace(" ", "").startswith(begins)
    assert right > 0.75 * stated > 20


def test_a_page_of_a_few_words_is_left_to_rules():
    page = page_of(
        (40, (50, "Customer no"), (200, "K-77")), (80, (50, "Total"), (200, "12.00 EUR"))
    )
    before, _ = ruled((page,), Source(), Hints())
    assert fill.filled(before, (page,), Hints(), shipped()) is before


def test_what_is_rather_wrong_than_right_is_not_stated(monkeypatch):
    before, _ = ruled(pages(1), Source(), Hints())
    bare = replace(before, fields={}, lines=())
    assert fill.filled(bare, pages(1), Hints(), shipped()).fields
    groups = [f"{name}{proved}" for name in (*HEADER, "currency") for proved in ("", ", proved")]
    low = {group: [(0.0, 0.1), (1.0, 0.4)] for group in groups}
    monkeypatch.setattr(fill, "tagged_points", lambda: low)
    left = fill.filled(bare, pages(1), Hints(), shipped()).fields
    assert all(field.origin is Origin.DERIVED for field in left.values())


def test_a_weak_title_yields_to_words_and_a_clear_one_does_not():
    receipt = pages(3, "till receipt")
    weak = Reading(kind=Kind.INVOICE, kind_confidence=0.7)
    clear = replace(weak, kind_confidence=0.995)
    assert told(receipt, Hints(), shipped(), weak).kind is Kind.TILL_RECEIPT
    assert told(receipt, Hints(), shipped(), clear).kind is Kind.INVOICE


def test_the_number_of_an_order_is_no_invoices():
    number = {"number": Field(value="PO-7")}
    assert renamed(number, Kind.PURCHASE_ORDER) == {"order_number": number["number"]}
    assert renamed(number, Kind.INVOICE) == number


def test_a_currency_that_is_printed_nowhere_waits_for_a_person():
    field = Field(value="DKK", confidence=0.8, origin=Origin.DERIVED)
    facts = Facts(
        reading=Reading(kind=Kind.INVOICE, fields={"currency": field}), settings=CheckSettings()
    )
    said = [each.message for each in run_checks(facts) if each.code == "field.unsure"]
    assert said == ["No currency is printed; DKK is the one of the seller's country."]
