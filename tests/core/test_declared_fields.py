"""Fields that a developer declares: on the page, from the mail, by default."""

from datetime import date
from decimal import Decimal

import pytest

from tests.core.paper import page_of
from veridox.core.extract.assemble import extract
from veridox.core.extract.extra import choice_of, pattern_of
from veridox.core.extract.hints import Hints
from veridox.core.locales.numbers import COMMA, POINT
from veridox.core.locales.units import in_unit
from veridox.core.money import Money
from veridox.core.pipeline import PipelineError, completed, load
from veridox.core.reading import Kind, Origin, Reading, Source, reading_from_json, reading_to_json

PIPELINE = """
pipeline: laboratory
entities: [aquarium-trust]
collect:
  - mailbox: ap-inbox
read:
  need: [number, sampling_site]
  field_sets: [till receipt]
  fields:
    sampling_site: {type: text, labels: [sampling site, Probenahmestelle], example: T-204 north}
    request_type: {type: choice, of: [new, correction, question], from: =subject, default: new}
    time_on_site: {type: number, unit: min, labels: [time on site]}
    sampled: {type: date, labels: [sampled on], default: =received}
    deposit: {type: money, labels: [bottle deposit]}
desk:
  - {when: 'request_type == "correction" or time_on_site > 120', queue: exceptions}
post:
  ledger: main-books
"""
PAGE = page_of(
    (40, (50, "Invoice", 2.0)),
    (80, (50, "Quillfin Water Tests")),
    (100, (50, "Invoice No: QW/7"), (300, "Date: 5 November 2026")),
    (120, (50, "Sampling site: T-17 lagoon"), (300, "Sampled on: 2 November 2026")),
    (140, (50, "Time on site: 1 h 37"), (300, "Bottle deposit: £4.50")),
    (200, (50, "Description"), (330, "Qty"), (420, "Price", "right"), (540, "Amount", "right")),
    (220, (50, "Salinity"), (340, "2", "right"), (420, "27.50", "right"), (540, "55.00", "right")),
    (300, (350, "Net total"), (540, "£55.00", "right")),
    (315, (350, "VAT 20 %"), (540, "£11.00", "right")),
    (330, (350, "Total"), (540, "£66.00", "right")),
)


def declared():
    return load(PIPELINE).declared


def read(page=PAGE):
    hints = Hints(extra=tuple(each.field for each in declared()))
    (reading,) = extract((page,), Source(), hints)
    return reading


def test_declared_fields_are_read_beside_their_labels_each_by_its_type():
    reading = read()
    assert reading.value("sampling_site") == "T-17 lagoon"
    assert reading.value("sampled") == date(2026, 11, 2)
    assert reading.value("time_on_site") == Decimal(97)
    assert reading.value("deposit") == Money(amount=Decimal("4.50"), currency="GBP")
    assert reading.fields["sampling_site"].page == 1
    assert reading.fields["sampling_site"].box is not None


def test_a_value_of_another_form_than_the_example_is_none():
    page = page_of((100, (50, "Sampling site: see below")))
    assert "sampling_site" not in read(page).fields


def test_the_only_text_of_the_examples_form_is_found_without_a_label():
    page = page_of((100, (50, "Invoice No: QW/7")), (160, (50, "taken at T-31 south pier")))
    field = read(page).fields["sampling_site"]
    assert field.value == "T-31 south"
    assert field.confidence < read().fields["sampling_site"].confidence


def test_two_texts_of_the_examples_form_decide_nothing():
    page = page_of((100, (50, "T-31 south")), (160, (50, "T-32 north")))
    assert "sampling_site" not in read(page).fields


def test_sets_for_other_kinds_concern_those_kinds_only():
    reading = read()
    assert "tip" not in reading.extra
    receipt = page_of(
        (40, (50, "Till receipt", 2.0)), (80, (50, "The Kelp Café")), (100, (50, "Time: 12:45")),
        (120, (50, "Tip: £2.00")), (140, (50, "Paid by: card")),
        (160, (50, "Total"), (300, "£14.00")),
    )  # fmt: skip
    read_receipt = read(receipt)
    assert read_receipt.kind is Kind.TILL_RECEIPT
    assert read_receipt.value("tip") == Money(amount=Decimal("2.00"), currency="GBP")
    assert read_receipt.value("paid_with") == "card"
    assert read_receipt.value("till_time") == "12:45"


# -- what the page does not state


def test_a_choice_is_found_in_the_subject():
    found = completed(Reading(kind=Kind.INVOICE), declared(), {"subject": "Correction of QW/6"})
    assert found.value("request_type") == "correction"
    assert found.fields["request_type"].origin is Origin.MAIL


