"""The upper part of a page: letterhead, mark, brand, title; who sells, who buys, and facts."""

from collections.abc import Sequence

from tools.grammar import blocks, parties, vocabulary
from tools.grammar.blocks import Desk, Fact
from tools.grammar.deal import TOLD_BY_TITLE
from tools.grammar.people import word
from tools.grammar.sheet import Part


def head(
    desk: Desk,
    left: float,
    right: float,
    place: str,
    seller: Sequence[Sequence[Part]],
    numbers: Sequence[Sequence[Part]],
    used: list[str],
) -> float:
    """Letterhead and, most often, the title. Returns where the next thing may stand."""
    chance, sheet, size, made = desk.chance, desk.sheet, desk.size, desk.deal
    y = chance.choice([40.0, 50.0, 70.0])
    if place == "head":
        how = chance.choice(["l", "l", "c", "r"])
        x = {"l": left, "c": (left + right) / 2, "r": right}[how]
        y = _emblem(desk, left, right, y, how)
        rows = [*seller, *(numbers if chance.random() < 0.5 else [])]
        while all(not tag.endswith(".name") for _, tag in rows[0]):
            # What stands above the name is as large as the rest, or larger than the name.
            y += _above_name(desk, x, y, rows.pop(0), how, right - left)
        grow = chance.choice([1.0, 1.4, 1.8, 2.2])
        first = " ".join(text for text, _ in rows[0])
        while grow > 1 and sheet.wide(first, size * grow, bold=True) > (right - left) * 0.95:
            grow -= 0.4
        kind = chance.choice(["stack", "stack", "stack", "line", "line", "run"])
        used.append(f"head {how} {kind}")
        if kind == "run":
            end = blocks.joined(
                desk, left, y, right - left, rows, size * 0.95, "c" if how == "c" else "l"
            )
        elif kind == "stack":
            end = blocks.stacked(desk, x, y, rows, how, grow=grow)
        else:
            sheet.put(x, y, rows[0], size * grow, how, bold=True)
            end = (
                blocks.joined(
                    desk,
                    left,
                    y + size * 1.6,
                    right - left,
                    rows[1:],
                    size * 0.85,
                    "c" if how == "c" else "l",
                )
                if rows[1:]
                else y + size * 2
            )
        title_beside = how != "c" and chance.random() < 0.45
        if title_beside:
            used.append("title beside")
            large = size * chance.choice([1.4, 2.0, 2.6])
            text = made.speech.title(made.kind)
            widest = (
                max(
                    sum(
                        sheet.wide(t + " ", size * (grow if not at else 1), bold=not at)
                        for t, _ in row
                    )
                    for at, row in enumerate(rows)
                )
                if kind == "stack"
                else right - left
            )
            if widest + sheet.wide(text, large, bold=True) + 10 < right - left:
                sheet.put(
                    right if how == "l" else left,
                    y + 4,
                    [(text, "title")],
                    large,
                    "r" if how == "l" else "l",
                    bold=True,
                )
                return end + size
        y = end
    elif chance.random() < 0.25:
        y = _brand(desk, left, right, y)
    elif chance.random() < 0.5:
        sheet.put(
            left,
            y,
            [(word(chance, made.language) + " " + made.speech.sentence(), "text")],
            size * 0.8,
        )
        y += size * 2
    y += size * chance.choice([1, 2])
    if chance.random() < 0.93 or made.kind in TOLD_BY_TITLE:
        used.append("title")
        how, x = chance.choice([("l", left), ("c", (left + right) / 2), ("r", right)])
        large = size * chance.choice([1.0, 1.3, 1.7, 2.2])
        title = made.speech.title(made.kind)
        if chance.random() < 0.05 and len(title) < 16:
            title = " ".join(title.upper().replace(" ", ""))
        parts: list[Part] = [(title, "title")]
        if made.kind in ("invoice", "credit note", "pro forma") and chance.random() < 0.25:
            parts += [
                (
                    chance.choice(["", "", "no.", "Nr.", "n°", "#", ":", "Nº:", "n."]),
                    "label.number",
                ),
                (made.facts["number"], "number"),
            ]
            desk.tell("number", made.facts["number"])
            if chance.random() < 0.35:
                parts += [
                    (chance.choice(["/", "vom", "du", "del", "of", "dated", "van", "-", "z dnia", "de", "den", "|"]), "label.issue_date"),
                    (made.date(made.days["issued"]), "issue_date"),
                ]  # fmt: skip
                desk.tell("issue_date", made.days["issued"].isoformat())
            large = min(large, size * 1.3)
        desk.sheet.put(
            x,
            y + large * 0.4,
            [each for each in parts if each[0]],
            large,
            how,
            bold=chance.random() < 0.7,
        )
        y += large * 1.9
    return y


