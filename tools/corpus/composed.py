"""Families put together from parts: each takes a head, a way to state facts, a table, totals and a foot.

The parts are written one by one; which a family takes is drawn by its number, once and for all.
"""

import random
from collections.abc import Callable, Sequence
from functools import partial

from tools.corpus.families import NUMERIC, Family, block, e, foot, row, sheet, table
from tools.corpus.printer import Printer

Part = Callable[[Printer], str]
Pairs = Sequence[tuple[str, str]]
COUNT = 56
"""Families."""


# -- who bills whom


def _seller(p: Printer, tag: str = "b") -> str:
    return f"<{tag}>{e(p.seller())}</{tag}><br>{block(p.bill.seller[1:])}"


def _buyer(p: Printer) -> str:
    return f"<small>{e(p.words['to'])}</small><br>{block(p.buyer())}"


def _shipped(p: Printer) -> str:
    return f"<small>{e(p.words['ship'])}</small><br>{block(p.bill.ship)}"


def head_left(p: Printer) -> str:
    """Seller left, title right, buyer below."""
    return f"""<table width=100%><tr><td>{_seller(p, "h3")}</td><td class=r><h1>{e(p.title())}</h1></td></tr></table>
      <p>{_buyer(p)}</p>"""


def head_logo(p: Printer) -> str:
    """A mark with initials instead of a name; the name in the small line above the address only."""
    first = e(p.bill.seller[0][:1])
    line = " - ".join((p.seller(), *p.bill.seller[1:]))
    return f"""<svg width=90 height=44><rect width=90 height=44 fill="#7a8f3c"/><text x=30 y=32 font-size=30 fill="#fff">{first}</text></svg>
      <div style="margin-top:12mm;font-size:7pt;text-decoration:underline">{e(line)}</div>{block(p.buyer())}<h2>{e(p.title())}</h2>"""


def head_centre(p: Printer) -> str:
    """All in the middle, a rule below."""
    return f"""<center>{_seller(p, "big")}<br>{e(p.bill.phone)}</center><hr><table width=100%><tr><td>{_buyer(p)}</td>
      <td class=r style="font-size:160%">{e(p.title())}</td></tr></table>"""


def head_three(p: Printer) -> str:
    """Seller, buyer and where it went, beside each other."""
    return f"""<h2>{e(p.title())}</h2><table width=100% border=1><tr><td width=33%>{_seller(p)}</td><td width=33%>{_buyer(p)}</td>
      <td>{_shipped(p)}</td></tr></table>"""


def head_buyer_first(p: Printer) -> str:
    """The buyer at the top left, the seller at the right with how to reach it."""
    more = "".join(f"<br>{e(a)}: {e(b)}" for a, b in p.facts("phone", "our_tax_id"))
    return f"""<table width=100%><tr><td width=60%><br><br>{_buyer(p)}</td><td style="font-size:85%">{_seller(p)}{more}</td></tr></table>
      <h1 style="font-weight:normal">{e(p.title())}</h1>"""


def head_named(p: Printer) -> str:
    """From and to as labelled fields, as on a form."""
    return f"""<div style="background:#e8e4dc;padding:3mm;font-size:150%">{e(p.title())}</div>
      <table width=100%><tr><td width=50%><i>{e(p.words["from"])}</i><br>{_seller(p)}</td><td><i>{e(p.words["to"])}</i><br>{block(p.buyer())}</td></tr></table>"""


def head_low(p: Printer) -> str:
    """Title and buyer; who bills stands at the foot."""
    p.low_seller = True
    return f"""<h1 class=r>{e(p.title())}</h1><p>{block(p.buyer())}</p>"""


def head_foot(p: Printer) -> str:
    """Title left, the buyer right in a frame; who bills is told at the foot alone."""
    p.low_seller = True
    return f"""<table width=100%><tr><td><span style="font-size:190%">{e(p.title())}</span></td>
      <td width=45% style="border:1px solid #888;padding:3mm">{_buyer(p)}</td></tr></table>"""


def head_line(p: Printer) -> str:
    """The seller in one line across the top."""
    return f"""<div style="border-bottom:1px solid;padding-bottom:2mm">{e(p.seller())} <small>{e(" | ".join(p.bill.seller[1:]))}</small></div>
      <p style="margin-top:14mm">{_buyer(p)}</p><b style="font-size:130%">{e(p.title())}</b>"""


# -- facts


def facts_pairs(p: Printer, found: Pairs) -> str:
    """Label and value in two columns."""
    end = p.chance.choice(["", ":", " :"])
    return "<table>" + "".join(f"<tr><td>{e(a)}{end}</td><td><b>{e(b)}</b></td></tr>" for a, b in found) + "</table>"  # fmt: skip


