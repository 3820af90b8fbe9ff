"""Spaced headings, and print that is drawn twice."""

import io
from itertools import pairwise

import pytest
from reportlab.pdfgen.canvas import Canvas

from veridox.core.pages import Box, Word
from veridox.core.pages.tidy import parted, tidied
from veridox.core.readers.files import read_pages


def page_of(paint):
    out = io.BytesIO()
    canvas = Canvas(out, invariant=1)
    paint(canvas)
    canvas.save()
    return read_pages(out.getvalue(), ocr=False).pages[0]


@pytest.mark.parametrize("spacing", [4, 8, 12])
def test_a_spaced_heading_is_one_word(spacing):
    def paint(canvas):
        text = canvas.beginText(60, 700)
        text.setFont("Helvetica", 16)
        text.setCharSpace(spacing)
        text.textOut("RECHNUNG")
        text.setCharSpace(0)
        canvas.drawText(text)
        canvas.drawString(60, 600, "A B 12 x 4")

    assert page_of(paint).text().splitlines() == ["RECHNUNG", "A B 12 x 4"]


def test_two_spaced_words_stay_two():
    page = page_of(lambda canvas: canvas.drawString(60, 700, "T O T A L     D U E S"))
    assert page.text() == "TOTAL DUES"


def test_what_is_drawn_twice_is_one_word():
    def paint(canvas):
        for shift in (0, 0.4, 0.8):
            canvas.drawString(60 + shift, 700, "Total 1,254.00")
        canvas.drawString(60, 680, "Total 1,254.00")

    assert page_of(paint).text().splitlines() == ["Total 1,254.00"] * 2


def test_single_figures_of_columns_stay_apart():
    words = [Word(text=str(at), box=Box(at * 12, 0, at * 12 + 6, 10)) for at in range(6)]
    assert tidied(words) == tuple(words)


@pytest.mark.parametrize(
    ("text", "pieces"),
    [
        ("no.GB950318535·Bank", ["no.", "GB950318535", "·", "Bank"]),
        ("S17758-Q·", ["S17758-Q", "·"]),
        ("No:4711", ["No:", "4711"]),
        ("1.250,00", ["1.250,00"]),
        ("PO-26-0103", ["PO-26-0103"]),
        ("12.Nov.2026", ["12.Nov.", "2026"]),
        ("www.saltglass.example", ["www.saltglass.example"]),
    ],
)
def test_what_recognition_glued_together_is_cut(text, pieces):
    words = parted(Word(text=text, box=Box(100, 10, 100 + 6 * len(text), 20)))
    assert [word.text for word in words] == pieces
    assert words[0].box.left == 100
    assert words[-1].box.right == pytest.approx(100 + 6 * len(text))
    assert all(one.box.right <= other.box.left + 0.01 for one, other in pairwise(words))