def _brand(desk: Desk, left: float, right: float, y: float) -> float:
    """A short name large above; the whole name stands where the address does."""
    chance, name = desk.chance, desk.deal.seller.name
    words = name.split()
    text = " ".join(words[: max(1, len(words) - chance.choice([1, 1, 2]))])
    if text == name:
        text = word(chance, desk.deal.language)
    text = chance.choice([text, text.upper(), text.lower()])
    large = desk.size * chance.choice([1.6, 2.2, 2.8])
    how, x = chance.choice([("l", left), ("c", (left + right) / 2), ("r", right)])
    while large > desk.size and desk.sheet.wide(text, large, bold=True) > (right - left) * 0.9:
        large *= 0.9
    desk.sheet.put(x, y + large * 0.3, [(text, "text")], large, how, bold=True)
    return y + large * 1.6


def _above_name(
    desk: Desk, x: float, y: float, row: Sequence[Part], how: str, wide: float
) -> float:
    """A row above the name; how much room it took."""
    large = desk.size * desk.chance.choice([0.8, 0.9, 1.0, 1.0, 1.4, 2.0])
    while sum(desk.sheet.wide(text + " ", large) for text, _ in row) > wide * 0.95 and large > 4:
        large *= 0.85
    desk.sheet.put(x, y + large * 0.25, row, large, how, bold=large > desk.size)
    return large * 1.5


def _emblem(desk: Desk, left: float, right: float, y: float, how: str) -> float:
    """Letters of a mark, or a motto, above who sells."""
    chance, size = desk.chance, desk.size
    if chance.random() > 0.16:
        return y
    name = desk.deal.seller.name
    if chance.random() < 0.65:
        text = chance.choice(
            [name[0], name[0], "".join(word[0] for word in name.split()[:3]).upper()]
        )
        large = size * chance.choice([1.8, 2.6, 3.4])
    else:
        text = vocabulary.terms(
            chance, desk.deal.language, chance.choice([1, 2, 3, 4])
        ).capitalize()
        large = size * 0.9
    y += large * 0.6
    x = {"l": left, "c": (left + right) / 2, "r": right}[how]
    desk.sheet.put(x, y, [(text, "text")], large, how, bold=large > size)
    return y + size * 1.7


