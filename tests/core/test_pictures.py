"""Scans, photos and faxes: words with boxes, upright, and what cannot be read."""

import io
import zlib

import cv2
import numpy as np
import pypdfium2 as pdfium
import pytest
from PIL import Image
from reportlab.pdfgen.canvas import Canvas

from tools.bench_pages import Score, judge, truth
from tools.corpus.camera import shot
from tools.corpus.content import invoice
from tools.corpus.layouts import LAYOUTS, draw
from veridox.core.readers import image
from veridox.core.readers.codec import file_from_json, file_to_json
from veridox.core.readers.files import OcrNeededError, read_pages
from veridox.core.readers.limits import Limits
from veridox.core.readers.ocr import read_picture
from veridox.core.readers.ocr.picture import grey_of
from veridox.core.readers.ocr.recognise import without_specks

PDF, SHEET = draw(invoice(4), 4)


def seen_under(condition, seed=4):
    pdf, sheet = draw(invoice(seed), seed % LAYOUTS)
    found = shot(pdf, 0, condition, seed)
    grey = found.picture if found.picture.ndim == 2 else grey_of(found.picture[:, :, ::-1])
    size = (grey.shape[1] * 72 / found.dpi, grey.shape[0] * 72 / found.dpi) if found.dpi else None
    page = read_picture(grey, size, photo=found.dpi == 0)
    score = Score()
    judge(score, page.words, truth(sheet, page.place @ found.place))
    return page, score


@pytest.mark.parametrize(
    ("condition", "least"),
    # How well each condition is read is measured by `bin/bench pages`; these are three of them.
    [("turned", 0.98), ("photo", 0.97), ("fax", 0.9)],
)
def test_amounts_dates_and_ids_are_read_at_their_place(condition, least):
    page, score = seen_under(condition)
    assert score.right / score.tokens >= least, score.wrong
    assert page.turned or condition not in ("turned", "photo")


def file_of(picture, form, **options):
    out = io.BytesIO()
    picture.save(out, form, **options)
    return out.getvalue()


@pytest.fixture(scope="module")
def scan():
    return Image.fromarray(shot(PDF, 0, "200 dpi", 1).picture)


