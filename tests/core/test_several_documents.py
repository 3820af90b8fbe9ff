"""Several documents in one file: which pages belong together."""

from dataclasses import replace

from tests.core.paper import page_of
from tests.core.test_page_features import terms
from veridox.core.extract.assemble import extract
from veridox.core.extract.splitting import parts_of
from veridox.core.pages import Page
from veridox.core.reading import Kind, Source


def bill(number, *, page, name="Saltglass Systems Ltd", title="Invoice", count="", total="66.00"):
    rows = [
        (40, (50, title, 2.0), (400, name)),
        (100, (50, f"{title} No: {number}"), (300, "Date: 5 November 2026")),
        (200, (50, "Description"), (330, "Qty"), (420, "Price", "right"), (540, "Amount", "right")),
        (220, (50, "Reef salt"), (340, "2", "right"), (420, "27.50", "right"),
         (540, "55.00", "right")),
        (300, (350, "Net total"), (540, "£55.00", "right")),
        (315, (350, "VAT 20 %"), (540, "£11.00", "right")),
        (330, (350, "Total"), (540, f"£{total}", "right")),
    ]  # fmt: skip
    if count:
        rows.append((800, (480, count)))
    return page_of(*rows, number=page)


def more(number, *, page, count=""):
    """A page that goes on with a bill: its number stands in the head again, its title too."""
    rows = [(40, (50, "Invoice", 2.0), (400, "Saltglass Systems Ltd")),
            (100, (50, f"Invoice No: {number}")), (200, (50, "Packed by hand"))]  # fmt: skip
    if count:
        rows.append((800, (480, count)))
    return page_of(*rows, number=page)


def stretches(*pages):
    return [[page.number for page in part] for part in parts_of(pages)]


def test_two_bills_of_one_supplier_are_two_documents():
    assert stretches(bill("SG/7", page=1), bill("SG/8", page=2)) == [[1], [2]]


def test_a_second_page_with_the_same_number_goes_on():
    pages = (bill("SG/7", page=1), more("SG/7", page=2), bill("SG/8", page=3))
    assert stretches(*pages) == [[1, 2], [3]]


def test_pages_that_count_themselves_are_believed():
    pages = (
        bill("SG/7", page=1, count="Page 1 of 2"), more("SG/8", page=2, count="Page 2 of 2"),
        bill("SG/7", page=3, count="Page 1 of 1"),
    )  # fmt: skip
    assert stretches(*pages) == [[1, 2], [3]]


def test_a_page_one_in_the_middle_of_a_table_begins_nothing():
    begun = page_of(
        (40, (50, "Invoice", 2.0), (400, "Saltglass Systems Ltd")),
        (100, (50, "Invoice No: SG/7")), (220, (50, "Reef salt"), (340, "2", "right")), number=1,
    )  # fmt: skip
    inside = page_of(
        (220, (50, "Rope"), (340, "2", "right")), (800, (480, "Page 1 of 2")), number=2
    )
    assert stretches(begun, inside, bill("SG/7", page=3)) == [[1, 2, 3]]


def test_a_delivery_note_behind_a_bill_is_a_document_of_its_own():
    note = page_of(
        (40, (50, "Delivery note", 2.0), (400, "Saltglass Systems Ltd")),
        (100, (50, "Delivery note No: D-55")), (220, (50, "Reef salt"), (340, "2", "right")),
        number=2,
    )  # fmt: skip
    readings = extract((bill("SG/7", page=1), note), Source())
    assert [reading.kind for reading in readings] == [Kind.INVOICE, Kind.DELIVERY_NOTE]
    assert [reading.source.pages for reading in readings] == [(1,), (2,)]


def test_blank_pages_and_small_print_between_bills_belong_to_none():
    blank = Page(number=2, width=595, height=842, words=())
    pages = (bill("SG/7", page=1), blank, bill("SG/8", page=3), replace(terms(), number=4))
    assert stretches(*pages) == [[1], [3]]


def test_each_document_gets_its_own_values():
    pages = (bill("SG/7", page=1), bill("SG/8", page=2, total="67.00"))
    one, other = extract(pages, Source(name="scan.pdf"))
    assert (one.text("number"), other.text("number")) == ("SG/7", "SG/8")
    assert (str(one.money("gross_total")), str(other.money("gross_total"))) == (
        "66.00 GBP", "67.00 GBP",
    )  # fmt: skip
    assert one.fields["number"].page == 1
    assert other.fields["number"].page == 2


def test_a_file_of_blank_pages_is_one_document():
    blank = Page(number=1, width=595, height=842, words=())
    (reading,) = extract((blank, replace(blank, number=2)), Source())
    assert reading.source.pages == (1, 2)


def test_a_page_of_prose_behind_a_bill_goes_on_with_it():
    letter = page_of(
        (60, (50, "We thank you for your order and remain at your service.")), number=2
    )
    assert stretches(bill("SG/7", page=1), letter) == [[1, 2]]
