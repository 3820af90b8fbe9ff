"""Held-back families: never trained on nor tuned on, drawn by other code and other words.

Nothing here may be changed to make reading look better; new families may be added.
"""

import io
from collections.abc import Callable
from html import escape

import docx
from reportlab.lib.pagesizes import A4, landscape
from reportlab.pdfgen.canvas import Canvas

from tools.corpus.printer import Printer
from tools.corpus.sheet import font

Html = Callable[[Printer], str]
Made = Callable[[Printer], bytes]


def _page(css: str, *parts: str) -> str:
    return f"<!doctype html><html><head><meta charset=utf-8><style>{css}</style></head><body>{''.join(parts)}</body></html>"  # fmt: skip


def _lines(values: tuple[str, ...] | list[str], tag: str = "div") -> str:
    return "".join(f"<{tag}>{escape(value)}</{tag}>" for value in values)


def cards(p: Printer) -> str:
    """Rounded cards laid out by flex boxes; facts as chips; the line table of divs, not a table."""
    css = (
        "@page{size:A4;margin:12mm}body{font:9pt 'Open Sans'}.c{border:1px solid #bbb;border-radius:8px;"
        "padding:10px;margin-bottom:8px}.x{display:flex;gap:8px}.x>.c{flex:1}.chip{display:inline-block;"
        "background:#eee;border-radius:9px;padding:2px 8px;margin:2px}.k{color:#777}"
        ".g{display:flex;padding:4px 0;border-bottom:1px solid #eee}.g>*{flex:1;padding-right:6px}"
        ".g .c_name{flex:3}.g .n{text-align:right}.s{display:flex;justify-content:flex-end}"
        ".s>*{width:34mm;text-align:right}.s .k{width:60mm}.gross{font-size:13pt;font-weight:bold}"
    )
    chips = "".join(
        f"<span class=chip><span class=k>{escape(a)}</span> {escape(b)}</span>"
        for a, b in p.some_facts(3)
    )
    numeric = {"c_quantity", "c_price", "c_discount", "c_rate", "c_amount"}

    def grid(cells: list[str]) -> str:
        inner = "".join(
            f"<div class='{name}{' n' if name in numeric else ''}'>{escape(cell)}</div>"
            for name, cell in zip(p.columns, cells, strict=True)
        )
        return f"<div class=g>{inner}</div>"

    ends = "".join(
        f"<div class='s {name}'><span class=k>{escape(a)}</span><span>{escape(b)}</span></div>"
        for name, a, b in p.totals()
    )
    small = " — ".join(f"{escape(a)}: {escape(b)}" for a, b in p.facts("account", "our_tax_id"))
    return _page(
        css,
        f"<div class=x><div class=c><b>{escape(p.seller())}</b>{_lines(p.bill.seller[1:])}</div>",
        f"<div class=c><div class=k>{escape(p.words['to'])}</div>{_lines(p.buyer())}</div></div>",
        f"<div style='font-size:18pt'>{escape(p.title())}</div><div>{chips}</div><br>",
        f"<div class=c><b>{grid(p.heads())}</b>{''.join(map(grid, p.lines()))}</div>{ends}",
        f"<p>{_lines(p.remarks())}</p><footer>{small}</footer>",
    )


def upside_down(p: Printer) -> str:
    """The table first, facts and seller at the bottom; totals on the left, amount before label."""
    css = (
        "@page{size:A4;margin:20mm}body{font:10pt 'Liberation Serif'}table{width:100%;border-spacing:0 3px}"
        "th{font-variant:small-caps;text-align:left;border-bottom:3px double}.a{text-align:right}"
        "aside{columns:3;font-size:9pt;margin-top:14mm}"
    )
    numeric = {"c_quantity", "c_price", "c_discount", "c_rate", "c_amount"}
    mark = ["a" if name in numeric else "t" for name in p.columns]
    head = "".join(f"<th class={m}>{escape(h)}" for m, h in zip(mark, p.heads(), strict=True))
    body = "".join(
        "<tr>" + "".join(f"<td class={m}>{escape(c)}" for m, c in zip(mark, cells, strict=True))
        for cells in p.lines()
    )
    ends = "".join(
        f"<tr><td width=38%>{escape(a)}<td width=20% class=a>{escape(b)}<td>" for _, a, b in p.totals()
    )  # fmt: skip
    facts = "".join(f"<div><i>{escape(a)}</i><br>{escape(b)}</div>" for a, b in p.some_facts(3))
    return _page(
        css,
        f"<div style='float:right;font-size:20pt'>{escape(p.title())}</div>{_lines(p.buyer())}<br><br>",
        f"<table><tr>{head}</tr>{body}</table><hr><table>{ends}</table><aside>{facts}</aside>",
        f"<p>{_lines(p.remarks(), 'span')}</p><hr><center>{escape(p.seller())}, "
        f"{escape(', '.join(p.bill.seller[1:]))}<br>"
        f"{' / '.join(escape(a + ' ' + b) for a, b in p.facts('our_tax_id', 'phone', 'account'))}</center>",
    )