def people_and_facts(desk: Desk, left: float, right: float, y: float, place: str, seller: Sequence[Sequence[Part]], numbers: Sequence[Sequence[Part]],
                      found: list[Fact], used: list[str]) -> float:  # fmt: skip
    """Seller (when not above), buyer, receiver and facts, in columns or one below the other."""
    chance, made, size = desk.chance, desk.deal, desk.size
    groups: list[tuple[str, Sequence[Sequence[Part]]]] = []
    buyer = (
        parties.party_rows(desk, made.buyer, "buyer", full=False)
        if made.kind not in ("terms",) and chance.random() < 0.97
        else []
    )
    if place == "beside":
        rows = [*seller, *(numbers if chance.random() < 0.6 else [])]
        groups.append(("seller", rows))
    if buyer:
        groups.append(("buyer", buyer))
    if made.ship is not None:
        groups.append(("ship", parties.party_rows(desk, made.ship, "other", full=False)))
    if len(groups) > 1 and chance.random() < 0.3:
        chance.shuffle(groups)
    titled = chance.random() < (0.9 if place == "beside" else 0.5)
    wide = right - left
    forms = blocks.HELD_FACTS if made.held else blocks.FACTS
    form = chance.choice(forms)
    if not found:
        form = blocks.pairs
    used.append(form.__name__)
    people_first = chance.random() < 0.75
    beside = (
        form in (blocks.pairs, blocks.inline, blocks.flush, blocks.above, blocks.below)
        and wide > 330
        and len(groups) < 3
        and chance.random() < 0.6
    )

    def people(x: float, y: float, wide: float, *, level: bool) -> float:
        if not groups:
            return y
        step = wide / len(groups) if level else wide
        if level and step < 120:
            level, step = False, wide
        end, at = y, x
        how = "r" if not level and chance.random() < 0.07 else "l"
        untold = chance.random() < 0.4
        for role, rows in groups:
            put: list[Sequence[Part]] = list(rows)
            below = y
            run = role != "seller" and not level and chance.random() < 0.07
            # Who sells may stand without a heading beside a buyer who has one.
            silent = role == "seller" and level and untold
            if (titled or run) and not silent:
                text = (
                    made.speech.say({"seller": "from", "buyer": "to", "ship": "ship"}[role])
                    if role != "seller"
                    else _from(desk)
                )
                tag = {
                    "seller": "label.seller.name",
                    "buyer": "label.buyer.name",
                    "ship": "label.other.party",
                }[role]
                if chance.random() < 0.25 and not (
                    role == "seller" and put[0][0][1] != "seller.name"
                ):
                    put[0] = [(desk.label(text), tag), *put[0]]
                else:
                    put.insert(0, [(desk.label(text), tag)])
            if run:
                y = end = blocks.commas(desk, at, y, step, put) + size
                continue
            small = size
            if role == "buyer" and how == "l" and chance.random() < 0.15:
                line, tiny = parties.return_line(desk), size * chance.choice([0.6, 0.7, 0.8])
                if sum(desk.sheet.wide(t + " ", tiny) for t, _ in line) < step:
                    desk.sheet.put(at, y, line, tiny)
                    below = y + tiny * 1.6
                    used.append("return line")
            while (
                max(sum(desk.sheet.wide(t + " ", small) for t, _ in row) for row in put) > step - 6
                and small > 5
            ):
                small *= 0.9
            bottom = blocks.stacked(
                desk, at + (step if how == "r" else 0), below, put, how, size=small
            )
            end = max(end, bottom)
            if level:
                at += step
            else:
                y = bottom + size
        return end

    level = len(groups) > 1 and chance.random() < 0.7
    if beside:
        used.append("facts beside")
        share = chance.choice([0.5, 0.55, 0.6])
        mirrored = chance.random() < 0.25
        one = people(
            left + (wide * (1 - share) if mirrored else 0),
            y,
            wide * share - 14,
            level=level and wide > 480,
        )
        two = form(
            desk,
            left if mirrored else left + wide * share,
            y + chance.choice([0, size, size * 2]),
            wide * (1 - share) - (14 if mirrored else 0),
            found,
        )
        return max(one, two) + size * 1.5
    if people_first:
        y = people(left, y, wide, level=level) + size
        return (
            form(
                desk,
                left,
                y,
                wide * chance.choice([1, 0.6]) if form is not blocks.run else wide,
                found,
            )
            + size
        )
    y = form(desk, left, y, wide, found) + size * 1.2
    return people(left, y, wide, level=level) + size * 1.5


def _from(desk: Desk) -> str:
    words = {"en": "From|Seller|Supplier|Vendor|Payee", "de": "Von|Absender|Lieferant|Aussteller", "fr": "De|Vendeur|Fournisseur|Émetteur", "es": "Emisor|Vendedor|Proveedor", "it": "Fornitore|Cedente|Emittente",
             "nl": "Van|Leverancier", "pl": "Sprzedawca|Wystawca", "pt": "Fornecedor|Emitente", "sv": "Från|Säljare", "cs": "Dodavatel|Prodávající", "hu": "Eladó|Szállító", "ro": "Furnizor|Vânzător", "da": "Fra|Leverandør", "no": "Fra|Selger", "fi": "Myyjä|Toimittaja"}  # fmt: skip
    return desk.chance.choice(words[desk.deal.language].split("|"))
