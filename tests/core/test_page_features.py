"""Which pages begin a document, which are blank, and which are only terms."""

from dataclasses import replace

import pytest

from tools.corpus.content import invoice
from tools.corpus.layouts import draw
from tools.corpus.sheet import Sheet
from veridox.core.extract.assemble import extract
from veridox.core.pages import Page
from veridox.core.pages.features import features_of
from veridox.core.readers.files import read_pages
from veridox.core.reading import Source

PROSE = (
    "The seller delivers the goods to the place that was agreed upon and the buyer takes them over "
    "without delay, any claim for defects that are seen must be made in writing within a week."
)


def pages_of(pdf):
    return read_pages(pdf, ocr=False).pages


def one(number):
    return pages_of(draw(invoice(number), number)[0])[0]


def terms(title="General terms and conditions"):
    sheet = Sheet("Helvetica", 6.5)
    sheet.text(50, 60, title, bold=True)
    for row in range(70):
        sheet.text(50, 80 + row * 9, PROSE[row % 30 :][:130])
    return pages_of(sheet.pdf())[0]


def numbered(*texts):
    sheet = Sheet("Helvetica", 9)
    for at, text in enumerate(texts):
        if at:
            sheet.next_page()
        sheet.text(50, 60, "Brinefold Ltd")
        sheet.text(50, 400, f"line {at}")
        sheet.text(450, 800, text)
    return pages_of(sheet.pdf())


@pytest.mark.parametrize("first", [0, 4, 7, 9])
def test_another_vendors_invoice_begins_a_document(first):
    found = features_of((one(first), one(first + 1)))
    assert found[0].begins == 1.0
    assert found[1].begins > 0.5


def test_pages_that_count_themselves_are_believed():
    found = features_of(numbered("Page 1 of 3", "Seite 2 / 3", "Page 3", "Page 1 of 1", "Strona 1"))
    assert [each.counted for each in found] == [(1, 3), (2, 3), (3, None), (1, 1), (1, None)]
    assert [each.begins > 0.5 for each in found] == [True, False, False, True, True]


def test_a_page_that_looks_like_the_one_before_goes_on_with_it():
    found = features_of(numbered("same foot", "same foot"))
    assert found[1].like_before == 1.0
    assert found[1].begins < 0.5


def test_blank_pages_begin_nothing():
    blank = Page(number=2, width=595, height=842, words=())
    found = features_of((one(0), blank, one(1)))
    assert [each.blank for each in found] == [False, True, False]
    assert found[1].begins == 0.0


@pytest.mark.parametrize("title", ["General terms and conditions", "Please note"])
def test_small_print_is_told_from_bills(title):
    found = features_of((one(3), terms(title)))
    assert [each.terms for each in found] == [False, True]
    assert found[1].begins == 0.0


@pytest.mark.parametrize("number", range(12))
def test_no_invoice_is_taken_for_terms(number):
    assert not features_of((one(number),))[0].terms


def test_terms_behind_an_invoice_say_nothing_about_it():
    (alone,) = extract((one(4),), Source())
    (reading,) = extract((one(4), replace(terms(), number=2)), Source())
    assert reading.fields == alone.fields
    assert reading.source.pages == (1, 2)
