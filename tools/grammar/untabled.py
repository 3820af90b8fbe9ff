"""Lines without a table: in words, on cards of two rows, or told as a whole."""

from tools.grammar.blocks import Desk, wrapped
from tools.grammar.deal import cents
from tools.grammar.sheet import Part
from tools.grammar.sums import money_parts
from tools.grammar.tables import PER, bare, prepare, ruled, tell_line


def told(desk: Desk, x: float, y: float, wide: float) -> float:
    """A line of text with quantity and price inside, the amount at the end."""
    prepare(desk)
    deal, chance, size = desk.deal, desk.chance, desk.size
    way = chance.randrange(11)
    dots = chance.random() < 0.2
    far = chance.random() < 0.75
    per, costly = chance.random() < 0.15, chance.random() < 0.25
    day = deal.date(deal.days.get("date", deal.days["issued"]))
    for item in deal.items:
        if y > desk.sheet.height - desk.foot:
            y = desk.go_on()
        count, price = (
            (deal.quantity(item.quantity), "line.quantity"),
            (deal.price(item.price), "line.unit_price"),
        )
        times = (chance.choice(["x", "×", "à", "@", "*", "at"]), "line.other")
        if deal.base > 1:
            price = (f"{price[0]}/{deal.base}", price[1])
        elif per and PER.fullmatch(item.unit):
            price = (f"{price[0]}/{item.unit}", price[1])
        elif costly and item.price == cents(item.price):
            price = (deal.money(item.price).replace(" ", ""), price[1])
        name: Part = (item.text, "line.description")
        unit: Part = (item.unit, "line.unit")
        parts: list[Part] = [
            [name, count, times, price], [count, times, name, ("@", "line.other"), price], [count, unit, name, ("à", "line.other"), price], [name, ("(", "line.other"), ("\b" + count[0], count[1]), times, price, ("\b)", "line.other")],
            [count, name], [name], [count, unit, times, price, name],
            [name, count, unit, times, price], [(day, "line.other"), name, count, unit, times, price], [name, ("(", "line.other"), ("\b" + count[0], count[1]), unit, times, price, ("\b)", "line.other")],
            [(day, "line.other"), name],
        ][5 if item.flat else way]  # fmt: skip
        shown = [
            "amount",
            *(["quantity"] if way not in (5, 10) else []),
            *(["price"] if way not in (4, 5, 10) else []),
        ]
        amount = money_parts(
            desk,
            item.amount * (-1 if deal.kind == "credit note" and desk.negative else 1),
            "line.amount",
            line=True,
        )
        if far:
            used = desk.sheet.put(x, y, parts, size)
            need = desk.sheet.wide(" ".join(text for text, _ in amount), size)
            if used + need + 10 > wide:
                y += size * 1.25
            elif dots:
                count_of = int((wide - used - need - 2 * size) / desk.sheet.wide(".", size))
                if count_of > 3:
                    desk.sheet.put(x + used + size * 0.4, y, [("." * count_of, "text")], size)
            desk.sheet.put(x + wide, y, amount, size, "r")
        else:
            desk.sheet.put(
                x, y, [*parts, (chance.choice(["=", ":", "", "–"]), "line.other"), *amount], size
            )
        tell_line(desk, item, shown)
        y += size * chance.choice([1.3, 1.5, 1.9])
    return y


def cards(desk: Desk, x: float, y: float, wide: float) -> float:
    """Each line two rows: the name and its amount, below it quantity and price."""
    prepare(desk)
    deal, size = desk.deal, desk.size
    above = desk.chance.random() < 0.5
    indent = desk.chance.choice([0, 8, 16])
    times = desk.chance.choice(["x", "×", "à", "@"])
    for item in deal.items:
        if y > desk.sheet.height - desk.foot:
            y = desk.go_on()
        sign = -1 if deal.kind == "credit note" and desk.negative else 1
        amount = money_parts(desk, sign * item.amount, "line.amount", line=True)
        desk.sheet.put(x, y, [(item.text, "line.description")], size, bold=desk.bold_heads)
        if above:
            desk.sheet.put(x + wide, y, amount, size, "r")
        y += size * 1.25
        if item.flat:
            if not above:
                desk.sheet.put(x + wide, y - size * 1.25, amount, size, "r")
            tell_line(desk, item, ["amount"])
            y += size * 0.5
            continue
        parts: list[Part] = [
            (deal.quantity(item.quantity), "line.quantity"),
            (item.unit, "line.unit"),
            (times, "line.other"),
            (deal.price(item.price), "line.unit_price"),
        ]
        if deal.base > 1:
            parts += [(desk.base_sign, "line.other"), (str(deal.base), "line.price_base")]
        desk.sheet.put(x + indent, y, parts, size * desk.chance.choice([0.9, 1.0]))
        if not above:
            desk.sheet.put(x + wide, y, amount, size, "r")
        tell_line(desk, item, ["quantity", "price", "amount"])
        y += size * 1.7
    return y


def lump(desk: Desk, x: float, y: float, wide: float) -> float:
    """No table: what was done is told, and what it costs stands with the sums."""
    deal = desk.deal
    words: list[Part] = [
        (word, "line.description") for item in deal.items[:2] for word in item.text.split()
    ]
    words += [(word, "text") for word in deal.speech.sentence().split()]
    desk.chance.shuffle(words)
    return wrapped(desk, x, y, wide, words, desk.size)


TABLES = (ruled, ruled, ruled, ruled, ruled, ruled, ruled, bare, told, told, cards, lump)
HELD_TABLES = (ruled, ruled, bare, told, cards)
