"""More held-back families, drawn by other code again (see `held_back`): only measured on."""

import io
from collections.abc import Callable
from html import escape

import openpyxl
from reportlab.pdfgen.canvas import Canvas

from tools.corpus.printer import Printer
from tools.corpus.sheet import font


def _spans(pairs: list[tuple[str, str]], pattern: str) -> str:
    return "".join(pattern.format(escape(a), escape(b)) for a, b in pairs)


def form(p: Printer) -> str:
    """A printed form on a grid: the label small in the corner of its cell, the value below it."""
    cell = "<section><i>{}</i><p>{}</p></section>"
    lines = "".join(
        "<div>" + "".join(f"<span class={name}>{escape(text)}</span>" for name, text in zip(p.columns, cells, strict=True)) + "</div>"
        for cells in (p.heads(), *p.lines())
    )  # fmt: skip
    wide = {"c_name": "4fr", "c_id": ".6fr", "c_unit": ".8fr"}
    grid = " ".join(wide.get(name, "1.3fr") for name in p.columns)
    return (
        "<!doctype html><meta charset=utf-8><style>@page{size:A4;margin:10mm}html{font:8.5pt 'DejaVu Sans'}"
        "main{display:grid;grid-template-columns:repeat(3,1fr)}section{border:.5px solid #444;padding:1mm;min-height:9mm}"
        "section i{font-size:6pt;font-style:normal;color:#555}section p{margin:0}.w{grid-column:span 2}"
        f".t div{{display:grid;grid-template-columns:{grid};border-bottom:.5px solid #aaa}}.t span{{padding:1mm}}"
        ".c_quantity,.c_price,.c_amount,.c_discount,.c_rate{text-align:end}.t div:first-child{background:#e4e4e4}</style>"
        f"<main><section class=w><i></i><p><b>{escape(p.seller())}</b><br>{'<br>'.join(map(escape, p.bill.seller[1:]))}</p></section>"
        f"<section><i></i><p style='font-size:15pt'>{escape(p.title())}</p></section>"
        f"<section class=w><i>{escape(p.words['to'])}</i><p>{'<br>'.join(map(escape, p.buyer()))}</p></section>"
        f"{_spans(p.some_facts(3), cell)}</main><br><article class=t>{lines}</article><br>"
        f"<main>{_spans([(a, b) for _, a, b in p.totals()], cell)}</main><br>"
        f"<main>{_spans(p.facts('account', 'our_tax_id', 'phone'), cell)}</main><p>{'<br>'.join(map(escape, p.remarks()))}</p>"
    )


def strip(p: Printer) -> bytes:
    """A narrow strip as from a small printer: each item on one row, its figures on the next."""
    out = io.BytesIO()
    mono, strong = font("DejaVu Sans", False), font("DejaVu Sans", True)
    rows: list[tuple[str, str, bool]] = [(p.seller(), "", True), *((line, "", False) for line in p.bill.seller[1:])]  # fmt: skip
    rows += [("", "", False), (p.title(), "", True), *((a, b, False) for a, b in p.some_facts())]
    rows += [("", "", False), *((line, "", False) for line in p.buyer()), ("", "", False)]
    for name, quantity, price, amount in p.lines(["c_name", "c_quantity", "c_price", "c_amount"]):
        rows += [(name, "", False), (f"   {quantity} x {price}", amount, False)]
    rows += [("", "", False), *((a, b, name == "gross") for name, a, b in p.totals())]
    rows += [("", "", False), *((a, b, False) for a, b in p.facts("our_tax_id", "account"))]
    rows += [(line, "", False) for line in p.remarks()]
    height = 40 + 11 * len(rows)
    canvas = Canvas(out, pagesize=(300, height))
    for at, (left, right, heavy) in enumerate(rows):
        canvas.setFont(strong if heavy else mono, 7)
        canvas.drawString(14, height - 24 - 11 * at, left[:60])
        canvas.drawRightString(286, height - 24 - 11 * at, right)
    canvas.save()
    return out.getvalue()


