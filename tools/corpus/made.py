"""Families for training that are no HTML: drawn text by text, word processor, spreadsheet.

A family is a function from a `Printer` to the bytes of a file.
"""

import io
from collections.abc import Callable, Sequence

import docx
import openpyxl
from docx.shared import Cm
from openpyxl.styles import Font
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Paragraph, SimpleDocTemplate, Spacer, Table

from tools.corpus.families import NUMERIC, e
from tools.corpus.printer import Printer
from tools.corpus.sheet import font

Made = Callable[[Printer], bytes]
WIDTHS = {"c_id": 1.0, "c_code": 2.0, "c_name": 6.0, "c_unit": 1.3, "c_quantity": 1.6, "c_price": 2.0,
          "c_discount": 1.4, "c_rate": 1.4, "c_amount": 2.4}  # fmt: skip


def placed(p: Printer) -> bytes:
    """Text by text on a letter-size page: facts in a column at the right, table without rules."""
    out = io.BytesIO()
    width, height = LETTER
    canvas = Canvas(out, pagesize=LETTER)
    family = p.chance.choice(["Liberation Sans", "DejaVu Serif", "Liberation Serif", "Open Sans"])
    plain, bold, size = font(family, False), font(family, True), p.chance.choice([8.0, 9.0, 10.0])
    top = 54.0

    def put(x: float, text: str, name: str = plain, points: float = size, *, right: bool = False) -> None:  # fmt: skip
        canvas.setFont(name, points)
        (canvas.drawRightString if right else canvas.drawString)(x, height - top, text)

    put(50, p.seller(), bold, size + 5)
    put(width - 50, p.title(), plain, size + 9, right=True)
    for line in (*p.bill.seller[1:], "", *p.buyer()):
        top += size * 1.3
        put(50, line)
    low, top = top, 92.0
    for label, value in p.some_facts():
        put(340, label + p.chance.choice([":", ""]))
        put(width - 50, value, right=True)
        top += size * 1.35
    top = max(low, top) + 34
    columns = p.columns
    scale = (width - 100) / sum(WIDTHS[name] for name in columns)

    def cells(texts: Sequence[str], name: str) -> None:
        x = 50.0
        for column, text in zip(columns, texts, strict=True):
            step = WIDTHS[column] * scale
            put(x + step - 4 if column in NUMERIC else x, text, name, right=column in NUMERIC)
            x += step

    cells(p.heads(), bold)
    for texts in p.lines(more=False):
        top += size * 1.7
        if top > height - 90:
            canvas.showPage()
            top = 60.0
        cells(texts, plain)
    top += size * 2
    for _, label, value in p.totals():
        top += size * 1.5
        if top > height - 70:
            canvas.showPage()
            top = 60.0
        put(350, label)
        put(width - 54, value, right=True)
    top += size * 3
    for line in (*p.remarks(), *(f"{a}: {b}" for a, b in p.facts("our_tax_id", "account", "phone"))):  # fmt: skip
        top += size * 1.3
        put(50, line, plain, size - 1)
    canvas.save()
    return out.getvalue()


