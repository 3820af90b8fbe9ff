"""Composed documents state what they say they state, on paper that can be read."""

import random
from decimal import Decimal

import pytest

from tools.grammar.blocks import FACTS, below
from tools.grammar.noise import noisy
from tools.grammar.pages import compose, legible
from tools.grammar.speech import Speech, is_held, labels
from tools.teach.samples import IGNORED, pages_of, samples, unknown_tags
from veridox.core.extract.tagging.tags import KINDS, TAGS
from veridox.core.money import is_currency

SEEDS = range(40)


@pytest.fixture(scope="module")
def documents():
    return [compose(f"test {seed}") for seed in SEEDS]


def printed(made, tag):
    return " ".join(word.text for word in made.words if word.tag == tag)


def test_nothing_lies_on_something_else_or_beyond_the_paper(documents):
    assert sum(map(legible, documents)) >= len(documents) - 1


def test_the_same_seed_makes_the_same_document():
    one, other = compose("again"), compose("again")
    assert (one.truth, one.lines, one.words) == (other.truth, other.lines, other.words)


ALSO = {"gross_total": "amount_due", "tax_total": "tax.amount"}
"""What a page may print instead: what is due alone, the only row of a table of taxes."""


def test_what_is_stated_is_printed(documents):
    for made in documents:
        for name in ("number", "order_number", "seller.name", "buyer.name"):
            if name in made.truth:
                words = [word.strip(",.;") for word in printed(made, name).split()]
                first = made.truth[name].split()[0].strip(",.;")
                assert any(word.endswith(first) for word in words), (name, made.production)
        for name in ("net_total", "tax_total", "gross_total", "amount_due"):
            if name in made.truth:
                digits = made.truth[name].replace(".", "")
                seen = [
                    "".join(filter(str.isdigit, word.text))
                    for word in made.words
                    if word.tag in (name, ALSO.get(name, name))
                ]
                whole, cents = "".join(seen), digits.rstrip("0")
                ends = tuple(each for each in seen if each)
                # Some print amounts without the noughts of their cents.
                bare = cents and whole.rstrip("0").endswith(cents)
                assert digits.endswith(ends) or digits in whole or bare, name
        assert "currency" not in made.truth or is_currency(made.truth["currency"])


def test_most_documents_add_up_and_some_do_not():
    sums = [
        (Decimal(t["net_total"]) + Decimal(t["tax_total"]), Decimal(t["gross_total"]))
        for seed in range(150)
        if {"net_total", "tax_total", "gross_total"} <= (t := compose(f"sums {seed}").truth).keys()
    ]  # fmt: skip
    right = sum(one == other for one, other in sums)
    assert 0.8 * len(sums) < right < len(sums)


def test_every_kind_is_composed():
    made = {kind: compose(f"kind {kind}", kind=kind) for kind in KINDS}
    assert {name: document.kind for name, document in made.items()} == {
        kind: kind for kind in KINDS
    }
    assert "gross_total" not in made["delivery note"].truth
    assert made["statement"].lines == []


def test_labels_and_productions_that_are_measured_on_are_never_trained_on():
    for language in ("en", "de", "fr", "pl"):
        for name in ("number", "issued", "net", "c_amount"):
            trained, held = labels(language, name, False), labels(language, name, True)
            assert not any(map(is_held, trained))
            assert all(map(is_held, held))
    assert below not in FACTS


def test_of_the_labels_that_are_measured_on_as_many_are_strange_as_wanted():
    def strange(share):
        found = [
            is_held(text)
            for seed in range(40)
            for name in ("number", "issued", "net", "to", "c_name")
            if (text := Speech(random.Random(seed), "en", held=True, strange=share).say(name))
        ]
        return sum(found) / len(found)

    assert strange(0.0) < 0.05 < strange(0.2) < 0.4 < 0.9 < strange(1.0)


def test_the_network_has_a_class_for_whatever_words_state():
    assert unknown_tags(60) == {}


def test_samples_answer_for_every_token_but_those_that_were_parted(documents):
    asked = ignored = 0
    for made in documents:
        for sample in samples(made, noise=False):
            assert len(sample.tags) == len(sample.page.at) == len(sample.page.figures)
            asked += len(sample.tags)
            ignored += int((sample.tags == IGNORED).sum())
    assert ignored < 0.01 * asked


def test_an_answer_is_that_of_the_word_itself(documents):
    made = next(
        each for each in documents if "gross_total" in each.truth and each.kind == "invoice"
    )
    for sample, page in zip(samples(made, noise=False), pages_of(made), strict=True):
        stated = {TAGS[tag] for tag in sample.tags if tag >= 0}
        assert stated == {word.tag for word in made.words if word.page == page.number}


def test_recognition_garbles_some_words_and_loses_none(documents):
    changed = total = 0
    for at, made in enumerate(documents):
        seen = noisy(made, random.Random(at))
        signs = sum(len(word.text) for word in made.words)
        assert abs(sum(len(word.text) for word in seen.words) - signs) < 0.05 * signs + 4
        total += len(made.words)
        changed += len({word.text for word in made.words} - {word.text for word in seen.words})
    assert 0.005 < changed / total < 0.2


def test_a_name_is_told_without_what_stands_around_it():
    around = 0
    for seed in range(60):
        made = compose(f"around {seed}", kind="invoice")
        own = [word for word in made.words if word.tag == "seller.name"]
        if not own:
            continue
        assert "seller.name" in made.truth
        # However often it stands there, and however it is broken: its words and no others.
        wanted = {word.strip(",.;:") for word in made.truth["seller.name"].split()}
        assert {word.text.strip(",.;:") for word in own} == wanted, made.production
        first = own[0]
        near = [
            word for word in made.words
            if word.page == first.page and word.tag in ("text", "other.party")
            and abs(word.top - first.top) < 3 * (first.bottom - first.top)
        ]  # fmt: skip
        around += bool(near)
    assert around > 8


def test_a_till_adds_up_and_tells_the_tax_inside():
    served = several = 0
    for seed in range(80):
        made = compose(f"slip {seed}", kind="till receipt")
        if "amount_due" not in made.truth and "gross_total" not in made.truth:
            continue
        total = Decimal(made.truth.get("amount_due") or made.truth["gross_total"])
        more, off = (Decimal(made.truth.get(name, 0)) for name in ("charges", "allowances"))
        goods = sum((Decimal(line["amount"]) for line in made.lines), Decimal(0))
        assert goods + more - off == total, made.truth
        if {"net_total", "tax_total"} <= made.truth.keys():
            assert Decimal(made.truth["net_total"]) + Decimal(made.truth["tax_total"]) == total
        served += any(word.tag == "other.id" for word in made.words)
        several += more > 0
    assert served > 20
    assert several > 1
