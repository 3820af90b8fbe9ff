"""Documents without a design: a few words on paper, a mail's own text, a sheet of cells."""

from collections.abc import Callable, Sequence

from tools.grammar import blocks, parties, sums, tables, untabled
from tools.grammar.blocks import Desk
from tools.grammar.deal import TOLD_BY_TITLE, Deal
from tools.grammar.people import person, word
from tools.grammar.sheet import Part, Sheet

Row = list[Part]
GREETINGS = {
    "en": ("Dear {}|Hello {}|Hi {}|Dear Sir or Madam", "Kind regards|Regards|Yours faithfully|Best wishes|Thanks"),
    "de": ("Sehr geehrte Damen und Herren|Guten Tag {}|Hallo {}|Liebe Frau {}", "Mit freundlichen Grüßen|Viele Grüße|Beste Grüße"),
    "fr": ("Bonjour {}|Madame, Monsieur|Cher Monsieur {}", "Cordialement|Bien à vous|Sincères salutations"),
    "es": ("Estimados señores|Hola {}|Buenos días {}", "Un saludo|Atentamente"), "it": ("Gentile {}|Spett.le Ditta|Buongiorno", "Cordiali saluti|Distinti saluti"),
    "nl": ("Beste {}|Geachte heer {}|Goedendag", "Met vriendelijke groet|Groeten"), "pl": ("Szanowni Państwo|Dzień dobry", "Z poważaniem|Pozdrawiam"),
    "pt": ("Exmos. Senhores|Bom dia {}", "Com os melhores cumprimentos|Obrigado"), "sv": ("Hej {}|Hej", "Med vänlig hälsning|Hälsningar"),
    "da": ("Hej {}|Kære {}", "Med venlig hilsen"), "no": ("Hei {}|Hei", "Vennlig hilsen"), "fi": ("Hei {}", "Ystävällisin terveisin"),
    "cs": ("Dobrý den|Vážený pane {}", "S pozdravem"), "hu": ("Tisztelt {}|Jó napot", "Üdvözlettel"), "ro": ("Bună ziua|Stimate domn {}", "Cu stimă"),
}  # fmt: skip
"""How letters begin and end, by language."""


def greeting(desk: Desk, *, last: bool = False) -> str:
    """The first words of a letter, or the last."""
    text = desk.chance.choice(GREETINGS[desk.deal.language][last].split("|"))
    return text.replace("{}", word(desk.chance, desk.deal.language)).strip() + desk.chance.choice(
        [",", ",", "", "!"]
    )


def _greeted(desk: Desk) -> Row:
    """The first words of a mail, sometimes to the house that buys."""
    text, chance = greeting(desk), desk.chance
    opening = GREETINGS[desk.deal.language][0].split("|")[-1].partition("{}")[0].strip()
    if not opening or chance.random() > 0.25:
        return [(text, "text")]
    desk.tell("buyer.name", desk.deal.buyer.name)
    return [(opening, "text"), (desk.deal.buyer.name + chance.choice([",", ",", "", "!"]), "buyer.name")]  # fmt: skip


def _sums(desk: Desk) -> list[sums.Sum]:
    if desk.deal.kind in ("delivery note", "statement", "reminder", "terms", "other"):
        return []
    desk.apart = False
    found = sums.sums(desk)
    sums.told(desk, found)
    return found


def _people(desk: Desk, share: float) -> tuple[list[Row], list[Row]]:
    """Rows of seller and buyer, as many as this supplier writes."""
    deal, chance = desk.deal, desk.chance
    seller = [list(row) for row in parties.party_rows(desk, deal.seller, "seller", full=False)]
    if chance.random() < share:
        seller = _name_rows(seller, "seller.name")
    if chance.random() < 0.6:
        seller += [list(row) for row in parties.seller_numbers(desk)]
    if chance.random() < share:
        return seller, []
    buyer = [list(row) for row in parties.party_rows(desk, deal.buyer, "buyer", full=False)]
    most = chance.choice([1, 2, 9])
    named = max((at for at, row in enumerate(buyer) if _names(row, "buyer.name")), default=0)
    return seller, buyer[: max(most, named + 1)]


def _names(row: Row, tag: str) -> bool:
    return any(each == tag for _, each in row)