def framed(p: Printer) -> bytes:
    """Ruled tables one below the other: parties, facts, lines, sums."""
    out = io.BytesIO()
    points = p.chance.choice([7.5, 8.5, 9.0])
    name = font(p.chance.choice(["Liberation Sans", "DejaVu Sans", "Liberation Narrow"]), False)
    style = ParagraphStyle("text", fontName=name, fontSize=points, leading=points * 1.25)
    right = ParagraphStyle("right", parent=style, alignment=2)

    def cell(text: str, *, flush: bool = False) -> Paragraph:
        return Paragraph(e(text).replace("<br>", "<br/>"), right if flush else style)

    rule = [("GRID", (0, 0), (-1, -1), 0.4, p.chance.choice(["black", "grey", "lightgrey"])), ("VALIGN", (0, 0), (-1, -1), "TOP")]  # fmt: skip
    title = ParagraphStyle("title", parent=style, fontSize=points * 2, leading=points * 2.6)
    parties = [[cell("\n".join((p.seller(), *p.bill.seller[1:]))), cell("\n".join((p.words["to"], *p.buyer())))]]  # fmt: skip
    found = p.some_facts()
    half = (len(found) + 1) // 2
    rows = [found[:half], found[half:]]
    facts = [[cell(f"{a}\n{b}") for a, b in part] + [""] * (half - len(part)) for part in rows]
    columns = p.columns
    total = sum(WIDTHS[name] for name in columns)
    body = [[cell(text, flush=name in NUMERIC) for name, text in zip(columns, cells, strict=True)] for cells in (p.heads(), *p.lines())]  # fmt: skip
    sums = [[cell(a), cell(b, flush=True)] for _, a, b in p.totals()]
    small = " &middot; ".join(e(f"{a} {b}") for a, b in p.facts("account", "our_tax_id", "phone"))
    SimpleDocTemplate(out, pagesize=A4, leftMargin=45, rightMargin=45, topMargin=45).build([
        Paragraph(e(p.title()), title), Spacer(1, 10), Table(parties, [252, 252], style=rule),
        Spacer(1, 8), Table(facts, [504 / half] * half, style=rule), Spacer(1, 14),
        Table(body, [504 * WIDTHS[name] / total for name in columns], style=rule, repeatRows=1),
        Spacer(1, 10), Table(sums, [130, 90], style=rule, hAlign=p.chance.choice(["RIGHT", "LEFT"])),
        Spacer(1, 12), *(Paragraph(e(line), style) for line in p.remarks()), Spacer(1, 8), Paragraph(small, style),
    ])  # fmt: skip
    return out.getvalue()


def printed(p: Printer) -> bytes:
    """A line printer's sheet: letters of one width, columns two spaces apart."""
    wide = {"c_id": 3, "c_code": 10, "c_name": 30, "c_unit": 6, "c_quantity": 9, "c_price": 11,
            "c_discount": 7, "c_rate": 6, "c_amount": 12}  # fmt: skip
    gap = p.chance.choice(["  ", "  ", " ", " | "])

    def line(cells: Sequence[str]) -> str:
        return gap.join(
            f"{cell[: wide[name]]:>{wide[name]}}" if name in NUMERIC else f"{cell[: wide[name]]:<{wide[name]}}"
            for name, cell in zip(p.columns, cells, strict=True)
        )  # fmt: skip

    long = len(line(p.heads()))
    out = [f"{p.seller():<{long - 24}}{p.title():>24}", *p.bill.seller[1:], ""]
    facts = [f"{a}{p.chance.choice([':', ' ', ' .... '])} {b}" for a, b in p.some_facts()]
    buyer = list(p.buyer())
    for at in range(max(len(facts), len(buyer))):
        left = buyer[at] if at < len(buyer) else ""
        out.append(f"{left:<44}{facts[at] if at < len(facts) else ''}")
    rule = p.chance.choice(["=", "-", "_"]) * long
    out += ["", line(p.heads()), rule, *map(line, p.lines(more=False)), rule]
    out += [f"{a:>{long - 18}}{b:>18}" if gap != " | " else f"{a:<40}{b:>18}" for _, a, b in p.totals()]  # fmt: skip
    out += ["", *p.remarks(), *(f"{a} {b}" for a, b in p.facts("our_tax_id", "account"))]
    file = io.BytesIO()
    canvas = Canvas(file, pagesize=A4)
    size = min(10.0, 505 / (0.602 * max(map(len, out))))
    top = 50.0
    for text in out:
        if top > 790:
            canvas.showPage()
            top = 50.0
        canvas.setFont(font("Liberation Mono", False), size)
        canvas.drawString(45, A4[1] - top, text)
        top += size * 1.25
    canvas.save()
    return file.getvalue()