def facts_right(p: Printer, found: Pairs) -> str:
    """At the right, values flush."""
    rows = "".join(f"<tr><td>{e(a)}</td><td class=r>{e(b)}</td></tr>" for a, b in found)
    return f"<table align=right>{rows}</table><br style='clear:both'>"


def facts_heads(p: Printer, found: Pairs) -> str:
    """Labels as heads of cells."""
    half = (len(found) + 1) // 2 if len(found) > 4 else len(found)
    parts = [found[:half], found[half:]] if half < len(found) else [found]
    return "".join(
        f"<table width=100% border=1>{row([a for a, _ in part], 'th')}{row([b for _, b in part])}</table>"
        for part in parts
    )


def facts_four(p: Printer, found: Pairs) -> str:
    """Two pairs in a row."""
    cells = [f"<td class=k>{e(a)}:</td><td>{e(b)}</td>" for a, b in found]
    rows = "".join(f"<tr>{''.join(cells[at : at + 2])}</tr>" for at in range(0, len(cells), 2))
    return f"<table width=90%>{rows}</table>"


def facts_under(p: Printer, found: Pairs) -> str:
    """Small labels above their values, in a row that wraps."""
    return "<div>" + "".join(f"<div class=u><small>{e(a)}</small><br>{e(b)}</div>" for a, b in found) + "</div>"  # fmt: skip


def facts_below(p: Printer, found: Pairs) -> str:
    """Values on lines to be filled in, their labels small below."""
    return "<div>" + "".join(f"<div class=u><b>{e(b)}</b><hr><small>{e(a)}</small></div>" for a, b in found) + "</div>"  # fmt: skip


def facts_said(p: Printer, found: Pairs) -> str:
    """One after the other in a line or two."""
    gap = p.chance.choice([" &nbsp; ", ", ", " / ", " &ndash; ", "; ", " | ", " &middot; ", ". "])
    return f"<p>{gap.join(f'{e(a)} <b>{e(b)}</b>' for a, b in found)}</p>"


def facts_titled(p: Printer, found: Pairs) -> str:
    """The number without a label behind the title, the date on a line of its own; the rest listed."""
    (_, number), *rest = sorted(found, key=lambda each: each[1] != p.bill.number)
    named = "".join(f"<br>{e(a)}: {e(b)}" for a, b in rest)
    return f"<p style='font-size:125%'>{e(p.title())} {p.chance.choice(['', 'Nr. ', 'n. ', '# '])}{e(number)}</p><p>{named}</p>"


def facts_letter(p: Printer, found: Pairs) -> str:
    """As in a letter: the day stands alone at the right, with a town or without."""
    day = p.day(p.bill.issued)
    rest = [each for each in found if each[1] != day]
    town = p.chance.choice(["", "", f"{p.bill.seller[-1].split()[-1]}, "])
    named = p.chance.choice(["<br>", " &nbsp; ", "; "]).join(f"{e(a)}: {e(b)}" for a, b in rest)
    return f"<p class=r>{e(town + day)}</p><p>{named}</p>"


def facts_dotted(p: Printer, found: Pairs) -> str:
    """Dots from label to value."""
    return "".join(f"<div class=d><span>{e(a)}</span><i>{'.' * 60}</i><span>{e(b)}</span></div>" for a, b in found)  # fmt: skip


# -- lines


def lines_ruled(p: Printer) -> str:
    """All cells ruled."""
    return table(p, attributes="width=100% border=1")


def lines_bare(p: Printer) -> str:
    """No rules."""
    return table(p)


def lines_headless(p: Printer) -> str:
    """No header."""
    columns = p.columns
    right = [name in NUMERIC for name in columns]
    body = "".join(row(cells, right=right) for cells in p.lines(columns))
    return f"<hr><table width=100%>{body}</table><hr>"


def lines_grouped(p: Printer) -> str:
    """Headings between the lines."""
    columns = p.columns
    right = [name in NUMERIC for name in columns]
    body = ""
    for at, cells in enumerate(p.lines(columns)):
        if at % 4 == 0:
            named = e(p.chance.choice(p.groups()))
            body += f"<tr><td colspan={len(columns)}><b>{named}</b></td></tr>"
        body += row(cells, right=right)
    return f"<table width=100% class=z>{row(p.heads(columns), 'th', right)}{body}</table>"


def lines_below(p: Printer) -> str:
    """The description below its figures, over the whole width."""
    columns = [name for name in p.columns if name not in ("c_name", "c_code")]
    right = [name in NUMERIC for name in columns]
    body = ""
    for cells in p.lines([*columns, "c_name"]):
        body += row(cells[:-1], right=right)
        body += (
            f"<tr><td colspan={len(columns)} style='padding-bottom:8px'>{e(cells[-1])}</td></tr>"
        )
    return f"<table width=100% class=z>{row(p.heads(columns), 'th', right)}{body}</table>"