def _name_rows(rows: Sequence[Row], tag: str) -> list[Row]:
    """The rows of the first name, which may be broken; a second below it is left out."""
    named = [at for at, row in enumerate(rows) if _names(row, tag)]
    whole = [at for step, at in enumerate(named) if at == named[0] + step]
    return [rows[at] for at in whole]


def _facts(desk: Desk, most: int) -> list[blocks.Fact]:
    if desk.deal.kind in ("terms", "other"):
        return []
    found = blocks.facts(desk)
    kept = [each for each in found if each[3] in ("number", "issue_date")]
    kept += [each for each in found if each not in kept][: desk.chance.randrange(most + 1)]
    told = {each[3] for each in kept}
    for name in ("order_number", "delivery_note", "preceding_number", "due_date", "delivery_date", "buyer.tax_id"):  # fmt: skip
        if name not in told:
            desk.deal.truth.pop(name, None)
    return kept


def _labelled(desk: Desk, fact: blocks.Fact) -> Row:
    label, label_tag, value, tag = fact
    return [(desk.label(label), label_tag), (value, tag)]


def brief(made: Deal) -> tuple[Sheet, str]:
    """Hardly more than who, what number and how much, one below the other."""
    chance = made.chance
    sheet = Sheet(595, 842, chance.choice(["sans", "serif", "mono", "open"]))
    desk = Desk(deal=made, sheet=sheet, size=chance.choice([9.0, 10.0, 11.0, 12.0]))
    made.items = made.items[: chance.choice([1, 1, 2, 3])]
    _again(made)
    seller, buyer = _people(desk, 0.6)
    groups: list[list[Row]] = [seller] if chance.random() < 0.85 else []
    if not groups:
        _forget(made, ("seller.name", "seller.tax_id", "account"))
    title: Row = [(made.speech.title(made.kind), "title")]
    facts = [_labelled(desk, each) for each in _facts(desk, 3)]
    if facts and chance.random() < 0.3 and made.kind in ("invoice", "credit note"):
        facts = [title + facts[0], *facts[1:]]
    elif chance.random() < 0.85 or made.kind in TOLD_BY_TITLE:
        groups.insert(chance.randrange(len(groups) + 1), [title])
    groups += [buyer, facts]
    if made.kind in ("statement", "reminder", "terms", "other"):
        groups.append([[(made.speech.sentence(), "text")] for _ in range(chance.randrange(1, 6))])
    y = 60.0
    pitch = desk.size * chance.choice([1.3, 1.6, 2.2])
    for rows in groups:
        for row in rows:
            sheet.put(50, y, row, desk.size)
            y += pitch
        y += desk.size * chance.choice([0, 1])
    way = "no lines"
    if chance.random() < 0.45 and made.kind not in ("statement", "reminder", "terms", "other"):
        form = chance.choice([untabled.told, tables.bare, tables.ruled])
        way = form.__name__
        y = form(desk, 50, y, chance.choice([300.0, 495.0])) + desk.size
    for label, label_tag, value, tag in _sums(desk):
        parts = [
            *sums.label_parts(desk.label(label), label_tag),
            *sums.money_parts(desk, value, tag),
        ]
        sheet.put(50, y, parts, desk.size)
        y += pitch
    return sheet, f"brief {way}"


def _again(made: Deal) -> None:
    """Sums of the lines that are left."""
    from tools.grammar.deal import _sums as summed

    made.sums.clear()
    made.taxes.clear()
    summed(made)


def _forget(made: Deal, names: Sequence[str]) -> None:
    for name in names:
        made.truth.pop(name, None)


