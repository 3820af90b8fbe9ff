"""From a file to its readings: a structured invoice, and the documents beside it."""

from pathlib import Path

import pytest

from tests.core.paper import page_of
from tests.core.test_several_documents import bill
from veridox.core.documents import readings_of
from veridox.core.extract.hints import Hints
from veridox.core.readers.opened import FilePages
from veridox.core.reading import Origin, Source

XML = Path("tests/data/invoice-ubl.xml").read_bytes()


def file(*pages, xml=XML):
    return FilePages(media_type="application/pdf", pages=pages, xml=(xml,) if xml else ())


def read(*pages, beside=None, xml=XML):
    return readings_of(file(*pages, xml=xml), Source(name="two.pdf"), Hints(), beside)


def numbers(found):
    return [reading.text("number") for reading in found.readings]


OTHER = bill("SG/8", page=1, name="Saltglass Systems Ltd")


@pytest.mark.parametrize("first", [True, False])
def test_the_other_documents_of_a_file_with_a_structured_invoice_are_read_too(first):
    own = bill("BF-2026-0413", page=1 if first else 2, name="Brinefold Ltd", total="1,378.08")
    other = bill("SG/8", page=2 if first else 1)
    found = read(*((own, other) if first else (other, own)))
    assert sorted(numbers(found)) == ["BF-2026-0413", "SG/8"]
    structured = found.readings[0 if first else 1]
    assert structured.fields["gross_total"].origin is Origin.EMBEDDED
    assert structured.source.pages == ((1,) if first else (2,))
    assert found.readings[1 if first else 0].fields["number"].origin is Origin.TEXT


def test_a_number_that_the_page_does_not_show_leaves_the_total_to_tell():
    own = bill("RG-7", page=2, name="Brinefold Ltd", total="1,378.08")
    found = read(OTHER, own)
    assert numbers(found) == ["SG/8", "BF-2026-0413"]
    (told,) = [each for each in found.findings if each.fields == ("number",)]
    assert (told.expected, told.found, told.page) == ("BF-2026-0413", "RG-7", 2)


def test_the_only_document_keeps_all_pages_of_its_file():
    more = page_of((40, (50, "Our terms of delivery and payment")), number=2)
    found = read(bill("BF-2026-0413", page=1, name="Brinefold Ltd", total="1,378.08"), more)
    assert numbers(found) == ["BF-2026-0413"]
    assert found.readings[0].source.pages == (1, 2)


def test_xml_that_came_beside_a_file_goes_before_what_lies_in_it():
    nothing = read(OTHER, beside=[], xml=XML)
    assert numbers(nothing) == ["SG/8"]
    assert numbers(read(OTHER, beside=[XML], xml=b"")) == ["BF-2026-0413"]