def lines_long(p: Printer) -> str:
    """Descriptions of several lines, with periods, serial numbers and remarks in them."""
    columns = p.columns
    right = [name in NUMERIC for name in columns]
    body = ""
    for cells in p.lines(columns):
        told = dict(zip(columns, cells, strict=True))
        more = p.chance.choice(["", f"S/N {p.chance.randrange(10**6)}", p.day(p.bill.delivered), "2 x 3 m", "EAN 4099900123457"])  # fmt: skip
        told["c_name"] += f"\n{more}"
        body += row([told[name] for name in columns], right=right)
    return f"<table width=100% class=z>{row(p.heads(columns), 'th', right)}{body}</table>"


def lines_united(p: Printer) -> str:
    """Quantity with its unit."""
    columns = ["c_name", "c_quantity", "c_unit", "c_price", "c_amount"]
    body = "".join(
        row([name, f"{quantity} {unit}", price, amount], right=[False, True, True, True])
        for name, quantity, unit, price, amount in p.lines(columns, code_in_name=True)
    )
    heads = p.heads(["c_name", "c_quantity", "c_price", "c_amount"])
    return f"<table width=100% class=z>{row(heads, 'th', [False, True, True, True])}{body}</table>"


def lines_priced(p: Printer) -> str:
    """The currency in every cell of money."""
    columns = p.columns
    right = [name in NUMERIC for name in columns]
    sign = p.sign()
    money = ("c_price", "c_amount")
    body = "".join(
        row([f"{cell} {sign}" if name in money else cell for name, cell in zip(columns, cells, strict=True)], right=right)
        for cells in p.lines(columns)
    )  # fmt: skip
    return f"<table width=100% class=z>{row(p.heads(columns), 'th', right)}{body}</table>"


def lines_amount_first(p: Printer) -> str:
    """Figures left, words right."""
    order = (
        "c_quantity",
        "c_unit",
        "c_code",
        "c_name",
        "c_id",
        "c_discount",
        "c_rate",
        "c_price",
        "c_amount",
    )
    return table(p, sorted(p.columns, key=order.index), "width=100% border=1")


# -- totals


def sums_right(p: Printer) -> str:
    """A small table at the right."""
    rows = "".join(
        f"<tr class={n}><td>{e(a)}</td><td class=r>{e(b)}</td></tr>" for n, a, b in p.totals()
    )
    return f"<table align=right>{rows}</table>"


def sums_left(p: Printer) -> str:
    """At the left, under the words."""
    rows = "".join(
        f"<tr class={n}><td>{e(a)}:</td><td class=r>{e(b)}</td></tr>" for n, a, b in p.totals()
    )
    return f"<table>{rows}</table>"


def sums_across(p: Printer) -> str:
    """In a row of cells, labels above."""
    found = p.totals()
    return f"<table width=100% border=1>{row([a for _, a, _ in found], 'th')}{row([b for *_, b in found], right=[True] * len(found))}</table>"


def sums_graded(p: Printer) -> str:
    """A table of tax rates at the left, the other totals at the right, what to pay in a box."""
    found = p.totals()
    taxes = "".join(
        row([f"{p.quantity(t.rate)}%", p.amount(t.base), p.amount(t.amount)], right=[True] * 3) for t in p.bill.taxes
    )  # fmt: skip
    rest = [each for each in found if each[0] != "tax" or len(p.bill.taxes) == 1]
    rows = "".join(f"<tr><td>{e(a)}</td><td class=r>{e(b)}</td></tr>" for _, a, b in rest[:-1])
    _, last, value = rest[-1]
    return f"""<table border=1 align=left>{row([p.words["c_rate"], p.words["net"], p.words["tax_sum"]], "th")}{taxes}</table>
      <table align=right>{rows}</table><br style="clear:both"><div style="border:2px solid;padding:3mm;margin-top:3mm;font-size:130%">{e(last)}
      <span style="float:right">{e(value)}</span></div>"""


def sums_said(p: Printer) -> str:
    """Line by line, label and amount with a colon."""
    return "".join(f"<p class=r style='margin:2px'>{e(a)}: {e(b)}</p>" for _, a, b in p.totals())


def sums_boxed(p: Printer) -> str:
    """Each in a box, the amount large below its label."""
    return "".join(
        f"<div class='u x'><small>{e(a)}</small><br><b>{e(b)}</b></div>" for _, a, b in p.totals()
    )


# -- feet


def foot_line(p: Printer) -> str:
    """One line of small print."""
    return f"<p style='clear:both'>{block(p.remarks())}</p><hr><small>{_low(p)}{foot(p)}</small>"


