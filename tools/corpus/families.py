"""Families of layouts for training: each is one way to lay a bill out, written by itself.

A family is a function from a `Printer` to HTML. What all share is only how text is escaped
and how a supplier's looks (letters, sizes, colours) are drawn.
"""

from collections.abc import Callable, Sequence
from html import escape

from tools.corpus.printer import Printer

Family = Callable[[Printer], str]
FONTS = ("DejaVu Sans", "DejaVu Serif", "Liberation Sans", "Liberation Serif", "Liberation Sans Narrow",
         "Open Sans", "Liberation Mono", "Open Sans Condensed")  # fmt: skip
NUMERIC = {"c_quantity", "c_price", "c_discount", "c_rate", "c_amount"}


def sheet(p: Printer, body: str, css: str = "", size: str = "A4") -> str:
    """A page in the supplier's letters."""
    font, points = p.chance.choice(FONTS), p.chance.choice([8, 8.5, 9, 9.5, 10])
    ink = p.chance.choice(["#000", "#111", "#222", "#1b2733"])
    margin = p.chance.choice(["14mm", "18mm", "22mm"])
    return (
        f"<!doctype html><meta charset=utf-8><style>@page{{size:{size};margin:{margin}}}"
        f"*{{box-sizing:border-box}}body{{margin:0;font:{points}pt/1.35 '{font}';color:{ink}}}"
        f"table{{border-collapse:collapse}}td,th{{vertical-align:top;padding:2px 4px}}"
        f".r{{text-align:right}}{css}</style><body>{body}"
    )


def e(text: str) -> str:
    """Escaped, lines kept."""
    return escape(text).replace("\n", "<br>")


def block(lines: Sequence[str]) -> str:
    """Lines under each other."""
    return "<br>".join(map(e, lines))


def row(cells: Sequence[str], kind: str = "td", right: Sequence[bool] = ()) -> str:
    """A row of a table."""
    marks = right or [False] * len(cells)
    inner = "".join(
        f"<{kind}{' class=r' if mark else ''}>{e(cell)}</{kind}>"
        for cell, mark in zip(cells, marks, strict=True)
    )
    return f"<tr>{inner}</tr>"


def table(
    p: Printer, columns: Sequence[str] = (), attributes: str = "width=100%", **how: bool
) -> str:
    """The line table."""
    columns = columns or p.columns
    right = [name in NUMERIC for name in columns]
    body = "".join(row(cells, right=right) for cells in p.lines(columns, **how))
    return (
        f"<table class=lines {attributes}><thead>{row(p.heads(columns), 'th', right)}</thead>"
        f"<tbody>{body}</tbody></table>"
    )


def pairs(found: Sequence[tuple[str, str]], end: str = "") -> str:
    """A table of labels and values."""
    return "<table>" + "".join(
        f"<tr><td>{e(label)}{end}</td><td>{e(value)}</td></tr>" for label, value in found
    ) + "</table>"  # fmt: skip


def sums(p: Printer, attributes: str = "align=right") -> str:
    """A table of totals."""
    rows = "".join(
        f"<tr class={name}><td>{e(label)}</td><td class=r>{e(value)}</td></tr>"
        for name, label, value in p.totals()
    )
    return f"<table class=sums {attributes}>{rows}</table>"


def foot(p: Printer) -> str:
    """What stands at the bottom: account, tax id, phone."""
    found = p.facts("our_tax_id", "account", "phone")
    gap = p.chance.choice([" · ", " · ", " | ", " / ", ", ", " &nbsp;&nbsp; ", " - ", "<br>"])
    end = p.chance.choice(["", "", ":"])
    return gap.join(f"{e(label)}{end} {e(value)}" for label, value in found)