@pytest.fixture(scope="module")
def upper(scan):
    """A page that is blank below its head: all that some tests ask for, in less time."""
    page = scan.copy()
    page.paste(255, (0, page.height * 3 // 10, page.width, page.height))
    return page


@pytest.mark.parametrize(
    ("form", "options"),
    [("PNG", {}), ("JPEG", {"quality": 85}), ("TIFF", {"compression": "tiff_lzw"}),
     ("WEBP", {"quality": 90}), ("BMP", {}), ("HEIF", {"quality": 80})],
)  # fmt: skip
def test_every_kind_of_picture_becomes_a_page(upper, form, options):
    if form == "HEIF":
        import pillow_heif

        pillow_heif.register_heif_opener()
    file = read_pages(file_of(upper.convert("RGB"), form, dpi=(200, 200), **options))
    assert file.findings == ()
    assert invoice(4).number in file.pages[0].text()
    assert file.pages[0].width == pytest.approx(595.3, abs=2)
    # What people look at lies as the words do.
    shown = Image.open(io.BytesIO(file.pictures[1]))
    assert shown.width == pytest.approx(file.pages[0].width * 150 / 72, abs=1)


def test_a_fax_of_several_pages_with_uneven_resolution(upper):
    bits = upper.resize((upper.width, upper.height // 2)).point(lambda level: 255 * (level > 150))
    pages = [bits.convert("1")] * 2
    content = file_of(
        pages[0], "TIFF", compression="group4", dpi=(200, 100), save_all=True,
        append_images=pages[1:],
    )  # fmt: skip
    file = read_pages(content)
    assert [page.number for page in file.pages] == [1, 2]
    assert file.pages[0].height == pytest.approx(841.9, abs=2)
    assert invoice(4).order in file.pages[1].text()


def test_a_photo_tells_which_way_its_camera_was_held(upper):
    exif = Image.Exif()
    exif[0x0112] = 6  # to be turned clockwise (EXIF 2.3, Orientation)
    file = read_pages(file_of(upper.rotate(90, expand=True), "JPEG", exif=exif, quality=90))
    assert invoice(4).number in file.pages[0].text()
    assert file.pages[0].width < file.pages[0].height


@pytest.mark.parametrize("number", [3, 7])
def test_a_dark_band_across_a_page_is_no_ground_that_it_lies_on(number):
    pdf, _ = draw(invoice(number), number)
    page = Image.fromarray(shot(pdf, 0, "150 dpi", 2).picture)
    assert invoice(number).seller[0] in read_pages(file_of(page, "PNG")).pages[0].text()


def test_transparent_paper_is_white(upper):
    clear = Image.new("RGBA", upper.size, (0, 0, 0, 0))
    clear.paste(Image.new("RGBA", upper.size, "black"), mask=upper.point(lambda level: 255 - level))
    assert invoice(4).number in read_pages(file_of(clear, "PNG", dpi=(200, 200))).pages[0].text()


def test_pages_can_be_kept():
    file = read_pages(file_of(Image.fromarray(shot(PDF, 0, "150 dpi", 1).picture), "PNG"))
    again = file_from_json(file_to_json(file))
    assert [page.text() for page in again.pages] == [page.text() for page in file.pages]
    assert again.pages[0].words[3].confidence == pytest.approx(
        file.pages[0].words[3].confidence, abs=1e-5
    )
    assert (again.media_type, again.findings) == (file.media_type, file.findings)


# -- what cannot be read


def noisy_landscape():
    y, x = np.mgrid[0:900, 0:1200]
    waves = 120 + 60 * np.sin(x / 90) + 40 * np.cos(y / 70)
    grain = np.random.default_rng(7).normal(0, 12, waves.shape)
    return Image.fromarray((waves + grain).clip(0, 255).astype(np.uint8))


@pytest.mark.parametrize(
    "picture", [noisy_landscape(), Image.new("L", (1240, 1754), 250)], ids=["landscape", "blank"]
)
def test_a_picture_of_no_document_says_so(picture):
    file = read_pages(file_of(picture, "PNG"))
    assert [finding.code for finding in file.findings] == ["page.no_text"]
    assert file.findings[0].blocks


def bomb():
    """A PNG that says it is 20,000 pixels square."""
    content = bytearray(file_of(Image.new("L", (32, 32)), "PNG"))
    content[16:24] = (20_000).to_bytes(4, "big") * 2
    checksum = zlib.crc32(bytes(content[12:29]))
    content[29:33] = checksum.to_bytes(4, "big")
    return bytes(content)


def many(count):
    """A fax of so many pages."""
    page = Image.new("1", (200, 280), 1)
    rest = [page] * (count - 1)
    return file_of(page, "TIFF", compression="group4", save_all=True, append_images=rest)


def test_amounts_of_thousands_without_a_sign_are_never_surest():
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(400, 200))
    canvas.drawString(40, 100, "Total 4101.84 of 4,101.84")
    canvas.save()
    picture = pdfium.PdfDocument(out.getvalue())[0].render(scale=200 / 72).to_pil()
    words = read_picture(np.asarray(picture.convert("L")), (400, 200)).words
    sure = {word.text: word.confidence for word in words}
    assert sure["4101.84"] == 0.98
    assert sure["4,101.84"] > 0.99


@pytest.mark.parametrize(
    ("content", "code"),
    [
        (many(300), "file.too_large"),
        (bomb(), "file.too_large"),
        (file_of(Image.new("L", (300, 300), 255), "PNG")[:60], "file.broken"),
        (b"\xff\xd8\xff" + b"no picture" * 40, "file.broken"),
        (b"II*\x00" + b"\xff" * 400, "file.broken"),
        (file_of(Image.new("L", (8, 900), 255), "PNG"), "file.broken"),
    ],
    ids=["300 pages", "bomb", "cut off", "no JPEG", "no TIFF", "too narrow"],
)
def test_a_bad_picture_gives_one_clear_finding(content, code):
    # Also without the large reader, which must not be bothered.
    for ocr in (True, False):
        file = read_pages(content, ocr=ocr)
        assert [finding.code for finding in file.findings] == [code]
        assert file.findings[0].blocks


def test_a_large_picture_is_not_unpacked_twice(scan, monkeypatch):
    monkeypatch.setattr(image, "WORKED_ON", 10_000)
    monkeypatch.setattr(image, "_frame", None)
    with pytest.raises(OcrNeededError):
        read_pages(file_of(scan, "PNG"), ocr=False)


def test_pages_of_a_picture_file_are_limited(scan):
    many = [Image.new("1", (200, 200), 1)] * 5
    content = file_of(many[0], "TIFF", save_all=True, append_images=many[1:])
    assert read_pages(content, Limits(pages=4)).findings[0].code == "file.too_large"


def test_light_print_on_dark_is_read():
    page = np.full((700, 1654), 245, np.uint8)
    page[100:220] = 40
    cv2.putText(page, "INVOICE 2026-4711", (120, 185), cv2.FONT_HERSHEY_SIMPLEX, 2, 250, 4)
    assert "2026-4711" in read_pages(file_of(Image.fromarray(page), "PNG")).pages[0].text()


@pytest.mark.parametrize(
    ("read", "meant"),
    [(".8,48", "8,48"), ("495,87.", "495,87"), (".21/10/2026", "21/10/2026"), (".50", ".50"),
     ("·MB-4649", "MB-4649"), ("Ltd.", "Ltd."), ("1.250", "1.250"), ("12.", "12."), (".", "."),
     ("30927-S", "30927-S"), ("1.234,50-", "1.234,50-")],
)  # fmt: skip
def test_dust_beside_a_word_is_no_point_of_it(read, meant):
    assert without_specks(read) == meant