def typed(p: Printer) -> str:
    """As an old line printer gives it: one font, columns by spaces, rules of dashes."""
    wide = {"c_id": 4, "c_code": 12, "c_name": 34, "c_unit": 7, "c_quantity": 10, "c_price": 13,
            "c_discount": 8, "c_rate": 7, "c_amount": 15}  # fmt: skip
    left = {"c_id", "c_code", "c_name", "c_unit"}

    def line(cells: list[str]) -> str:
        return "".join(
            cell[: wide[name] - 1].ljust(wide[name]) if name in left
            else cell[: wide[name] - 1].rjust(wide[name])
            for name, cell in zip(p.columns, cells, strict=True)
        )  # fmt: skip

    rule = "-" * sum(wide[name] for name in p.columns)
    out = [p.seller(), *p.bill.seller[1:], "", *p.buyer(), "", "", p.title().upper(), ""]
    out += [f"{a:<28}: {b}" for a, b in p.some_facts()]
    out += ["", rule, line(p.heads()), rule, *map(line, p.lines()), rule]
    out += [f"{a:>{len(rule) - 22}}{b:>22}" for _, a, b in p.totals()]
    out += ["", *p.remarks(), "", *(f"{a}: {b}" for a, b in p.facts("account", "our_tax_id"))]
    size = min(10.0, 480 / (0.6 * max(map(len, out))))
    css = f"@page{{size:A4;margin:15mm}}pre{{font:{size:.2f}pt/1.3 'DejaVu Sans Mono'}}"
    return _page(css, f"<pre>{escape(chr(10).join(out))}</pre>")


def joined(p: Printer) -> str:
    """Quantity and unit in one cell, code in brackets behind the name, a wrapped description,
    a heading within the table."""
    columns = ["c_name", "c_quantity", "c_unit", "c_price", "c_amount"]
    css = (
        "@page{size:A4;margin:16mm 20mm}body{font:9.5pt 'Liberation Sans'}table{width:100%;border-collapse:collapse}"
        "td,th{border-bottom:1px solid #d5d5d5;padding:3px;vertical-align:top}.a{text-align:right}"
        ".n{width:42%}th{font-size:80%;text-transform:none;text-align:left;color:#555}.gross{font-weight:bold}"
    )
    body = ""
    for at, (name, quantity, unit, price, amount) in enumerate(p.lines(columns)):
        item = p.bill.items[at]
        if at == 3:
            body += f"<tr><td colspan=4><b>{escape(p.bill.note)}</b></td></tr>"
        body += (
            f"<tr><td class=n>{escape(name)}<br>({escape(item.code)})</td><td class=a>{escape(quantity)} {escape(unit)}"
            f"</td><td class=a>{escape(price)}</td><td class=a>{escape(amount)}</td></tr>"
        )
    heads = p.heads(["c_name", "c_quantity", "c_price", "c_amount"])
    ends = "".join(
        f"<tr class={name}><td colspan=3 class=a>{escape(a)}</td><td class=a>{escape(b)}</td></tr>"
        for name, a, b in p.totals()
    )
    left = "".join(f"<div>{escape(a)}: {escape(b)}</div>" for a, b in p.some_facts(3))
    return _page(
        css,
        f"<table style='border:0'><tr><td width=50%>{left}</td><td class=a><b>{escape(p.seller())}</b>"
        f"{_lines(p.bill.seller[1:])}</td></tr></table>",
        f"<p style='margin-top:12mm'>{_lines(p.buyer())}</p><h3>{escape(p.title())}</h3>",
        f"<table><tr><th class=n>{escape(heads[0])}</th>"
        + "".join(f"<th class=a>{escape(head)}</th>" for head in heads[1:]),
        f"</tr>{body}{ends}</table><p>{_lines(p.remarks())}</p><small>"
        + " | ".join(
            f"{escape(a)} {escape(b)}" for a, b in p.facts("our_tax_id", "account", "phone")
        )
        + "</small>",
    )