def _word(document: "docx.document.Document") -> bytes:
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def ruled_letter(p: Printer) -> bytes:
    """A word processor's letter: facts and lines in ruled tables."""
    document = docx.Document()
    document.add_paragraph(p.title()).runs[0].bold = True
    head = document.add_table(rows=1, cols=2)
    head.cell(0, 0).text = "\n".join(p.buyer())
    head.cell(0, 1).text = "\n".join((p.seller(), *p.bill.seller[1:]))
    document.add_paragraph()
    found = p.some_facts()
    facts = document.add_table(rows=2, cols=len(found))
    facts.style = "Table Grid"
    for at, (label, value) in enumerate(found):
        facts.cell(0, at).text, facts.cell(1, at).text = label, value
    document.add_paragraph()
    table = document.add_table(rows=0, cols=len(p.columns))
    table.style = "Table Grid"
    for texts in (p.heads(), *p.lines(), *([""] * (len(p.columns) - 2) + [a, b] for _, a, b in p.totals())):  # fmt: skip
        for cell, text in zip(table.add_row().cells, texts, strict=True):
            cell.text = text
    for text in (*p.remarks(), *(f"{a}: {b}" for a, b in p.facts("account", "our_tax_id"))):
        document.add_paragraph(text)
    return _word(document)


def tabbed(p: Printer) -> bytes:
    """A word processor's page with tab stops instead of tables."""
    document = docx.Document()
    document.add_paragraph(" - ".join((p.seller(), *p.bill.seller[1:])))
    for line in p.buyer():
        document.add_paragraph(line)
    document.add_heading(p.title(), 1)
    for label, value in p.some_facts():
        document.add_paragraph(f"{label}\t{value}").paragraph_format.tab_stops.add_tab_stop(Cm(5))
    columns = ["c_name", "c_quantity", "c_price", "c_amount"]
    for cells in (p.heads(columns), *p.lines(columns, more=False)):
        line = document.add_paragraph("\t".join(cells))
        for place in (8.5, 11, 14):
            line.paragraph_format.tab_stops.add_tab_stop(Cm(place))
    for _, label, value in p.totals():
        line = document.add_paragraph(f"\t{label}\t{value}")
        for place in (8.5, 14):
            line.paragraph_format.tab_stops.add_tab_stop(Cm(place))
    for text in (*p.remarks(), *(f"{a} {b}" for a, b in p.facts("our_tax_id", "account"))):
        document.add_paragraph(text)
    return _word(document)


def _workbook(rows: Sequence[Sequence[str]], bold: Sequence[int] = ()) -> bytes:
    book = openpyxl.Workbook()
    sheet = book.active
    for at, cells in enumerate(rows, start=1):
        for column, text in enumerate(cells, start=1):
            if text:
                sheet.cell(at, column, text).font = Font(bold=at in bold)
    for letter, width in zip("ABCDEFGHI", (16, 34, 14, 14, 14, 14, 14, 14, 14), strict=True):
        sheet.column_dimensions[letter].width = width
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def cells_down(p: Printer) -> bytes:
    """A spreadsheet: facts below each other, label and value in neighbouring cells."""
    rows: list[Sequence[str]] = [[p.seller()], *([line] for line in p.bill.seller[1:]), [], [p.title()], []]  # fmt: skip
    rows += [[line] for line in p.buyer()]
    rows += [[], *([a, b] for a, b in p.some_facts()), [], p.heads(), *p.lines(), []]
    last = len(p.columns) - 2
    rows += [[""] * last + [a, b] for _, a, b in p.totals()]
    rows += [[], *([line] for line in p.remarks()), *([a, b] for a, b in p.facts("account", "our_tax_id"))]  # fmt: skip
    return _workbook(rows)


def cells_across(p: Printer) -> bytes:
    """A spreadsheet: labels in one row, their values in the next; totals under the table."""
    found = p.some_facts()
    rows: list[Sequence[str]] = [[p.title(), "", p.seller()], [*p.bill.seller[1:]], [], [p.words["to"]]]  # fmt: skip
    rows += [[", ".join(p.buyer())], [], [a for a, _ in found], [b for _, b in found], []]
    rows += [p.heads(), *p.lines(more=False)]
    rows += [[a, *[""] * (len(p.columns) - 2), b] for _, a, b in p.totals()]
    rows += [[], [line for pair in p.facts("our_tax_id", "account") for line in pair], *([line] for line in p.remarks())]  # fmt: skip
    return _workbook(rows)


FAMILIES: dict[str, Made] = {
    each.__name__: each
    for each in (placed, framed, printed, ruled_letter, tabbed, cells_down, cells_across)
}
