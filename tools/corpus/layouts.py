"""Layouts: each number is one vendor's way to lay an invoice out."""

import random
from dataclasses import dataclass

from tools.corpus.content import Invoice
from tools.corpus.sheet import FONTS, HEIGHT, WIDTH, Sheet

LAYOUTS = 36
"""How many there are."""
PDFS_OWN = ("Helvetica", "Times", "Courier")
"""Fonts without the letters of Polish."""
_ORDERS = (
    ("code", "name", "quantity", "price", "amount"),
    ("name", "quantity", "price", "amount"),
    ("quantity", "code", "name", "price", "amount"),
    ("name", "code", "price", "quantity", "amount"),
    ("code", "quantity", "name", "price", "amount"),
)
_WIDE = {"code": 62.0, "name": 190.0, "quantity": 58.0, "price": 80.0, "amount": 84.0}


@dataclass(frozen=True, kw_only=True, slots=True)
class Style:
    """What one layout always does."""

    family: str
    size: float
    margin: float
    head: str
    facts: str
    table: str
    columns: tuple[str, ...]
    totals: str
    foot: str
    gap: float
    grey: float


def style(number: int, language: str) -> Style:
    """The style of a layout."""
    chance = random.Random(f"layout {number}")
    families = list(FONTS)
    family = families[number % len(families)]
    if language == "pl" and family in PDFS_OWN:
        family = "DejaVu Sans"
    narrow = family in ("Courier", "Liberation Mono", "DejaVu Sans", "DejaVu Serif", "Open Sans")
    return Style(
        family=family,
        size=chance.choice([7.5, 8, 8.5] if narrow else [8, 9, 9, 10]),
        margin=chance.choice([36.0, 48.0, 60.0]),
        head=("left", "right", "centre", "band")[number % 4],
        facts=("beside", "above", "grid", "running")[number // 2 % 4],
        table=("ruled", "grid", "zebra", "plain", "filled")[number % 5],
        columns=_ORDERS[chance.randrange(len(_ORDERS))],
        totals=("right", "boxed", "rows")[number % 3],
        foot=("line", "columns", "small")[number // 3 % 3],
        gap=chance.choice([1.5, 1.8, 2.2]),
        grey=chance.choice([0.0, 0.0, 0.15, 0.3]),
    )


def draw(invoice: Invoice, number: int) -> tuple[bytes, Sheet]:
    """The invoice in this layout: a PDF file, and the sheet that knows its words."""
    look = style(number, invoice.language)
    sheet = Sheet(look.family, look.size)
    y = _head(sheet, invoice, look)
    y = _facts(sheet, invoice, look, y + 14)
    y = _table(sheet, invoice, look, y + 20)
    y = _totals(sheet, invoice, look, y + 14)
    _foot(sheet, invoice, look)
    return sheet.pdf(), sheet


def _head(sheet: Sheet, invoice: Invoice, look: Style) -> float:
    left, right = look.margin, WIDTH - look.margin
    name, *address = invoice.seller
    title = invoice.labels["title"]
    if look.head == "band":
        sheet.box(0, 0, WIDTH, 64, 0.25)
        sheet.text(left, 38, name, bold=True, size=16, grey=1.0)
        sheet.text(right, 38, title.upper(), bold=True, size=14, right=True, grey=1.0)
        y = 84.0
    elif look.head == "centre":
        sheet.text(
            (WIDTH - sheet.width(name, bold=True, size=17)) / 2, 52, name, bold=True, size=17
        )
        sheet.text((WIDTH - sheet.width(title, size=14)) / 2, 74, title, size=14)
        y = 96.0
    elif look.head == "right":
        sheet.text(right, 52, name, bold=True, size=15, right=True)
        sheet.text(left, 56, title, bold=True, size=20)
        y = 72.0
    else:
        sheet.text(left, 52, name, bold=True, size=15)
        sheet.text(right, 52, title, size=18, right=True)
        y = 68.0
    at_right = look.head == "right"
    for text in (*address, invoice.phone):
        sheet.text(right if at_right else left, y, text, right=at_right, grey=look.grey)
        y += look.size * 1.35
    x = sheet.text(left, y, invoice.labels["tax_id"] + " ", grey=look.grey)
    sheet.text(x + 2, y, invoice.tax_id, key=True)
    y += look.size * 3
    sheet.text(left, y, invoice.labels["to"], size=look.size * 0.85, grey=look.grey)
    for text in invoice.buyer:
        y += look.size * 1.4
        sheet.text(left, y, text)
    return y


def _facts(sheet: Sheet, invoice: Invoice, look: Style, y: float) -> float:
    labels, left, right = invoice.labels, look.margin, WIDTH - look.margin
    pairs = [
        (labels["number"], invoice.number), (labels["date"], invoice.issued),
        (labels["due"], invoice.due), (labels["order"], invoice.order),
        (labels["customer"], invoice.customer),
    ]  # fmt: skip
    step = look.size * 1.6
    if look.facts == "beside":
        at = WIDTH * 0.55
        value = at + max(sheet.width(label) for label, _ in pairs) + 12
        start = y - step * 4
        for row, (label, text) in enumerate(pairs):
            sheet.text(at, start + row * step, label, grey=look.grey)
            sheet.text(value, start + row * step, text, bold=row == 0, key=True)
        return start + step * len(pairs)
    if look.facts == "running":
        for row in (pairs[:2], pairs[2:4], pairs[4:]):
            x = left
            for label, text in row:
                x = sheet.text(x, y, f"{label}: ", grey=look.grey) + 2
                x = sheet.text(x, y, text, key=True) + 24
            y += step
        return y
    wide = (right - left) / len(pairs)
    small = look.size * 0.8
    if look.facts == "grid":
        y += step
        sheet.rule(left, y - step, right, y - step)
        sheet.rule(left, y + step * 1.2, right, y + step * 1.2)
    for column, (label, text) in enumerate(pairs):
        x = left + column * wide
        if look.facts == "grid":
            sheet.rule(x, y - step, x, y + step * 1.2)
        sheet.text(x + 4, y, label, size=small, grey=look.grey)
        sheet.text(x + 4, y + step * 0.95, text, key=True)
    if look.facts == "grid":
        sheet.rule(right, y - step, right, y + step * 1.2)
    return y + step * 1.5


def _table(sheet: Sheet, invoice: Invoice, look: Style, y: float) -> float:
    left, right = look.margin, WIDTH - look.margin
    scale = (right - left) / sum(_WIDE[column] for column in look.columns)
    edges = [left]
    for column in look.columns:
        edges.append(edges[-1] + _WIDE[column] * scale)
    step = look.size * look.gap
    top = y - look.size * 1.2
    label = {"code": "item", "name": "name"}
    if look.table == "filled":
        sheet.box(left, top, right - left, step, 0.82)
    for column, x0, x1 in zip(look.columns, edges, edges[1:], strict=False):
        number = column in ("quantity", "price", "amount")
        text = invoice.labels[label.get(column, column)]
        sheet.text(x1 - 4 if number else x0 + 4, y, text, bold=True, right=number)
    if look.table in ("ruled", "plain", "grid"):
        sheet.rule(left, y + look.size * 0.45, right, y + look.size * 0.45)
    for row, line in enumerate(invoice.lines):
        y += step
        if y > HEIGHT - 190:
            break  # what does not fit is not part of this page's truth
        if look.table == "zebra" and row % 2:
            sheet.box(left, y - look.size * 1.1, right - left, step, 0.9)
        for column, x0, x1 in zip(look.columns, edges, edges[1:], strict=False):
            number = column in ("quantity", "price", "amount")
            text = getattr(line, column)
            sheet.text(x1 - 4 if number else x0 + 4, y, text, right=number, key=column != "name")
        if look.table in ("ruled", "grid"):
            sheet.rule(left, y + look.size * 0.45, right, y + look.size * 0.45, 0.3)
    if look.table == "grid":
        for x in edges:
            sheet.rule(x, top, x, y + look.size * 0.45, 0.4)
    return y


def _totals(sheet: Sheet, invoice: Invoice, look: Style, y: float) -> float:
    labels, right = invoice.labels, WIDTH - look.margin
    rows = [
        (labels["net"], invoice.net), (f"{labels['tax']} {invoice.rate}", invoice.tax),
        (labels["gross"], invoice.gross),
    ]  # fmt: skip
    step = look.size * 1.8
    at = look.margin + 4 if look.totals == "rows" else WIDTH * 0.56
    if look.totals == "boxed":
        sheet.box(at - 8, y - 2, right - at + 8, step * 3.4, 0.92)
    for row, (label, text) in enumerate(rows):
        y += step
        last = row == len(rows) - 1
        size = look.size * (1.2 if last else 1)
        sheet.text(at, y, label, bold=last, size=size)
        sheet.text(right - 4, y, text, bold=last, right=True, key=True, size=size)
        if look.totals != "boxed":
            sheet.rule(at, y + look.size * 0.4, right, y + look.size * 0.4, 0.9 if last else 0.3)
    return y


def _foot(sheet: Sheet, invoice: Invoice, look: Style) -> None:
    labels, left, y = invoice.labels, look.margin, HEIGHT - 64
    small = max(6.5, look.size * 0.82)
    sheet.text(left, y - 16, labels["thanks"])
    if look.foot == "columns":
        sheet.text(left, y, invoice.seller[0], size=small, grey=look.grey)
        sheet.text(left, y + small * 1.3, invoice.seller[1], size=small, grey=look.grey)
        sheet.text(WIDTH * 0.38, y, labels["account"], size=small, grey=look.grey)
        sheet.text(WIDTH * 0.38, y + small * 1.3, invoice.account, size=small, key=True)
        sheet.text(WIDTH * 0.8, y, f"{labels['page']} 1/1", size=small, grey=look.grey)
        return
    size = small if look.foot == "small" else look.size
    x = sheet.text(left, y, f"{labels['account']} ", size=size, grey=look.grey)
    sheet.text(x + 2, y, invoice.account, size=size, key=True)
    sheet.text(WIDTH - look.margin, y + size * 1.4, f"{labels['page']} 1", size=size, right=True)