def letterhead(p: Printer) -> str:
    """Name large on the left, facts beside the buyer, table with all its lines."""
    return sheet(p, f"""<h2 style="margin:0">{e(p.seller())}</h2>{block(p.bill.seller[1:])}
      <h1>{e(p.title())}</h1><table width=100%><tr><td width=55%><small>{e(p.words["to"])}</small><br>
      {block(p.buyer())}</td><td>{pairs(p.some_facts(), p.chance.choice([":", ""]))}</td></tr></table><br>
      {table(p, attributes="border=1 width=100%")}<br>{sums(p)}
      <p style="clear:both;padding-top:2em">{block(p.remarks())}</p><hr><small>{foot(p)}</small>""")  # fmt: skip


def band(p: Printer) -> str:
    """White words on a dark band; facts in a row, labels above their values; striped table."""
    colour = p.chance.choice(["#1d3c5a", "#3b2f4a", "#24543f", "#5a2a1d"])
    facts = p.some_facts()
    return sheet(p, f"""<div class=band><span class=t>{e(p.title())}</span>
      <span style="float:right;text-align:right">{e(p.seller())}<br><small>{block(p.bill.seller[1:])}</small></span></div>
      <table width=100% class=facts>{row([a for a, _ in facts], "th")}{row([b for _, b in facts])}</table>
      <p><small>{e(p.words["to"])}</small><br>{block(p.buyer())}</p>{table(p)}<br>{sums(p)}
      <div style="clear:both;padding-top:3em;font-size:85%">{block(p.remarks())}<br>{foot(p)}</div>""",
      f".band{{background:{colour};color:#fff;padding:8mm;height:24mm;-webkit-print-color-adjust:exact}}"
      ".t{font-size:180%}.facts th{text-align:left;font-weight:normal;font-size:80%;color:#666}"
      ".facts td{font-weight:bold}.lines tbody tr:nth-child(odd){background:#eef2f4}.lines th{text-align:left}"
      ".lines th.r{text-align:right}.gross td{font-weight:bold;font-size:120%}")  # fmt: skip


def letter(p: Printer) -> str:
    """A letter with an address window and an information block; totals end the table."""
    columns = p.columns
    right = [name in NUMERIC for name in columns]
    lines = "".join(row(cells, right=right) for cells in p.lines())
    ends = "".join(
        f"<tr class={name}><td colspan={len(columns) - 1} class=r>{e(label)}</td>"
        f"<td class=r>{e(value)}</td></tr>" for name, label, value in p.totals()
    )  # fmt: skip
    return sheet(p, f"""<div style="height:30mm" class=r><b style="font-size:150%">{e(p.seller())}</b></div>
      <table width=100%><tr><td width=60%><u><small>{e(" · ".join(p.bill.seller))}</small></u><br><br>{block(p.buyer())}</td>
      <td style="font-size:90%">{pairs(p.some_facts(), ":")}</td></tr></table><br><br>
      <b style="font-size:140%">{e(p.title())}</b><br><br>
      <table width=100% class=l><thead>{row(p.heads(), "th", right)}</thead>{lines}{ends}</table>
      <p>{block(p.remarks())}</p><div style="position:fixed;bottom:0;font-size:75%;border-top:1px solid #888">{foot(p)}</div>""",
      ".l th{border-bottom:1px solid;text-align:left}.l th.r{text-align:right}.l td{border-bottom:1px solid #ccc}"
      ".gross td{border-top:2px solid;font-weight:bold}")  # fmt: skip


def boxes(p: Printer) -> str:
    """A form: every value in a box with its small label in the corner."""
    facts = "".join(f"<div class=b><i>{e(a)}</i><br>{e(b)}</div>" for a, b in p.some_facts())
    ends = "".join(f"<div class='b {n}'><i>{e(a)}</i><br>{e(b)}</div>" for n, a, b in p.totals())
    return sheet(p, f"""<div class=b style="width:48%"><b>{e(p.seller())}</b><br>{block(p.bill.seller[1:])}<br>{foot(p)}</div>
      <div class=b style="width:48%"><i>{e(p.words["to"])}</i><br>{block(p.buyer())}</div>
      <h2 align=center>{e(p.title())}</h2>{facts}<br style="clear:both"><br>{table(p, attributes="border=1 width=100%")}<br>{ends}
      <div style="clear:both"><br>{block(p.remarks())}</div>""",
      ".b{border:1px solid #444;float:left;padding:3px 6px;margin:0 4px 4px 0;min-width:28mm}i{font-size:70%;font-style:normal}")  # fmt: skip


