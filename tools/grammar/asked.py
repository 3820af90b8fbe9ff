"""What a page asks for beside its sums: debts, terms, a call to pay, a slip."""

from collections.abc import Sequence
from datetime import timedelta
from decimal import Decimal

from tools.grammar import blocks, sums
from tools.grammar.blocks import Desk
from tools.grammar.notes import greeting
from tools.grammar.sheet import Part

OVERDUE = {
    "en": ("Our invoice|{id}|of|{day}|for|{money}|is still unpaid.", "We have not received payment of|{money}|for invoice|{id}|dated|{day}|."),
    "de": ("Unsere Rechnung|{id}|vom|{day}|über|{money}|ist noch offen.", "Leider konnten wir für die Rechnung|{id}|vom|{day}|über|{money}|noch keinen Eingang feststellen."),
    "fr": ("Notre facture|{id}|du|{day}|d'un montant de|{money}|reste impayée.",), "es": ("Nuestra factura|{id}|de|{day}|por|{money}|sigue pendiente.",), "it": ("La nostra fattura|{id}|del|{day}|di|{money}|risulta non pagata.",),
    "nl": ("Onze factuur|{id}|van|{day}|ten bedrage van|{money}|is nog niet voldaan.",), "pl": ("Faktura|{id}|z dnia|{day}|na kwotę|{money}|nie została opłacona.",), "sv": ("Vår faktura|{id}|av den|{day}|på|{money}|är obetald.",),
}  # fmt: skip
FEES = {"en": "Late fee|Interest|Charge for this reminder", "de": "Mahngebühr|Verzugszinsen|Mahnkosten", "fr": "Frais de relance|Intérêts", "nl": "Aanmaningskosten|Rente", "es": "Gastos", "it": "Interessi di mora"}  # fmt: skip


def _told_debts(desk: Desk, left: float, right: float, y: float) -> float:
    """A letter about bills that are open, with what is asked for below it."""
    chance, made, size = desk.chance, desk.deal, desk.size
    total, words = Decimal(0), list[Part]()
    words += [(word, "text") for word in greeting(desk).split()]
    for _ in range(chance.choice([1, 1, 1, 2, 3])):
        value = Decimal(chance.randrange(500, 900_000)) / 100
        total += value
        day = made.date(made.days["issued"] - timedelta(days=chance.randrange(15, 120)))
        said = {"{id}": (f"{chance.choice(['R', 'F', '26-', 'INV'])}{chance.randrange(10**3, 10**6)}", "other.id"), "{day}": (day, "other.date"), "{money}": (made.money(value), "other.money")}  # fmt: skip
        for piece in chance.choice(OVERDUE.get(made.language, OVERDUE["en"])).split("|"):
            text, tag = said.get(piece, (piece, "text"))
            words += [(word, tag) for word in text.split()]
        words += [(word, "text") for word in made.speech.sentence().split()]
    y = blocks.wrapped(desk, left, y, right - left, words, size) + size * 0.5
    rows: list[sums.Sum] = [(made.speech.say("gross"), "label.other", total, "other.money")]
    if chance.random() < 0.6:
        fee = Decimal(chance.choice([250, 500, 1000, 1500, 4000])) / 100
        rows.append((chance.choice(FEES.get(made.language, FEES["en"]).split("|")), "label.other", fee, "other.money"))  # fmt: skip
        total += fee
    rows.append((made.speech.say("due_amount"), "label.amount_due", total, "amount_due"))
    desk.tell("amount_due", str(total))
    return chance.choice([sums.column, sums.leaders])(desk, left, y, (right - left) * 0.6, rows)


BY = {"en": "by|due|on or before", "de": "bis zum|bis|fällig am", "fr": "avant le|pour le|au", "es": "antes del|hasta", "it": "entro il", "nl": "vóór|uiterlijk", "pl": "do dnia", "pt": "até", "sv": "senast"}  # fmt: skip


def callout(desk: Desk, left: float, y: float) -> float:
    """What is to be paid, and by when, in large letters."""
    chance, made = desk.chance, desk.deal
    large = desk.size * chance.choice([1.2, 1.5, 2.0])
    due = made.sums["due_amount"]
    parts: list[Part] = []
    if chance.random() < 0.8:
        parts += sums.label_parts(made.speech.say("due_amount"), "label.amount_due")
    parts += sums.money_parts(desk, due, "amount_due")
    desk.tell("amount_due", str(due))
    if "due" in made.days and chance.random() < 0.7:
        by = chance.choice(BY.get(made.language, BY["en"]).split("|"))
        parts += [(by, "label.due_date"), (made.date(made.days["due"]), "due_date")]
        desk.tell("due_date", made.days["due"].isoformat())
    desk.sheet.put(left, y + large * 0.4, parts, large, bold=chance.random() < 0.6)
    return y + large * 2.2