def test_a_default_stands_in_and_says_so():
    found = completed(Reading(kind=Kind.INVOICE), declared(), {"received": date(2026, 11, 6)})
    assert found.value("request_type") == "new"
    assert found.value("sampled") == date(2026, 11, 6)
    assert {found.fields[name].origin for name in ("request_type", "sampled")} == {Origin.DERIVED}


def test_what_the_page_states_is_not_replaced():
    found = completed(read(), declared(), {"received": date(2026, 11, 6)})
    assert found.value("sampled") == date(2026, 11, 2)


def test_all_declared_fields_are_known_to_the_reading_also_those_not_found():
    found = completed(Reading(kind=Kind.INVOICE), declared(), {})
    assert set(found.extra) == {
        "sampling_site", "request_type", "time_on_site", "sampled", "deposit",
    }  # fmt: skip


def test_a_reading_with_declared_fields_survives_as_json():
    reading = completed(read(), declared(), {})
    data = reading_to_json(reading)
    assert data["extra_fields"]["time_on_site"]["unit"] == "min"
    assert reading_from_json(data).value("time_on_site") == Decimal(97)
    assert reading_to_json(reading_from_json(data)) == data


# -- forms


@pytest.mark.parametrize(
    ("example", "text", "fits"),
    [
        ("T-204 north", "B-17 south", True), ("T-204 north", "TT-17 south", False),
        ("T-204 north", "T 204 north", False), ("AB/2026", "CD/2025", True),
        ("AB/2026", "CD/25", False), ("K.1234", "K.12345", True), ("K.1234", "K.123456", False),
        ("Lagoon", "Pier", True), ("Lagoon", "Pier 2", False),
    ],
)  # fmt: skip
def test_an_example_gives_a_pattern(example, text, fits):
    assert bool(pattern_of(example).fullmatch(text)) is fits


@pytest.mark.parametrize(
    ("text", "unit", "value"),
    [
        ("1 h 37", "min", "97"), ("1,5 Std.", "min", "90"), ("2 Stunden 5 Minuten", "min", "125"),
        ("1:37", "min", "97"), ("90 min", "h", "1.5"), ("2,5 t", "kg", "2500"),
        ("40 cm", "m", "0.4"),
        ("3 kWh", "Wh", "3000"), ("12 boxes", "kg", None), ("5 kg", "min", None),
        ("5", "min", None),
        ("5 min", "furlong", None),
    ],
)  # fmt: skip
def test_quantities_are_put_into_the_wanted_unit(text, unit, value):
    found = in_unit(text, unit, COMMA)
    assert found == (None if value is None else Decimal(value))


def test_points_are_read_as_the_document_writes_them():
    assert in_unit("1.5 h", "min", POINT) == Decimal(90)


def test_a_closed_list_is_matched_whole_and_nearly_but_never_twice():
    choices = ("new", "correction", "question")
    assert choice_of("RE: a Correction, please", choices) == ("correction", 1.0)
    assert choice_of("corection", choices)[0] == "correction"
    assert choice_of("new question", choices) is None
    assert choice_of("renewal", choices) is None


# -- what a file may say


@pytest.mark.parametrize(
    ("line", "wrong", "message"),
    [
        ("{type: date, labels: [sampled on], default: =received}", "{type: dat, labels: [x]}",
         "'dat' is not known for read.fields.sampled.type"),
        ("{type: money, labels: [bottle deposit]}", "{type: money}",
         "nothing says where it stands"),
        ("{type: money, labels: [bottle deposit]}", "{type: money, unit: min, labels: [x]}",
         "'unit' goes with the type number"),
        ("unit: min", "unit: furlong", "'furlong' is no unit that is known"),
        ("of: [new, correction, question]", "of: [new]", "at least two values"),
        ("default: new", "default: old", "'old' is none of: new, correction, question"),
        ("from: =subject", "from: subject", "from is an expression"),
        ("from: =subject", "from: =sendr", "unknown name 'sendr'"),
        ("from: =subject", "from: =received", "this is a date, the field a text"),
        ("deposit: {", "gross_total: {", "'gross_total' is a name that every pipeline has"),
        ("deposit: {", "Deposit: {", "'Deposit': small letters"),
        ("[till receipt]", "[till recipt]", "'till recipt' is not a field set that ships"),
        ("sampling_site]", "sampling_sit]", "unknown field 'sampling_sit'"),
        ("time_on_site > 120", "time_on_sit > 120", "unknown name 'time_on_sit'"),
        ("time_on_site > 120", "time_on_site > 120 GBP", "a number cannot be compared with"),
    ],
)  # fmt: skip
def test_mistakes_are_named_at_their_place(line, wrong, message):
    text = PIPELINE.replace(line, wrong, 1)
    assert text != PIPELINE
    with pytest.raises(PipelineError) as error:
        load(text)
    problem = next(each for each in error.value.problems if message in each.message)
    assert wrong.split()[0].strip("{}[]:") in text.splitlines()[problem.line - 1]