def plain(p: Printer) -> str:
    """No lines at all, wide gaps; facts in running text."""
    facts = p.chance.choice([" · ", " | ", "   "]).join(f"{a}: {b}" for a, b in p.some_facts())
    return sheet(p, f"""<p>{e(p.seller())}, {e(", ".join(p.bill.seller[1:]))}</p><p style="padding-top:2em">{block(p.buyer())}</p>
      <p style="font-size:170%">{e(p.title())}</p><p style="white-space:pre-wrap">{e(facts)}</p>{table(p)}<br>{sums(p)}
      <p style="clear:both;padding-top:2em">{block(p.remarks())}<br>{foot(p)}</p>""",
      "th{text-align:left;font-weight:bold}th.r{text-align:right}.lines td{padding:5px 4px}")  # fmt: skip


def side(p: Printer) -> str:
    """A column on the left with all facts, each label above its value."""
    facts = "".join(f"<p><small>{e(a)}</small><br><b>{e(b)}</b></p>" for a, b in p.some_facts(3))
    return sheet(p, f"""<div class=side><b>{e(p.seller())}</b><br>{block(p.bill.seller[1:])}{facts}
      <p><small>{foot(p)}</small></p></div><div class=main><h1>{e(p.title())}</h1>{block(p.buyer())}<br><br>
      {table(p, attributes="width=100% border=0")}<br>{sums(p, "width=70% align=right")}<p style="clear:both"><br>{block(p.remarks())}</p></div>""",
      ".side{float:left;width:27%;background:#f3f0ea;padding:4mm;overflow-wrap:anywhere}.main{float:right;width:70%}"
      "h1{margin-top:0}.lines{font-size:85%}.lines th{border-bottom:2px solid #999;text-align:left}.lines th.r{text-align:right}")  # fmt: skip


def two_storeys(p: Printer) -> str:
    """Each line on two rows: what, and below it how many times how much."""
    columns = ["c_name", "c_quantity", "c_price", "c_amount"]
    rows = ""
    for name, quantity, price, amount in p.lines(columns, code_in_name=True):
        rows += f"<tr><td colspan=3>{e(name)}</td></tr>"
        rows += f"<tr><td></td><td class=r>{e(quantity)}</td><td class=r>{e(price)}</td><td class=r>{e(amount)}</td></tr>"
    head = row(p.heads(columns), "th", [False, True, True, True])
    return sheet(p, f"""<center><b style="font-size:140%">{e(p.seller())}</b><br>{e(" · ".join(p.bill.seller[1:]))}</center><hr>
      <table width=100%><tr><td>{block(p.buyer())}</td><td align=right>{pairs(p.some_facts())}</td></tr></table>
      <h2>{e(p.title())}</h2><table width=100% class=l>{head}{rows}</table><hr>{sums(p, "width=45% align=right")}
      <p style="clear:both">{block(p.remarks())}<br>{foot(p)}</p>""", ".l th{text-align:left}.l th.r{text-align:right}")  # fmt: skip