def debts(desk: Desk, left: float, right: float, y: float) -> float:
    """Bills that are open: days, numbers and amounts that are no lines."""
    chance, made, size = desk.chance, desk.deal, desk.size
    if chance.random() < (0.6 if made.kind == "reminder" else 0.1):
        return _told_debts(desk, left, right, y)
    step = (right - left) / 5
    heads = [
        made.speech.say("issued"),
        made.speech.say("number"),
        made.speech.say("due"),
        made.speech.say("c_amount"),
    ]
    for at, text in enumerate(heads):
        desk.sheet.put(
            left + step * at, y, [(desk.sheet.fold(text, size, step)[0], "header.other")], size
        )
    total = Decimal(0)
    for _ in range(chance.randrange(1, 12)):
        y += size * 1.5
        value = Decimal(chance.randrange(500, 900_000)) / 100
        paid = made.kind == "statement" and chance.random() < 0.2
        total += -value if paid else value
        day = made.days["issued"] - timedelta(days=chance.randrange(5, 120))
        cells: list[Part] = [(made.date(day), "other.date"), (f"{chance.choice('RF')}{chance.randrange(10**4, 10**6)}", "other.id"),
                             (made.date(day + timedelta(days=30)), "other.date"), (made.number(-value if paid else value), "other.money")]  # fmt: skip
        for at, each in enumerate(cells):
            desk.sheet.put(left + step * at, y, [each], size)
    y += size * 2
    desk.sheet.put(left, y, [(made.speech.say("due_amount"), "label.amount_due")], size, bold=True)
    desk.sheet.put(left + step * 4, y, sums.money_parts(desk, total, "amount_due"), size, bold=True)
    desk.tell("amount_due", str(abs(total)))
    return y + size * 2


TERMS = {
    "en": ("Please pay by|{due}|.", "Payment due|{due}|.", "2% discount if paid by|{day}|, otherwise net by|{due}|."),
    "de": ("Zahlbar bis|{due}|ohne Abzug.", "Zahlbar bis|{day}|abzüglich 2 % Skonto, bis|{due}|netto.", "Bitte überweisen Sie den Betrag bis zum|{due}|.", "Fällig am|{due}|."),
    "fr": ("À régler avant le|{due}|.", "Échéance :|{due}|."), "es": ("Vencimiento:|{due}|.",), "it": ("Scadenza:|{due}|.",), "nl": ("Gelieve te betalen vóór|{due}|.",), "pl": ("Termin płatności:|{due}|.",), "sv": ("Betalas senast|{due}|.",), "pt": ("Vencimento:|{due}|.",),
}  # fmt: skip
"""How terms are told below the sums: a day with discount is not the day it is due."""
NO_BILL = {"en": "This is not an invoice.", "de": "Dies ist keine Rechnung.", "fr": "Ceci n'est pas une facture.", "nl": "Dit is geen factuur.", "es": "Este documento no es una factura.", "it": "Il presente documento non è fattura."}  # fmt: skip


def terms(desk: Desk, left: float, wide: float, y: float) -> float:
    """When to pay, in a sentence; and what the paper is not."""
    chance, made = desk.chance, desk.deal
    words: list[Part] = []
    if made.kind in ("pro forma", "order confirmation", "purchase order") and chance.random() < 0.3:
        words += [(word, "text") for word in NO_BILL.get(made.language, NO_BILL["en"]).split()]
    if "due" in made.days and made.kind in ("invoice", "pro forma") and chance.random() < 0.2:
        due, early = made.days["due"], made.days["due"] - timedelta(days=chance.randrange(3, 20))
        for piece in chance.choice(TERMS.get(made.language, TERMS["en"])).split("|"):
            text, tag = {"{due}": (made.date(due), "due_date"), "{day}": (made.date(early), "other.date")}.get(piece, (piece, "label.due_date"))  # fmt: skip
            if text in ".,":
                words[-1] = (words[-1][0] + text, words[-1][1])
                continue
            words += [(word, tag) for word in text.split()]
        desk.tell("due_date", due.isoformat())
    return blocks.wrapped(desk, left, y, wide, words, desk.size) if words else y


def slip(desk: Desk, left: float, right: float, y: float) -> float:
    """A slip to pay by: all of it once more."""
    made, size = desk.deal, desk.size * 0.85
    middle = (left + right) / 2
    due = made.sums["due_amount"]
    gross_tag = "amount_due" if "amount_due" in made.truth else "gross_total"
    told = made.truth.get("account")
    account = told or made.seller.iban
    for x in (left, middle):
        rows: list[Sequence[Part]] = [[(made.seller.name, "seller.name")], [(account, "account")], [(made.buyer.name, "buyer.name")],
                                      [(made.currency, "currency"), (made.number(due), gross_tag)]]  # fmt: skip
        end = blocks.stacked(desk, x, y, rows, size=size)
    desk.tell("account", account)
    desk.tell(gross_tag, str(due))
    return end
