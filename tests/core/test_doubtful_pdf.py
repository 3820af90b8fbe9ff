"""PDF files whose own text is not to be believed, and damaged ones."""

import io

import numpy as np
import pikepdf
import pytest
from PIL import Image
from reportlab.lib.pagesizes import A4
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from tools.corpus.camera import scanned
from tools.corpus.content import invoice
from tools.corpus.layouts import draw
from veridox.core.readers import pdf_digits
from veridox.core.readers.files import OcrNeededError, read_pages
from veridox.core.readers.limits import Limits
from veridox.core.readers.pdf import PdfFile
from veridox.core.readers.pdf_drawn import Doubt

INVOICE = invoice(11)
PDF, _ = draw(INVOICE, 11)


def drawn(paint):
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, invariant=1)
    paint(canvas)
    canvas.save()
    return out.getvalue()


def lines(canvas, texts, mode=0, y=700):
    text = canvas.beginText(60, y)
    text.setFont("Helvetica", 12)
    text.setTextRenderMode(mode)
    for line in texts:
        text.textLine(line)
    canvas.drawText(text)


SHOWN = ["Invoice number BF-2026-0413", "Net total 1,148.40", "VAT 20 % 229.68", "Total 1,378.08"]
FAKED = ["Invoice number BF-2026-9999", "Net total 9,148.40", "VAT 20 % 929.68", "Total 9,378.08"]


def scan_with(texts):
    """A scan under which somebody's words lie, unpainted, as scanners' software leaves them."""
    picture = Image.fromarray(scanned(drawn(lambda canvas: lines(canvas, SHOWN)), 0, 200).picture)

    def paint(canvas):
        canvas.drawImage(ImageReader(picture), 0, 0, *A4)
        lines(canvas, texts, mode=3)

    return drawn(paint)


def test_a_plain_page_is_not_doubted():
    assert read_pages(PDF, ocr=False).findings == ()


def test_white_words_on_a_dark_band_are_no_secret():
    file, _ = draw(invoice(3), 3)  # a layout with such a band
    assert invoice(3).seller[0] in read_pages(file, ocr=False).pages[0].text()


def test_old_words_under_a_scan_are_replaced_by_what_it_shows():
    page = read_pages(scan_with(FAKED)).pages[0]
    assert "BF-2026-0413" in page.text()
    assert "9999" not in page.text()
    assert {word.origin for word in page.words} == {"ocr"}


def test_a_scan_in_strips_under_a_page_number_is_read():
    picture = Image.fromarray(scanned(drawn(lambda canvas: lines(canvas, SHOWN)), 0, 200).picture)

    def paint(canvas):
        high = picture.height // 4
        for strip in range(4):
            piece = picture.crop((0, strip * high, picture.width, (strip + 1) * high))
            y = A4[1] - (strip + 1) * A4[1] / 4
            canvas.drawImage(ImageReader(piece), 0, y, A4[0], A4[1] / 4)
        canvas.drawString(500, 20, "1/1")

    assert "BF-2026-0413" in read_pages(drawn(paint)).pages[0].text()


def test_right_words_under_a_scan_are_kept():
    page = read_pages(scan_with(SHOWN)).pages[0]
    assert page.text().splitlines() == SHOWN
    assert {word.origin for word in page.words} == {"text"}


@pytest.mark.parametrize("hide", ["unpainted", "white"])
def test_words_that_nobody_sees_are_left_out(hide):
    def paint(canvas):
        lines(canvas, SHOWN)
        if hide == "white":
            canvas.setFillGray(1)
        lines(canvas, FAKED[3:], mode=3 if hide == "unpainted" else 0, y=300)

    content = drawn(paint)
    with pytest.raises(OcrNeededError):
        read_pages(content, ocr=False)
    page = read_pages(content).pages[0]
    assert page.text().splitlines() == SHOWN


def test_rules_of_dashes_do_not_make_a_page_doubtful():
    typed = ["-" * 70, *SHOWN, "-" * 70, "TOTAL" + "." * 60 + " 1,378.08", "=" * 70]
    page = read_pages(drawn(lambda canvas: lines(canvas, typed)), ocr=False).pages[0]
    assert "BF-2026-0413" in page.text()