def mail(made: Deal) -> tuple[Sheet, str]:
    """A mail's own words: greeting, facts, lines, sums, and who writes at its end."""
    chance = made.chance
    sheet = Sheet(595, 842, chance.choice(["mono", "mono", "wide", "sans"]))
    desk = Desk(deal=made, sheet=sheet, size=8.2 if "Mono" in sheet.fonts[0] else 10.0, foot=60)
    left, wide = 42.5, 510.0
    y = 60.0
    seller, buyer = _people(desk, 0.4)

    def say(rows: Sequence[Row], y: float) -> float:
        for row in rows:
            words = [(word, tag) for text, tag in row for word in text.split()]
            y = blocks.wrapped(desk, left, y, wide, words, desk.size)
        return y

    if chance.random() < 0.2:
        y = say(seller, y) + desk.size
        seller = _name_rows(seller, "seller.name")
    if chance.random() < 0.75:
        y = say([_greeted(desk)], y) + desk.size * 0.6
    for _ in range(chance.choice([0, 1, 2])):
        y = say([[(made.speech.sentence(), "text")]], y)
    found = _facts(desk, 5)
    if chance.random() < 0.5 or made.kind in TOLD_BY_TITLE:
        y = say([[(made.speech.title(made.kind), "title")]], y)
    if found and chance.random() < 0.25:
        y = blocks.sentence(desk, left, y, wide, found)
    else:
        form = chance.choice([blocks.pairs, blocks.inline, blocks.inline])
        y = form(desk, left, y, min(wide, 330), found)
    if buyer and chance.random() < 0.8:
        if chance.random() < 0.6:
            buyer.insert(0, [(desk.label(made.speech.say("to")), "label.buyer.name")])
        y = say(buyer, y + desk.size)
    else:
        _forget(
            made,
            (
                *(["buyer.name"] if all(w.tag != "buyer.name" for w in sheet.words) else []),
                *(["buyer.tax_id"] if all(f[3] != "buyer.tax_id" for f in found) else []),
            ),
        )
    y += desk.size
    way = "letter"
    if made.kind in ("statement", "reminder", "terms", "other"):
        for _ in range(chance.randrange(2, 9)):
            y = say([[(made.speech.sentence(), "text")]], y)
    else:
        form = chance.choice(
            [untabled.told, untabled.told, tables.ruled, tables.bare, untabled.cards, _listed]
        )
        way = form.__name__
        y = form(desk, left, y, chance.choice([380.0, wide])) + desk.size
        y = _below(desk, left, y, wide)
    y = say([[(greeting(desk, last=True), "text")]], y + desk.size)
    if chance.random() < 0.5:
        y = say([[(person(chance, made.language), "other.party")]], y)
    say(seller, y)
    return sheet, f"mail {way}"


def _listed(desk: Desk, x: float, y: float, wide: float) -> float:
    """Lines with marks between their cells, as somebody types them."""
    desk.unit_in_quantity = desk.chance.random() < 0.2
    shown = tables.columns(desk)
    mark = desk.chance.choice([";", "|", "/", "-", ","])
    for at, item in enumerate(desk.deal.items):
        parts: Row = [("-", "text")] if desk.chance.random() < 0.3 else []
        for index, name in enumerate(shown):
            cell = tables.cell(desk, item, name, at, 1)
            if index and cell:
                parts.append((mark, "text"))
            parts += cell
        if y > desk.sheet.height - desk.foot:
            y = desk.go_on()
        y = blocks.wrapped(
            desk, x, y, wide, [(w, t) for text, t in parts for w in text.split()], desk.size
        )
        tables.tell_line(desk, item, shown)
    return y


def _below(desk: Desk, x: float, y: float, wide: float) -> float:
    found = _sums(desk)
    if not found:
        return y
    if y > desk.sheet.height - 160:
        y = desk.go_on()
    way = desk.chance.randrange(4)
    if way == 0:
        return sums.prose(desk, x, y, wide, found)
    if way == 1:
        return sums.leaders(desk, x, y, wide * 0.7, found)
    reach = max(desk.sheet.wide(desk.label(label) + " ", desk.size) for label, *_ in found)
    for label, label_tag, value, tag in found:
        parts = sums.label_parts(desk.label(label), label_tag)
        if way == 2:
            desk.sheet.put(x, y, [*parts, *sums.money_parts(desk, value, tag)], desk.size)
        else:
            desk.sheet.put(x, y, parts, desk.size)
            desk.sheet.put(x + reach + 60, y, sums.money_parts(desk, value, tag), desk.size, "r")
        y += desk.size * 1.35
    return y


