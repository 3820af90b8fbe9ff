"""What till receipts print beside goods and totals: when, which till, who served; and taxes inside."""

from decimal import Decimal

from tools.grammar import around, vocabulary
from tools.grammar.blocks import Desk
from tools.grammar.sheet import Part

NUMBERS = "No|#|Bon|Nr.|Ticket|Receipt no.|Beleg|Trans|Chk|Check|Docket|Tab|Ticket n°|Receipt|Rcpt|Slip|Beleg-Nr|Quittung|Doc|Bill|Bonnr.|Kassenbon|Scontrino|Doc. n.|Reçu|Paragon nr|Kvitto|Kvittering|Bon-Nr.:|TXN|Order"
WHERE = "Table|Kasse|Till|Terminal|Pump|Store|Shop|Tisch|Caisse|Table n°|Kassa|Mesa|Cassa|Lane|Register|Stanowisko|Filiale|TID|Guests|Covers|Auth|Ref|Merchant|Zapfsäule|POS|Bed.|Op"
WHO = "Server:|Cashier|Served by|Bediener|Es bediente Sie|Kassierer|Caissier|Vendeur|Operatore|Kasjer|Le atendió|Medewerker|Clerk|Host"
INSIDE = ("incl.", "inkl.", "dont", "di cui", "of which", "heraf", "w tym", "incl", "darin", "enthalten", "waarvan", "IVA incl.", "varav")  # fmt: skip


def put_row(desk: Desk, left: float, right: float, y: float, first: list[Part], last: list[Part], *, large: float = 1.0) -> float:  # fmt: skip
    """Something at the left and something at the right, in one row where both fit. Returns the next."""
    used = desk.sheet.put(left, y, first, desk.size * large)
    need = sum(desk.sheet.wide(text + " ", desk.size * large) for text, _ in last)
    if used + need > right - left:
        y += desk.size * 1.25
    desk.sheet.put(right, y, last, desk.size * large, "r")
    return y + desk.size * 1.3 * large


def around_name(desk: Desk, x: float, y: float, how: str, wide: float) -> float:
    """Rows above or below a shop's name that are none of it."""
    for part in around.beside_name(desk.chance, desk.deal.language):
        for text in desk.sheet.fold(part[0], desk.size, wide)[:2]:
            desk.sheet.put(x, y, [(text, part[1])], desk.size, how)
            y += desk.size * 1.3
    return y


def _elsewhere(desk: Desk) -> list[Part]:
    """A count of the shop's own: which till, table or terminal, or who served."""
    chance = desk.chance
    if chance.random() < 0.25:
        who = vocabulary.first(chance, desk.deal.language)
        return [(chance.choice(WHO.split("|")), "label.other"), (who, "other.party")]
    count = chance.randrange(1, chance.choice([10, 10, 100, 1000, 999_999]))
    text = f"{count:0{chance.choice([1, 1, 2, 3, 4])}d}"
    return [(desk.label(chance.choice(WHERE.split("|"))), "label.other"), (text, "other.id")]


def facts(desk: Desk, left: float, right: float, y: float) -> float:
    """Day, time and number of a receipt among counts of the shop's own."""
    made, chance = desk.deal, desk.chance
    if "issue_date" in made.truth:
        return y
    day: Part = (made.date(made.days["issued"]), "issue_date")
    desk.tell("issue_date", made.days["issued"].isoformat())
    mark = chance.choice([":", ":", ":", "h", "."])
    time: Part = (f"{chance.randrange(6, 22):02d}{mark}{chance.randrange(60):02d}", "text")
    number: list[Part] = []
    if chance.random() < 0.7:
        if chance.random() < 0.5:
            count = chance.randrange(1, chance.choice([500, 10_000, 999_999]))
            made.facts["number"] = f"{count:0{chance.choice([1, 4, 5, 6])}d}"
        label = chance.choice([*NUMBERS.split("|"), made.speech.say("number")])
        number = [(label, "label.number"), (made.facts["number"], "number")]
        desk.tell("number", made.facts["number"])
    when: list[Part] = [day, time] if chance.random() < 0.8 else [day]
    if chance.random() < 0.3:
        when.insert(0, (desk.label(made.speech.say("issued")), "label.issue_date"))
    others = [_elsewhere(desk) for _ in range(chance.choices([0, 1, 2, 3], [5, 3, 2, 1])[0])]
    cells: list[list[Part]] = [when, *([number] if number else []), *others]
    if chance.random() < 0.5:
        chance.shuffle(cells)
    many = chance.choice([1, 2, 2, 3])
    for at in range(0, len(cells), many):
        group = cells[at : at + many]
        between = [part for cell in group[:-1] for part in cell]
        y = put_row(desk, left, right, y, between or group[-1], group[-1] if between else [])
    return y


def taxes(desk: Desk, left: float, right: float, y: float) -> float:
    """The tax that prices include, by rate, in one of the ways of tills."""
    made, chance, speech = desk.deal, desk.chance, desk.deal.speech
    several = len(made.taxes) > 1
    base_tag, tag = ("tax.base", "tax.amount") if several else ("net_total", "tax_total")
    way = chance.choice(["sum", "pair", "inside", "inside", "words", "words", "heads"])
    letters = chance.random() < 0.4
    gross_too = chance.random() < 0.4
    if way == "heads":
        heads: list[Part] = [(speech.say("c_rate"), "header.tax_rate")]
        heads.append((speech.say("base"), "header.other"))
        last: list[Part] = [(speech.say("tax_sum"), "header.other")]
        if gross_too:
            last.append((speech.say("gross"), "header.other"))
        y = put_row(desk, left, right, y, heads, last)
    for at, (rate, base, tax) in enumerate(made.taxes):
        whole = Decimal(rate) == int(Decimal(rate))
        places = chance.choice([0, 2]) if whole else 1
        shown: Part = (made.number(Decimal(rate), places) + chance.choice(["%", "%", " %"]), "tax.rate")  # fmt: skip
        ahead: list[Part] = [("ABCDEF"[at % 6], "text")] if letters else []
        net: Part = (made.number(base), base_tag)
        part: Part = (made.number(tax), tag)
        named: Part = (speech.say("tax_sum").split(" / ")[0], "label.tax_total")
        if way == "sum":
            y = put_row(desk, left, right, y, [named, shown], [part])
        elif way == "inside":
            y = put_row(desk, left, right, y, [(chance.choice(INSIDE), "text"), named, shown], [part])  # fmt: skip
        elif way == "words":
            base_named: Part = (speech.say("base"), "label.net_total")
            row = [*ahead, shown, base_named, net, named, part]
            y = put_row(desk, left, right, y, row[:-2], row[-2:])
        else:
            end = [part, (made.number(base + tax), "other.money")] if gross_too else [part]
            y = put_row(desk, left, right, y, [*ahead, shown, net], end)
        if not several:
            desk.tell("tax_total", str(tax))
            if way not in ("sum", "inside"):
                desk.tell("net_total", str(base))
    return y