def test_a_font_that_names_no_letters_is_read_from_the_page():
    file = pikepdf.open(io.BytesIO(drawn(lambda canvas: lines(canvas, SHOWN * 6))))
    # The shapes stay; what they stand for is said to be private.
    private = "".join(f"<{code:02X}> <{0xE000 + code:04X}>\n" for code in range(32, 127))
    table = (
        "/CIDInit /ProcSet findresource begin 12 dict begin begincmap\n"
        "1 begincodespacerange <00> <FF> endcodespacerange\n"
        f"95 beginbfchar\n{private}endbfchar\nendcmap end end"
    )
    for font in file.pages[0].Resources.Font.values():
        font.ToUnicode = pikepdf.Stream(file, table.encode())
    out = io.BytesIO()
    file.save(out)
    found = read_pages(out.getvalue())
    assert [finding.code for finding in found.findings] == ["page.text_differs"]
    assert not found.findings[0].blocks
    assert "BF-2026-0413" in found.pages[0].text()


@pytest.mark.parametrize("share", [0.75, 0.9, 0.97])
def test_a_file_that_was_cut_off_is_mended(share):
    content = PDF[: int(len(PDF) * share)]
    file = read_pages(content)
    if share >= 0.9:
        assert INVOICE.number in file.pages[0].text()
    else:  # the page's own words are lost
        assert file.findings[0].blocks


def test_only_pages_in_doubt_are_read_as_pictures():
    blind, plain = pikepdf.open(io.BytesIO(scan_with([]))), pikepdf.open(io.BytesIO(PDF))
    plain.pages.append(blind.pages[0])
    out = io.BytesIO()
    plain.save(out)
    first, second = read_pages(out.getvalue()).pages
    assert {word.origin for word in first.words} == {"text"}
    assert {word.origin for word in second.words} == {"ocr"}


def claiming(content, swaps):
    """The file, its fonts saying of some letters that they are others."""
    file = pikepdf.open(io.BytesIO(content))
    said = "".join(
        f"<{code:02X}> <{ord(swaps.get(chr(code), chr(code))):04X}>\n" for code in range(32, 127)
    )
    table = (
        "/CIDInit /ProcSet findresource begin 12 dict begin begincmap\n"
        "1 begincodespacerange <00> <FF> endcodespacerange\n"
        f"95 beginbfchar\n{said}endbfchar\nendcmap end end"
    )
    for font in file.pages[0].Resources.Font.values():
        font.ToUnicode = pikepdf.Stream(file, table.encode())
    out = io.BytesIO()
    file.save(out)
    return out.getvalue()


@pytest.mark.parametrize(
    "swaps", [{"1": "7", "7": "1"}, {"8": "3", "3": "8"}, {"4": "9", "9": "4"}]
)
def test_figures_that_are_others_on_the_page_are_read_from_it(swaps):
    content = claiming(drawn(lambda canvas: lines(canvas, SHOWN)), swaps)
    found = read_pages(content)
    assert [finding.code for finding in found.findings] == ["page.text_differs"]
    assert found.pages[0].text().splitlines() == SHOWN


def test_a_font_that_says_what_it_draws_is_believed():
    content = claiming(drawn(lambda canvas: lines(canvas, SHOWN)), {})
    page = read_pages(content, ocr=False).pages[0]
    assert page.text().splitlines() == SHOWN


def test_figures_of_fonts_never_seen_are_not_taken_for_others(monkeypatch):
    rows = pdf_digits.known()
    for index, row in enumerate(rows):
        # Fonts of one family lie near each other in the picture.
        others = np.concatenate([rows[: max(0, index - 12)], rows[index + 12 :]])
        monkeypatch.setattr(pdf_digits, "known", lambda others=others: others)
        pdf_digits._squares.cache_clear()
        assert [pdf_digits.drawn_figure(row[figure], figure) for figure in range(10)] == list(
            pdf_digits.FIGURES
        )
    pdf_digits._squares.cache_clear()


def test_a_word_parted_at_the_end_of_a_line_keeps_its_hyphen():
    content = drawn(lambda canvas: lines(canvas, ["Rental of a tele-", "handler, one week"]))
    text = read_pages(content, ocr=False).pages[0].text()
    assert text.splitlines() == ["Rental of a tele-", "handler, one week"]


def test_a_page_of_lines_alone_is_looked_at_and_an_empty_one_is_not():
    def form(canvas):
        for level in range(100, 700, 60):
            canvas.line(50, level, 500, level)

    with PdfFile(drawn(form), Limits()) as file:
        assert file.page(1)[1] is Doubt.NONE
    with PdfFile(drawn(lambda canvas: canvas.showPage()), Limits()) as file:
        assert file.page(1)[1] is None


def test_what_is_drawn_in_a_form_of_the_page_is_seen():
    def stamped(canvas):
        canvas.beginForm("stamp")
        lines(canvas, SHOWN, mode=3)
        canvas.endForm()
        canvas.doForm("stamp")

    with PdfFile(drawn(stamped), Limits()) as file:
        assert file.page(1)[1] is Doubt.UNSEEN
