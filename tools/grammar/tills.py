"""Till receipts: narrow paper, prices with tax inside."""

from dataclasses import replace
from decimal import Decimal

from tools.grammar import slips, vocabulary
from tools.grammar.blocks import Desk
from tools.grammar.deal import Deal, Item, cents
from tools.grammar.parties import seller_numbers
from tools.grammar.people import tax_shown
from tools.grammar.sheet import Part, Sheet
from tools.grammar.slips import put_row
from tools.grammar.speech import DUE
from tools.grammar.sums import money_parts


def till(made: Deal) -> tuple[Sheet, str]:
    """A receipt, sometimes on a large sheet."""
    chance = made.chance
    width = chance.choice([160.0, 200.0, 226.0, 226.0, 300.0])
    made.items = _with_reductions(made)
    goods = sum((item.amount for item in made.items), Decimal(0))
    made.sums = {"lines_total": goods, "gross": goods}
    if chance.random() < 0.1 and goods > 1:
        made.sums["allowances"] = (goods * chance.choice([2, 5, 10]) / 100).quantize(Decimal("0.01"))  # fmt: skip
        made.sums["gross"] = goods - made.sums["allowances"]
        made.items = [replace(item, rate=made.items[0].rate) for item in made.items]
    if chance.random() < 0.07:
        share = chance.choice([5, 10, 12, 15])
        made.sums["charges"] = (made.sums["gross"] * share / 100).quantize(Decimal("0.01"))
        made.sums["gross"] += made.sums["charges"]
    rates = sorted({item.rate for item in made.items})
    made.taxes = []
    for rate in rates:
        base = sum((item.amount for item in made.items if item.rate == rate), Decimal(0))
        base -= made.sums.get("allowances", Decimal(0))
        if rate == rates[0]:
            base += made.sums.get("charges", Decimal(0))
        tax = (base * Decimal(rate) / (100 + Decimal(rate))).quantize(Decimal("0.01"))
        made.taxes.append((rate, base - tax, tax))
    made.sums["tax"] = sum((each[2] for each in made.taxes), Decimal(0))
    made.sums["net"] = made.sums["gross"] - made.sums["tax"]
    size = width / chance.choice([24.0, 28.0, 32.0])
    sheet = Sheet(width, 400.0, chance.choice(["mono", "mono", "sans"]))
    desk = Desk(deal=made, sheet=sheet, size=size)
    left, right = width * 0.05, width * 0.95
    y = size * 3
    y = _top(desk, left, right, y)
    y = _items(desk, left, right, y)
    y = _total(desk, left, right, y)
    y = _end(desk, left, right, y)
    sheet.height = y + size * 4
    offset = 0.0
    if chance.random() < 0.12:  # copied on a sheet of usual size
        offset = (595 - width) / 2
        for word in sheet.words:
            word.left += offset
            word.right += offset
            word.top += 60
            word.bottom += 60
        sheet.width, sheet.height = 595, max(842, sheet.height + 80)
    return sheet, "till"


def _with_reductions(made: Deal) -> list[Item]:
    """At most twelve things, some with a row below them of what they were reduced by."""
    chance, found = made.chance, list[Item]()
    often = chance.choice([0, 0, 0, 0.3])
    weighed = chance.random() < 0.25
    for item in made.items[:12]:
        if chance.random() < 0.8:
            # Most of what tills sell is small change.
            count = Decimal(chance.choice([1, 1, 1, 1, 1, 2, 2, 3, 4, 6]))
            if weighed and chance.random() < 0.4:
                count = Decimal(chance.randrange(60, 4000)) / 1000
            price = Decimal(chance.randrange(30, chance.choice([600, 2000, 9000]))) / 100
            item = replace(item, quantity=count, price=price, discount=Decimal(0), amount=cents(count * price))  # fmt: skip
        found.append(item)
        if item.amount > 1 and chance.random() < often:
            off = -(item.amount * chance.choice([5, 10, 20, 33]) / 100).quantize(Decimal("0.01"))
            label = chance.choice(OFFS.split("|"))
            found.append(replace(item, text=label, amount=off, price=off, quantity=Decimal(1), flat=True))  # fmt: skip
    return found


