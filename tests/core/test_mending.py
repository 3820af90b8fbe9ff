"""A misread digit is mended where arithmetic leaves no other reading, and nowhere else."""

from decimal import Decimal

import pytest

from veridox.core.checks.registry import run_checks
from veridox.core.extract.mending import mended
from veridox.core.extract.thresholds import MENDED
from veridox.core.facts import Facts
from veridox.core.money import Money
from veridox.core.pages import Box
from veridox.core.reading import Field, Kind, Origin, Reading

HEADER = {"net_total": "55.00", "tax_total": "11.00", "gross_total": "66.00"}
LINES = (("4", "5.00", "20.00"), ("3", "7.50", "22.50"), ("10", "1.25", "12.50"))
NAMES = ("quantity", "unit_price", "amount")


def field(value, at=0, origin=Origin.OCR):
    spot = Box(10, 10 * at, 40, 10 * at + 8)
    return Field(value=value, text="as seen", page=1, box=spot, confidence=0.95, origin=origin)


def money(text):
    return Money.of(text, "GBP")


def scan(changed=None, *, origin=Origin.OCR, rate="20", lines=LINES, **header):
    """A bill that adds up, but for `changed` ({(line, name): text}) and `header`."""
    changed = changed or {}
    rows = []
    for at, figures in enumerate(lines):
        cells = {}
        for name, text in zip(NAMES, figures, strict=True):
            text = changed.get((at, name), text)
            value = money(text) if name == "amount" else Decimal(text)
            cells[name] = field(value, 20 + at, origin)
        rows.append(cells)
    fields = {
        name: field(money(text), at, origin)
        for at, (name, text) in enumerate({**HEADER, **header}.items())
    }
    fields["currency"] = field("GBP", 15, origin)
    taxes = ({"rate": field(Decimal(rate))},) if rate else ()
    return Reading(kind=Kind.INVOICE, fields=fields, lines=tuple(rows), tax_lines=taxes)


def test_a_bill_that_adds_up_stays_as_it_is():
    assert mended(scan()) == scan()


def test_a_total_in_two_sums_is_mended_says_so_and_goes_to_a_person():
    found = mended(scan(net_total="85.00"))
    net = found.fields["net_total"]
    assert (net.value, net.origin) == (money("55.00"), Origin.MENDED)
    assert net.confidence <= MENDED
    assert net.others[0].value == money("85.00")
    findings = [each for each in run_checks(Facts(reading=found)) if each.code == "field.mended"]
    assert [each.message for each in findings] == [
        "Net total was recognised as 85.00 GBP; with 55.00 GBP everything adds up."
    ]
    assert findings[0].blocks


def test_a_digit_that_is_not_easily_taken_for_the_right_one_is_no_misread_one():
    wrong = scan({(1, "amount"): "23.50"})
    assert mended(wrong) == wrong


@pytest.mark.parametrize(
    ("line", "seen", "printed"),
    [(1, "22.80", "22.50"), (0, "28.00", "20.00"), (2, "72.50", "12.50")],
)
def test_each_digit_is_mended_into_what_it_is_taken_for(line, seen, printed):
    found = mended(scan({(line, "amount"): seen}))
    assert found.lines[line]["amount"].value == money(printed)
    assert found.lines[line]["amount"].origin is Origin.MENDED
    others = [row for at, row in enumerate(found.lines) if at != line]
    assert all(cell.origin is Origin.OCR for row in others for cell in row.values())


def test_one_broken_equation_is_reported_and_never_mended():
    # The quantity is in its product alone: whether it or the price is wrong, nothing tells.
    wrong = scan({(0, "quantity"): "9"})
    assert mended(wrong) == wrong


def test_what_the_files_own_text_says_is_never_mended():
    wrong = scan(net_total="85.00", origin=Origin.TEXT)
    assert mended(wrong) == wrong


def test_two_changes_that_would_both_do_are_none():
    # Without lines and rate, net or tax or total may be the misread one.
    wrong = scan(net_total="85.00", lines=(), rate=None)
    assert mended(wrong) == wrong


def test_a_bill_that_is_wrong_itself_is_not_mended_into_a_right_one():
    # Every sum after the first is reckoned on from the wrong one, as people do.
    wrong = scan(
        {(1, "amount"): "25.20"}, net_total="57.70", tax_total="11.54", gross_total="69.24"
    )
    assert mended(wrong) == wrong


def test_a_total_that_is_also_printed_as_due_is_mended_by_both():
    wrong = scan(gross_total="68.00").with_fields({"amount_due": field(money("66.00"), 9)})
    assert mended(wrong).money("gross_total") == money("66.00")