def tax_grid(p: Printer) -> str:
    """Taxes in a small table of their own: rate, base, amount; the totals in a row below it."""
    found = p.totals()
    taxes = "".join(
        row([f"{p.quantity(t.rate)} %", p.amount(t.base), p.amount(t.amount)], right=[True] * 3)
        for t in p.bill.taxes
    )  # fmt: skip
    facts = p.some_facts()
    rest = [each for each in found if each[0] != "tax" or len(p.bill.taxes) == 1]
    return sheet(p, f"""<table width=100%><tr><td><h2>{e(p.seller())}</h2>{block(p.bill.seller[1:])}<br>{foot(p)}</td>
      <td class=bx><small>{e(p.words["to"])}</small><br>{block(p.buyer())}</td></tr></table>
      <table class=f width=100% border=1>{row([p.title(), *(a for a, _ in facts)], "th")}
      {row(["", *(b for _, b in facts)])}</table><br>{table(p, attributes="width=100% border=1")}<br>
      <table border=1 align=left>{row([p.words["c_rate"], p.words["net"], p.words["tax_sum"]], "th")}{taxes}</table>
      <br style="clear:both"><br><table border=1 width=100%>{row([a for _, a, _ in rest], "th")}{row([b for _, _, b in rest], right=[True] * len(rest))}</table>
      <p>{block(p.remarks())}</p>""", ".bx{border:1px solid}.f th{font-size:75%;text-align:left}")  # fmt: skip


def carried(p: Printer) -> str:
    """Many lines over pages, the header repeated; a sum carried forward between two halves."""
    columns = p.columns
    right = [name in NUMERIC for name in columns]
    cells = p.lines()
    half = len(cells) // 2
    total = p.amount(sum((i.amount for i in p.bill.items[:half]), p.bill.net * 0))
    over = f"<tr><td colspan={len(columns) - 1} class=r>{e(p.words['carried'])}</td><td class=r>{e(total)}</td></tr>"
    head = row(p.heads(), "th", right)
    first = "".join(row(each, right=right) for each in cells[:half])
    second = "".join(row(each, right=right) for each in cells[half:])
    cut = "<div style='page-break-after:always'></div>" if half >= 4 else ""
    page = p.words["page"].replace("{m}", "2")
    middle = (
        f"{over}</table><p>{e(page.replace('{n}', '1'))}</p>{cut}<p>{e(page.replace('{n}', '2'))}</p><table width=100% class=l>{head}{over}"
        if cut
        else ""
    )
    return sheet(p, f"""<div class=r>{e(p.seller())}<br>{block(p.bill.seller[1:])}</div><p>{block(p.buyer())}</p>
      {pairs(p.some_facts(), ":")}<h2>{e(p.title())}</h2><table width=100% class=l>{head}{first}{middle}{second}</table>{sums(p)}
      <p style="clear:both"><br>{block(p.remarks())}<br>{foot(p)}</p>""",
      ".l th{border-top:1px solid;border-bottom:1px solid;text-align:left}.l th.r{text-align:right}.l td{padding:6px 4px}")  # fmt: skip


def service(p: Printer) -> str:
    """No table: what was done in words, then the sums."""
    stated = [f"<td><b>{e(a)}</b> {e(b)}</td>" for a, b in p.some_facts()]
    facts = "".join(f"<tr>{''.join(stated[at : at + 4])}</tr>" for at in range(0, len(stated), 4))
    done = "".join(
        f"<p>{e(name)} <span style='float:right'>{e(amount)}</span></p>"
        for name, amount in p.lines(["c_name", "c_amount"], code_in_name=True)
    )  # fmt: skip
    return sheet(p, f"""<div style="border-left:3px solid;padding-left:4mm"><b>{e(p.seller())}</b><br>{block(p.bill.seller[1:])}</div>
      <p style="margin-top:15mm">{e(p.words["to"])}<br>{block(p.buyer())}</p>
      <table width=100%>{facts}</table>
      <h1>{e(p.title())}</h1>{done}<hr>{sums(p, "width=100%")}<p>{block(p.remarks())}</p><small>{foot(p)}</small>""")  # fmt: skip


