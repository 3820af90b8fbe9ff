"""Damaged files of every kind: always an answer, never a stuck pool."""

import io
import random
import time
from pathlib import Path

import docx
import openpyxl
from PIL import Image, ImageDraw

from demo import bills
from demo.drawing import LAYOUTS
from demo.mails import MAILS
from veridox.readerpool import PoolLimits, ReaderPool, ReaderStoppedError

SECONDS = 6


def mutated(content, chance):
    """Bytes flipped, cut out, doubled, or the end cut off."""
    data = bytearray(content)
    for _ in range(chance.randint(1, 30)):
        at = chance.randrange(len(data))
        how = chance.randrange(4)
        if how == 0:
            data[at] = chance.randrange(256)
        elif how == 1:
            del data[at : at + chance.randint(1, 200)]
        elif how == 2:
            data[at:at] = data[at : at + chance.randint(1, 200)]
        else:
            data[at:at] = bytes(chance.randrange(256) for _ in range(chance.randint(1, 20)))
        if len(data) < 10:
            break
    return bytes(data[: chance.randint(1, len(data))] if chance.random() < 0.2 else data)


def small_files():
    """One of each other kind, small enough to be read often."""
    page = Image.new("L", (420, 200), 250)
    ImageDraw.Draw(page).text((20, 60), "Invoice 2026-4711  Total 1,254.00", fill=10)
    for form in ("PNG", "JPEG", "TIFF", "WEBP", "BMP"):
        out = io.BytesIO()
        page.save(out, form)
        yield out.getvalue()
    for make in (docx.Document, openpyxl.Workbook):
        document, out = make(), io.BytesIO()
        if make is docx.Document:
            document.add_paragraph("Total 1,254.00")
        else:
            document.active.append(["Total", 1254.0])
        document.save(out)
        yield out.getvalue()
    yield b"item;quantity;amount\nKrill;40;740,00\n" * 5
    yield (Path(__file__).parent.parent / "data" / "invoice-ubl.xml").read_bytes()


def test_mutated_pictures_sheets_and_xml_always_get_an_answer():
    chance, originals = random.Random(5), list(small_files())
    answered = stopped = 0
    limit = time.monotonic() + SECONDS
    with ReaderPool(size=1, limits=PoolLimits(wall_seconds=20.0, cpu_seconds=4)) as pool:
        while time.monotonic() < limit or answered <= 20:
            answer = pool.read(mutated(chance.choice(originals), chance))
            assert answer.findings or answer.readings
            stopped += any(finding.code == "file.limit" for finding in answer.findings)
            answered += 1
        assert "1,254.00" in pool.read(originals[0], words=True).pages[0]["text"]
    assert stopped <= answered / 10


def test_mutated_files_and_mails_always_get_an_answer():
    chance = random.Random(20261123)
    originals = [LAYOUTS[layout](bill) for layout in LAYOUTS for bill in (bills.KRILL, bills.ROTOR)]
    mails = [mail.message().as_bytes() for mail in MAILS[:4]]
    answered = stopped = 0
    limit = time.monotonic() + SECONDS
    with ReaderPool(size=1, limits=PoolLimits(wall_seconds=20.0, cpu_seconds=4)) as pool:
        while time.monotonic() < limit or answered <= 20:
            answer = pool.read(mutated(chance.choice(originals), chance))
            assert answer.findings or answer.readings
            try:
                pool.mail(mutated(chance.choice(mails), chance))
            except ReaderStoppedError:
                stopped += 1
            answered += 1
        assert pool.read(originals[0]).readings
    assert answered > 20
    assert stopped <= answered / 10