def prose(p: Printer) -> str:
    """A letter in sentences: facts in running text, work as a list, sums at a tab."""
    facts = p.some_facts()
    told = "; ".join(f"{escape(a)} {escape(b)}" for a, b in facts)
    work = "".join(
        f"<li>{escape(name)}: {escape(quantity)} &times; {escape(price)} = <b>{escape(amount)}</b></li>"
        for name, quantity, price, amount in p.lines(
            ["c_name", "c_quantity", "c_price", "c_amount"]
        )
    )
    sums = "".join(f"<dt>{escape(a)}</dt><dd>{escape(b)}</dd>" for _, a, b in p.totals())
    ends = "; ".join(f"{escape(a)} {escape(b)}" for a, b in p.facts("account", "our_tax_id"))
    return (
        "<!doctype html><meta charset=utf-8><style>@page{size:A4;margin:28mm}html{font:11pt/1.5 'Liberation Serif'}"
        "dl{display:grid;grid-template-columns:70mm 35mm}dd{margin:0;text-align:right}li{margin:2mm 0}</style>"
        f"<p>{'<br>'.join(map(escape, (p.seller(), *p.bill.seller[1:])))}</p><p>{'<br>'.join(map(escape, p.buyer()))}</p>"
        f"<p><u>{escape(p.title())}</u></p><p>{told}.</p><ol>{work}</ol><dl>{sums}</dl><p>{' '.join(map(escape, p.remarks()))}</p><p>{ends}</p>"
    )


def book(p: Printer) -> bytes:
    """A spreadsheet with its table at column B and facts at the right of the head."""
    workbook = openpyxl.Workbook()
    sheet = workbook.active
    for at, line in enumerate((p.seller(), *p.bill.seller[1:]), start=1):
        sheet.cell(at, 2, line)
    for at, (label, value) in enumerate(p.some_facts(3), start=1):
        sheet.cell(at, 5, label)
        sheet.cell(at, 7, value)
    row = 12
    for line in (p.title(), *p.buyer(), ""):
        sheet.cell(row, 2, line)
        row += 1
    for cells in (p.heads(), *p.lines()):
        for at, text in enumerate(cells, start=2):
            sheet.cell(row, at, text)
        row += 1
    for _, label, value in p.totals():
        sheet.cell(row + 1, len(p.columns), label)
        sheet.cell(row + 1, len(p.columns) + 1, value)
        row += 1
    for line in (*p.remarks(), *(f"{a}: {b}" for a, b in p.facts("account", "our_tax_id"))):
        sheet.cell(row + 3, 2, line)
        row += 1
    for letter, width in zip(
        "ABCDEFGHIJK", (3, 26, 22, 18, 18, 16, 18, 16, 16, 16, 16), strict=True
    ):
        sheet.column_dimensions[letter].width = width
    out = io.BytesIO()
    workbook.save(out)
    return out.getvalue()


def halves(p: Printer) -> str:
    """Two halves: who and the facts on a tinted left, table and sums on the right."""
    facts = _spans(p.some_facts(), "<p><small>{}</small><br><strong>{}</strong></p>")
    body = "".join(
        "<tr>" + "".join(f"<td>{escape(text)}" for text in cells) for cells in (p.heads(), *p.lines(more=False))
    )  # fmt: skip
    sums = "".join(
        f"<tr><td colspan={len(p.columns) - 1}>{escape(a)}<td>{escape(b)}" for _, a, b in p.totals()
    )
    more = _spans(p.facts("our_tax_id", "account", "phone"), "<p><small>{}</small><br>{}</p>")
    return (
        "<!doctype html><meta charset=utf-8><style>@page{size:A4 landscape;margin:0}body{margin:0;font:9pt 'Liberation Sans'}"
        "main{display:grid;grid-template-columns:62mm 1fr;min-height:200mm}nav{background:#eef1e6;padding:9mm}article{padding:9mm}"
        "table{width:100%;border-spacing:0 2px}td{padding:1mm 2mm}tr:first-child td{border-bottom:1.5px solid #556}</style>"
        f"<main><nav><b>{escape(p.seller())}</b><br>{'<br>'.join(map(escape, p.bill.seller[1:]))}{facts}{more}</nav>"
        f"<article><p style='font-size:19pt;margin:0'>{escape(p.title())}</p><p>{'<br>'.join(map(escape, p.buyer()))}</p>"
        f"<table>{body}{sums}</table><p>{'<br>'.join(map(escape, p.remarks()))}</p></article></main>"
    )


HTML: dict[str, Callable[[Printer], str]] = {each.__name__: each for each in (form, prose, halves)}
MADE: dict[str, Callable[[Printer], bytes]] = {each.__name__: each for each in (strip, book)}