def bilingual(p: Printer) -> str:
    """Every label in the supplier's language and in English."""
    other = Printer(p.bill, "english", held_back=False)
    from tools.corpus.wording import words_of

    english = words_of("en", other.chance, held_back=False)
    own = dict(p.words)
    for name in ("number", "issued", "due", "order", "customer", "delivered", "to", *p.columns):
        if p.bill.language != "en":
            p.words[name] = f"{own[name]} / {english[name]}"
    return letterhead(p)


def statement_look(p: Printer) -> str:
    """Everything in one grid, as from a spreadsheet; totals under their column."""
    columns = p.columns
    right = [name in NUMERIC for name in columns]
    wide = len(columns)
    facts = "".join(
        f"<tr><td colspan={wide // 2}>{e(a)}</td><td colspan={wide - wide // 2}>{e(b)}</td></tr>"
        for a, b in p.some_facts()
    )  # fmt: skip
    lines = "".join(row(each, right=right) for each in p.lines())
    ends = "".join(
        f"<tr><td colspan={wide - 1}>{e(label)}</td><td class=r>{e(value)}</td></tr>"
        for _, label, value in p.totals()
    )  # fmt: skip
    return sheet(p, f"""<table border=1 width=100%><tr><td colspan={wide}><b>{e(p.seller())}</b><br>{block(p.bill.seller[1:])}</td></tr>
      <tr><td colspan={wide}>{e(p.title())}</td></tr>{facts}<tr><td colspan={wide}>{e(p.words["to"])}: {e(", ".join(p.buyer()))}</td></tr>
      {row(p.heads(), "th", right)}{lines}{ends}</table><p>{block(p.remarks())}</p>{foot(p)}""")  # fmt: skip


def leaders(p: Printer) -> str:
    """Dots lead from the labels of the totals to their amounts; centred head."""
    ends = "".join(
        f"<div class=lead><span>{e(a)}</span><i>{'.' * 40}</i><span>{e(b)}</span></div>"
        for _, a, b in p.totals()
    )  # fmt: skip
    return sheet(p, f"""<center><h1>{e(p.title())}</h1>{e(p.seller())}<br>{block(p.bill.seller[1:])}</center>
      <p>{e(p.words["to"])}:<br>{block(p.buyer())}</p>{pairs(p.some_facts(), ":")}<br>{table(p, more=False)}<br>{ends}
      <p>{block(p.remarks())}</p><center><small>{foot(p)}</small></center>""",
      ".lead{display:flex;margin-left:40%}.lead i{flex:1;overflow:hidden;white-space:nowrap}th{border-bottom:1px dashed}")  # fmt: skip


def facts_right(p: Printer) -> str:
    """Seller's name in a footer only; facts flush right; ship-to beside bill-to."""
    facts = "".join(f"<div>{e(a)} <b>{e(b)}</b></div>" for a, b in p.some_facts())
    ship = p.chance.random() < 0.6
    to = f"<td width=35%><b>{e(p.words['ship'])}</b><br>{block(p.bill.ship)}</td>" if ship else ""
    return sheet(p, f"""<div style="font-size:220%;letter-spacing:1px">{e(p.title())}</div><div class=r>{facts}</div><br>
      <table width=100%><tr><td width=35%><b>{e(p.words["to"])}</b><br>{block(p.buyer())}</td>{to}</tr></table><br>
      {table(p)}<hr>{sums(p)}<p style="clear:both">{block(p.remarks())}</p>
      <div style="position:fixed;bottom:0;width:100%;text-align:center;font-size:80%">{e(p.seller())} · {e(" · ".join(p.bill.seller[1:]))}<br>{foot(p)}</div>""",
      ".lines th{background:#ddd;text-align:left}.lines th.r{text-align:right}")  # fmt: skip


FAMILIES: dict[str, Family] = {
    each.__name__: each
    for each in (
        letterhead, band, letter, boxes, plain, side, two_storeys, tax_grid, carried, service,
        bilingual, statement_look, leaders, facts_right,
    )
}  # fmt: skip
"""For training and tuning."""
