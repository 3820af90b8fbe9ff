"""Words, boxes and limits of PDF pages."""

import io

import pypdfium2
import pytest
from reportlab.lib.pdfencrypt import StandardEncryption
from reportlab.pdfgen.canvas import Canvas

from veridox.core.readers.files import read_pages
from veridox.core.readers.limits import Limits


def pdf(draw, pages=1, size=(595, 842), **options):
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=size, **options)
    for _ in range(pages):
        draw(canvas)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def hello(canvas):
    canvas.setFont("Helvetica", 12)
    canvas.drawString(100, 742, "Hello there")


def words(content):
    return {word.text: word.box for word in read_pages(content).pages[0].words}


def test_boxes_count_from_the_top_left_corner_in_points():
    box = words(pdf(hello))["Hello"]
    assert box.left == pytest.approx(100, abs=1.5)
    assert box.top < 100 < box.bottom
    assert 25 < box.width < 35


@pytest.mark.parametrize("turn", [90, 180, 270])
def test_places_on_a_turned_page_are_those_of_the_page_as_shown(turn):
    document = pypdfium2.PdfDocument(pdf(hello))
    document[0].set_rotation(turn)
    turned = io.BytesIO()
    document.save(turned)
    page = read_pages(turned.getvalue()).pages[0]
    upright = (842, 595) if turn in (90, 270) else (595, 842)
    assert (page.width, page.height) == upright
    found = {word.text: word.box for word in page.words}
    left, top = {90: (742, 115), 180: (480, 742), 270: (100, 480)}[turn]
    x, y = found["Hello"].middle
    assert x == pytest.approx(left, abs=30)
    assert y == pytest.approx(top, abs=30)


def test_text_outside_the_visible_page_is_left_out():
    def draw(canvas):
        hello(canvas)
        canvas.drawString(-300, 400, "hidden")
        canvas.drawString(100, 2000, "above")

    assert set(words(pdf(draw))) == {"Hello", "there"}


def test_a_crop_box_moves_the_origin():
    def draw(canvas):
        canvas.setCropBox((50, 50, 545, 792))
        hello(canvas)

    assert words(pdf(draw))["Hello"].left == pytest.approx(50, abs=1.5)


def test_letters_far_apart_are_words_of_their_own():
    def draw(canvas):
        canvas.drawString(100, 700, "12.00")
        canvas.drawString(140, 700, "13.00")

    assert set(words(pdf(draw))) == {"12.00", "13.00"}


def test_a_file_that_asks_for_a_password_is_told():
    locked = pdf(hello, encrypt=StandardEncryption("secret", ownerPassword="other"))
    (finding,) = read_pages(locked).findings
    assert (finding.code, finding.blocks) == ("file.password", True)


def test_a_file_protected_only_against_printing_is_read():
    open_to_all = pdf(hello, encrypt=StandardEncryption("", ownerPassword="other", canPrint=0))
    assert "Hello" in words(open_to_all)


def test_too_many_pages_are_told_with_both_figures():
    (finding,) = read_pages(pdf(hello, pages=4), Limits(pages=3)).findings
    assert finding.code == "file.too_large"
    assert "4 pages; 3 are read" in finding.message


def test_a_page_of_absurd_size_is_told():
    (finding,) = read_pages(pdf(hello, size=(20_000, 20_000))).findings
    assert finding.code == "file.too_large"


def test_too_many_characters_on_a_page_are_told():
    (finding,) = read_pages(pdf(hello), Limits(characters=5)).findings
    assert "characters" in finding.message


def test_one_silent_page_among_others_is_noted_and_does_not_block():
    out = io.BytesIO()
    canvas = Canvas(out)
    hello(canvas)
    canvas.showPage()
    canvas.showPage()
    canvas.save()
    file = read_pages(out.getvalue())
    assert [(f.code, f.weight) for f in file.findings] == [("page.no_text", "note")]
    assert len(file.pages) == 2