def cells(made: Deal) -> tuple[Sheet, str]:
    """A sheet of cells: every column as wide as its widest cell, labels beside or above values."""
    chance = made.chance
    sheet = Sheet(1400, 842, chance.choice(["wide", "wide", "sans"]))
    desk = Desk(deal=made, sheet=sheet, size=chance.choice([8.0, 10.0]))
    if chance.random() < 0.35:
        made.bare = "cents"
    desk.unit_in_quantity = False
    shown = [*dict.fromkeys(tables.columns(desk))]
    grid: list[dict[int, Row]] = []
    if "price" in shown and made.base > 1:
        desk.base_apart = True
        shown.insert(shown.index("price") + 1, "base")
    last = max(len(shown) - 1, 1)
    seller, buyer = _people(desk, 0.3)
    if not buyer:
        _forget(made, ("buyer.name", "buyer.tax_id"))
    beside = len(shown) > 3 and chance.random() < 0.5
    found = _facts(desk, 6)
    if not buyer and all(each[3] != "buyer.tax_id" for each in found):
        _forget(made, ("buyer.tax_id",))
    facts: list[Row] = [_labelled(desk, each) for each in found]
    ahead: list[list[Row]] = [seller, buyer]
    if chance.random() < 0.85 or made.kind in TOLD_BY_TITLE:
        ahead.insert(chance.randrange(2), [[(made.speech.title(made.kind), "title")]])
    for rows in ahead:
        grid += [_apart(row, 0) for row in rows]
        if chance.random() < 0.5:
            grid.append({})
    if beside and facts:
        start = chance.randrange(max(1, len(grid) - 1))
        for at, row in enumerate(facts):
            while start + at >= len(grid):
                grid.append({})
            grid[start + at] |= _apart(row, last - 1)
    elif facts and chance.random() < 0.25:
        grid.append({at: [row[0]] for at, row in enumerate(facts)})
        grid.append({at: [row[1]] for at, row in enumerate(facts)})
    else:
        grid += [_apart(row, 0) for row in facts]
    grid.append({})
    if made.kind not in ("statement", "reminder", "terms", "other"):
        grid.append({at: [(tables.head_of(desk, name), tables.HEAD.get(name, "header.other"))] for at, name in enumerate(shown)})  # fmt: skip
        for index, item in enumerate(made.items[:40]):
            grid.append({at: cell for at, name in enumerate(shown) if (cell := tables.cell(desk, item, name, index, 1))})  # fmt: skip
            tables.tell_line(desk, item, shown)
        made.items = made.items[:40]
    at = chance.choice([max(last - 1, 0), max(last - 1, 0), 0])
    for label, label_tag, value, tag in _sums(desk):
        place = last if at else 1
        grid.append({at: sums.label_parts(desk.label(label), label_tag), place: sums.money_parts(desk, value, tag)})  # fmt: skip
    return _put(desk, grid), "cells"


def _apart(row: Row, first: int) -> dict[int, Row]:
    """Label and value in two cells; a row without a label in one."""
    if len(row) > 1 and row[0][1].startswith("label."):
        return {first: row[:1], first + 1: row[1:]}
    return {first: row}


def _put(desk: Desk, grid: Sequence[dict[int, Row]]) -> Sheet:
    sheet, size, chance = desk.sheet, desk.size, desk.chance
    wide: dict[int, float] = {}
    spill = chance.random() < 0.4
    for row in grid:
        for at, parts in row.items():
            need = sum(sheet.wide(text + " ", size) for text, _ in parts)
            if spill and at == max(row) and parts[0][1] not in ("line.amount",):
                continue  # runs over into empty cells
            wide[at] = max(wide.get(at, 40.0), need + 9)
    starts, x = {}, 42.5
    for at in range(max(wide, default=0) + 2):
        starts[at] = x
        x += wide.get(at, 45.0)
    sheet.width = max(595.0, x + 300)
    right = chance.random() < 0.8
    y = 55.0
    for row in grid:
        for at, parts in row.items():
            number = parts[-1][0][-1:].isdigit() and not parts[-1][1].startswith(("label", "other", "seller", "buyer", "number", "line.d", "line.c"))  # fmt: skip
            if number and right and "date" not in parts[-1][1]:
                sheet.put(starts[at] + wide.get(at, 45.0) - 5, y, parts, size, "r")
            else:
                sheet.put(starts[at] + 4, y, parts, size)
        y += size * 1.55
    sheet.height = max(842.0, y + 60)
    return sheet


NOTES: tuple[Callable[[Deal], tuple[Sheet, str]], ...] = (brief, mail, cells)