def drawn(p: Printer) -> bytes:
    """Straight onto the page, landscape, every text at its own place."""
    out = io.BytesIO()
    width, height = landscape(A4)
    canvas = Canvas(out, pagesize=(width, height))
    plain, bold = font("DejaVu Sans", False), font("DejaVu Sans", True)

    def put(
        x: float, y: float, text: str, size: float = 8, *, name: str = plain, right: bool = False
    ) -> None:
        canvas.setFont(name, size)
        (canvas.drawRightString if right else canvas.drawString)(x, height - y, text)

    put(40, 50, p.title(), 20, name=bold)
    put(width - 40, 46, p.seller(), 11, name=bold, right=True)
    put(width - 40, 58, ", ".join(p.bill.seller[1:]), 7, right=True)
    for at, line in enumerate(p.buyer()):
        put(40, 90 + 11 * at, line, 9)
    for at, (label, value) in enumerate(p.some_facts(3)):
        x, y = 330 + 150 * (at % 3), 90 + 26 * (at // 3)
        put(x, y, label, 6.5)
        put(x, y + 10, value, 9)
    wide = {"c_id": 30, "c_code": 80, "c_name": 220, "c_unit": 50, "c_quantity": 60, "c_price": 80,
            "c_discount": 60, "c_rate": 50, "c_amount": 90}  # fmt: skip
    scale = (width - 80) / sum(wide[name] for name in p.columns)
    y = 190.0

    def cells(texts: list[str], name: str) -> None:
        x = 40.0
        for column, text in zip(p.columns, texts, strict=True):
            right = column in ("c_quantity", "c_price", "c_discount", "c_rate", "c_amount")
            step = wide[column] * scale
            put(x + step - 6 if right else x, y, text, name=name, right=right)
            x += step

    cells(p.heads(), bold)
    canvas.line(40, height - y - 4, width - 40, height - y - 4)
    for texts in p.lines():
        y += 15
        if y > height - 60:
            canvas.showPage()
            y = 50
            cells(p.heads(), bold)
            y += 18
        cells(texts, plain)
    y += 26
    for name, label, value in p.totals():
        if y > height - 50:
            canvas.showPage()
            y = 60
        put(width - 180, y, label, right=True, name=bold if name == "gross" else plain)
        put(width - 46, y, value, right=True, name=bold if name == "gross" else plain)
        y += 14
    for at, line in enumerate(p.remarks()):
        put(40, y + 12 * at, line, 7)
    put(40, height - 30, "   ".join(f"{a} {b}" for a, b in p.facts("account", "our_tax_id")), 7)
    canvas.save()
    return out.getvalue()


def written(p: Printer) -> bytes:
    """In a word processor: paragraphs, tabs and tables."""
    document = docx.Document()
    document.add_heading(p.seller(), 1)
    document.add_paragraph(", ".join(p.bill.seller[1:]))
    document.add_paragraph("\n".join(p.buyer()))
    document.add_heading(p.title(), 2)
    for label, value in p.some_facts():
        document.add_paragraph(f"{label}:\t{value}")
    lines = p.lines()
    table = document.add_table(rows=0, cols=len(p.columns))
    for texts in (p.heads(), *lines):
        for cell, text in zip(table.add_row().cells, texts, strict=True):
            cell.text = text
    ends = document.add_table(rows=0, cols=2)
    for _, label, value in p.totals():
        one, other = ends.add_row().cells
        one.text, other.text = label, value
    for line in (*p.remarks(), *(f"{a} {b}" for a, b in p.facts("our_tax_id", "account"))):
        document.add_paragraph(line)
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


HTML: dict[str, Html] = {each.__name__: each for each in (cards, upside_down, typed, joined)}
MADE: dict[str, Made] = {each.__name__: each for each in (drawn, written)}