def foot_columns(p: Printer) -> str:
    """Three columns of small print."""
    found = p.facts("our_tax_id", "account", "phone")
    cells = "".join(f"<td>{e(a)}<br>{e(b)}</td>" for a, b in found)
    more = "<br>".join(f"{e(a)}: {e(b)}" for a, b in p.noise(2))
    return f"<p style='clear:both'><br>{block(p.remarks())}</p><table width=100% style='font-size:75%'><tr><td>{_low(p)}{more}</td>{cells}</tr></table>"


def foot_slip(p: Printer) -> str:
    """A slip to pay with below a dashed line: what is above, once more."""
    found = p.facts("account", "our_tax_id")
    again = "".join(f"<tr><td>{e(a)}</td><td>{e(b)}</td></tr>" for a, b in found)
    due = p.totals_again()
    return f"""<p style="clear:both">{block(p.remarks())}</p><div style="border-top:1px dashed;margin-top:8mm;font-size:90%">{_low(p)}
      <table>{again}<tr><td>{e(due[0])}</td><td>{e(due[1])}</td></tr></table></div>"""


def foot_noisy(p: Printer) -> str:
    """Register, bank, delivery terms: much that only looks like what is sought."""
    more = "".join(f"<td><small>{e(a)}</small><br>{e(b)}</td>" for a, b in p.noise(4))
    return f"""<p style="clear:both"><br>{block(p.remarks())}</p><table width=100% border=1 style="font-size:85%"><tr>{more}</tr></table>
      <div style="font-size:75%;text-align:center">{_low(p)}{foot(p)}</div>"""


def _low(p: Printer) -> str:
    stray = p.stray_day()
    return (f"<span style='font-size:80%'>{e(stray)}</span><br>" if stray else "") + _foot_of(p)


def _foot_of(p: Printer) -> str:
    if not p.low_seller:
        return ""
    gap = p.chance.choice([", ", " &middot; ", " | ", " - ", " &nbsp; ", "<br>"])
    side = p.chance.choice(["left", "center", "right"])
    name = p.chance.choice(["<b>{}</b>", "{}", "{}"]).format(e(p.seller()))
    return f"<div style='text-align:{side}'>{gap.join((name, *map(e, p.bill.seller[1:])))}</div>"


HEADS = (
    head_left,
    head_logo,
    head_centre,
    head_three,
    head_buyer_first,
    head_named,
    head_low,
    head_line,
    head_foot,
)
FACTS = (facts_pairs, facts_right, facts_heads, facts_four, facts_under, facts_below, facts_said,
         facts_titled, facts_dotted, facts_letter)  # fmt: skip
LINES = (lines_ruled, lines_bare, lines_headless, lines_grouped, lines_below, lines_long, lines_united,
         lines_priced, lines_amount_first)  # fmt: skip
SUMS = (sums_right, sums_left, sums_across, sums_graded, sums_said, sums_boxed)
FEET = (foot_line, foot_columns, foot_slip, foot_noisy)
CSS = (
    ".u{display:inline-block;min-width:30mm;margin:2mm 5mm 2mm 0;vertical-align:top}.x{border:1px solid #999;padding:2mm}"
    ".u hr{margin:0;border:0;border-top:1px solid #555}.d{display:flex;width:60%}.d i{flex:1;overflow:hidden;white-space:nowrap}"
    "th{text-align:left}th.r{text-align:right}.k{color:#666}big{font-size:170%}"
)
STYLES = (
    ".z th,.lines th{border-bottom:1px solid}", ".z td,.lines td{border-bottom:1px dotted #999}",
    ".z th,.lines th{background:#ddd}.z td,.lines td{padding:4px}", ".z th,.lines th{background:#333;color:#fff;-webkit-print-color-adjust:exact}",
    ".z tr:nth-child(even) td{background:#f1f1f1}", ".z td,.lines td{padding:6px 3px}", "",
)  # fmt: skip


def composed(number: int, p: Printer) -> str:
    """The page of a family."""
    chance = random.Random(f"composed {number}")
    head, facts, lines = (
        HEADS[number % len(HEADS)],
        FACTS[(number * 7) % len(FACTS)],
        LINES[(number * 5 + number // 9) % len(LINES)],
    )
    sums, ends = SUMS[(number + number // 6) % len(SUMS)], chance.choice(FEET)
    found = p.some_facts()
    noise = p.noise(chance.choice([0, 1, 2, 3]))
    for each in noise:
        found.insert(p.chance.randrange(len(found) + 1), each)
    parts = [head(p), facts(p, found)]
    if chance.random() < 0.12:
        parts.reverse()
    style = CSS + chance.choice(STYLES)
    paper = chance.choice(["A4", "A4", "A4", "letter", "A4 landscape"])
    return sheet(p, f"{parts[0]}{parts[1]}<br>{lines(p)}<br>{sums(p)}{ends(p)}", style, paper)


FAMILIES: dict[str, Family] = {f"composed_{n:02d}": partial(composed, n) for n in range(COUNT)}