def _top(desk: Desk, left: float, right: float, y: float) -> float:
    made, chance, size = desk.deal, desk.chance, desk.size
    middle = (left + right) / 2
    how, x = ("c", middle) if chance.random() < 0.75 else ("l", left)
    grow = chance.choice([1.0, 1.3, 1.7])
    while desk.sheet.wide(made.seller.name, size * grow, bold=True) > right - left and grow > 0.6:
        grow *= 0.9
    if chance.random() < 0.1:
        y = slips.around_name(desk, x, y, how, right - left)
    desk.sheet.put(x, y, [(made.seller.name, "seller.name")], size * grow, how, bold=grow > 1)
    desk.tell("seller.name", made.seller.name)
    y += size * 1.5 * max(1.0, grow)
    if chance.random() < 0.22:
        y = slips.around_name(desk, x, y, how, right - left)
    rows: list[list[Part]] = [[(text, "seller.address")] for text in made.seller.address]
    if chance.random() < 0.6:
        shown = tax_shown(chance, made.seller)
        rows.append(
            [
                (desk.label(made.speech.say("our_tax_id")), "label.seller.tax_id"),
                (shown, "seller.tax_id"),
            ]
        )
        desk.tell("seller.tax_id", shown)
    rows += [row for row in seller_numbers(desk) if row[-1][1] == "other.contact"]
    for row in rows:
        small = size
        while (
            sum(desk.sheet.wide(t + " ", small) for t, _ in row) > right - left
            and small > size * 0.5
        ):
            small *= 0.9
        desk.sheet.put(x, y, row, small, how)
        y += size * 1.25
    if chance.random() < 0.5:
        desk.sheet.put(x, y, [(made.speech.title("till receipt"), "title")], size, how, bold=True)
        y += size * 1.6
    if chance.random() < 0.5:
        y = slips.facts(desk, left, right, y)
    return y + size * 0.6


PER_WEIGHT = ("kg", "KG", "Kg", "l", "m", "lb", "100g")
SERVICE = "Service|Service charge|SERVICE 10%|Bediening|Coperto|Servizio|Bedienung|Bag charge|Delivery|Lieferung|Livraison|Cover charge"
OFFS = "Multibuy|Offer|Member price|Rabatt|Aktion|Remise|Promo|Oferta|Sconto|Korting|Rabat|Reduced|Deal saving|Coupon|Discount 10%"


def _items(desk: Desk, left: float, right: float, y: float) -> float:
    made, chance = desk.deal, desk.chance
    way = chance.randrange(7)
    letter = chance.choice(["", "", "", "A", "B", "*", "1", "V", "Z"])
    glued = letter.isalpha() and chance.random() < 0.4
    coded = chance.random() < 0.12
    upper = chance.random() < 0.35
    short = chance.choice([0, 0, 0, 14, 20])
    departments = chance.random() < 0.06
    for item in made.items:
        count, price = (
            (made.quantity(item.quantity), "line.quantity"),
            (made.price(item.price), "line.unit_price"),
        )
        times: Part = (chance.choice(["x", "@", "×", "à", "*", "X"]), "line.other")
        amount: list[Part] = money_parts(desk, item.amount, "line.amount", line=True)
        if glued:
            amount[-1] = (amount[-1][0] + letter, amount[-1][1])
        elif letter:
            amount.append((letter, "line.other"))
        text = item.text.upper() if upper else item.text
        text = text[:short].strip() if short else text
        if departments and chance.random() < 0.3:
            group = vocabulary.terms(chance, made.language, 1).upper()
            y = put_row(desk, left, right, y, [(group, "text")], [])
        said: list[Part] = [(text, "line.description")]
        if coded:
            said.insert(0, (item.code, "line.code"))
        one = item.quantity == 1 or item.flat
        shown = {"amount": str(item.amount)}
        counted = {"quantity": str(item.quantity), "unit_price": str(item.price)}
        if item.amount < 0 or (one and way in (0, 4, 5)):
            y = put_row(desk, left, right, y, said, amount)
        elif way in (0, 1):
            y = put_row(desk, left, right, y, said, [])
            y = put_row(desk, left + desk.size * 1.5, right, y, [count, times, price], amount)
            shown |= counted
        elif way == 2:
            y = put_row(desk, left, right, y, [count, *said], amount)
            shown |= {"quantity": str(item.quantity)}
        elif way == 3:
            y = put_row(desk, left, right, y, [count, *said, *([] if one else [price])], amount)
            shown |= {"quantity": str(item.quantity)} | (
                {} if one else {"unit_price": str(item.price)}
            )
        elif way == 4:
            # How many and at what price stand above what it is.
            y = put_row(desk, left, right, y, [count, times, price], [])
            y = put_row(desk, left, right, y, said, amount)
            shown |= counted
        elif way == 5:
            # As a scale prints it: so much, at so much for one of a unit.
            unit = chance.choice(PER_WEIGHT[:6])
            joined = chance.random() < 0.5
            weight: list[Part] = [count, (unit, "line.unit")]
            if joined:
                weight = [(count[0] + unit, "line.quantity")]
            per: Part = (f"/{unit}", "line.other")
            y = put_row(desk, left, right, y, said, [])
            y = put_row(desk, left + desk.size, right, y, [*weight, times, price, per], amount)
            shown |= counted
        else:
            # The amount beside what it is, how it came about below.
            y = put_row(desk, left, right, y, said, amount)
            if not one:
                y = put_row(desk, left + desk.size * 2, right, y, [count, times, price], [])
                shown |= counted
        made.lines.append(shown)
    return y


def _total(desk: Desk, left: float, right: float, y: float) -> float:
    made, chance, speech = desk.deal, desk.chance, desk.deal.speech
    if chance.random() < 0.4:
        desk.sheet.put(left, y, [(chance.choice(["-", "=", "."]) * 20, "text")], desk.size)
        y += desk.size * 1.4
    off = made.sums.get("allowances", Decimal(0))
    more = made.sums.get("charges", Decimal(0))
    if off or more or chance.random() < 0.25:
        goods = made.sums["gross"] + off - more
        y = put_row(
            desk,
            left,
            right,
            y,
            [(speech.say("lines_total"), "label.lines_total")],
            money_parts(desk, goods, "lines_total"),
        )
        desk.tell("lines_total", str(goods))
    if off:
        names = "Loyalty|Discount|Rabatt|Remise|Club|Coupon|Korting|Sconto|You save|Staff discount"
        y = put_row(
            desk,
            left,
            right,
            y,
            [(chance.choice(names.split("|")), "label.allowances")],
            [(made.number(-off), "allowances")],
        )
        desk.tell("allowances", str(off))
    if more:
        y = put_row(desk, left, right, y, [(chance.choice(SERVICE.split("|")), "label.charges")], [(made.number(more), "charges")])  # fmt: skip
        desk.tell("charges", str(more))
    words = {"de": "SUMME|Zu zahlen|TOTAL|Gesamt", "fr": "TOTAL|A PAYER|Total TTC", "es": "TOTAL|Total a pagar", "it": "TOTALE|TOTALE COMPLESSIVO", "nl": "TOTAAL|Te betalen", "pl": "SUMA PLN|RAZEM", "pt": "TOTAL", "sv": "TOTALT|Att betala|SUMMA",
             "da": "I ALT|TOTAL", "no": "SUM|Totalt", "fi": "YHTEENSÄ", "cs": "CELKEM|K úhradě", "hu": "ÖSSZESEN", "ro": "TOTAL"}.get(made.language, "TOTAL|Total|AMOUNT DUE|BALANCE|To pay|Sale total")  # fmt: skip
    label = chance.choice(words.split("|"))
    named = "amount_due" if DUE.search(label) else "gross_total"
    said: list[Part] = [(label, f"label.{named}")]
    if chance.random() < 0.2:
        pieces = chance.choice(["items", "Artikel", "articles", "pcs", "Pos.", "st"])
        many = str(len(made.items))
        if chance.random() < 0.5:
            said += [(f"({many}", "text"), (f"{pieces})", "text")]
        else:
            said += [(many, "text"), (pieces, "text")]
    y = put_row(
        desk,
        left,
        right,
        y,
        said,
        money_parts(desk, made.sums["gross"], named),
        large=chance.choice([1.0, 1.3]),
    )
    desk.tell(named, str(made.sums["gross"]))
    paid = chance.random()
    card = chance.choice(
        [
            "Card",
            "Debit",
            "Cash",
            "Karte",
            "Bar",
            "CB",
            "PIN",
            "Tarjeta",
            "Kort",
            "Espèces",
            "Contanti",
            "Karta",
        ]
    )
    if paid < 0.6:
        given = (
            made.sums["gross"]
            if paid < 0.4
            else (made.sums["gross"] / 10 + 1).quantize(Decimal(1)) * 10
        )
        y = put_row(
            desk, left, right, y, [(card, "label.other")], [(made.number(given), "other.money")]
        )
        if given != made.sums["gross"]:
            y = put_row(
                desk,
                left,
                right,
                y,
                [
                    (
                        chance.choice(["Change", "Rückgeld", "Rendu", "Cambio", "Resto", "Terug"]),
                        "label.other",
                    )
                ],
                [(made.number(given - made.sums["gross"]), "other.money")],
            )
    return y


def _end(desk: Desk, left: float, right: float, y: float) -> float:
    made, chance, speech = desk.deal, desk.chance, desk.deal.speech
    y += desk.size * 0.5
    if chance.random() < 0.75:
        y = slips.taxes(desk, left, right, y)
    if chance.random() < 0.8 or "issue_date" not in made.truth:
        y = slips.facts(desk, left, right, y)
    for _ in range(chance.randrange(3)):
        text = desk.sheet.fold(speech.sentence(), desk.size, right - left)
        for row in text:
            desk.sheet.put((left + right) / 2, y, [(row, "text")], desk.size, "c")
            y += desk.size * 1.25
    return y
