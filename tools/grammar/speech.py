"""What suppliers print beside values, by language and by what is named; how they garble it."""

import random
import re
import zlib
from functools import cache
from pathlib import Path

from tools.corpus.wording import phrases, wording

NAMED = {
    "number": "number", "issued": "issue_date", "due": "due_date", "order": "order_number", "note": "delivery_note",
    "delivered": "delivery_date", "preceding": "preceding_number", "customer": "other.id", "phone": "other.contact",
    "our_tax_id": "seller.tax_id", "your_tax_id": "buyer.tax_id", "account": "account", "to": "buyer.name", "ship": "other.party",
}  # fmt: skip
"""Names of labels in the corpus' files, and what they name here."""
HELD = 5
"""One label in so many is kept for pages that are only measured on."""
MORE = {
    "en": {"quote": "Quote|Job no.|Contract|Our ref.|Project|Meter no.|Site|Account ref|Policy|Booking|Ticket|Vehicle", "date": "Order date|Period from|Printed|Service from|Valid until|Reading date|Job date|Created",
           "party": "Contact|Handled by|Sales person|Your contact|Driver|Signed", "money": "Credit limit|Previous balance|Last payment|Insured value|Our fee last year|Minimum order|You saved|Cash given|Change",
           "rounding": "Rounding", "period": "Period|Billing period", "base": "Taxable|Net|Goods|Base", "group": "Subtotal|Carried forward|Brought forward|Total for {x}|Sum {x}"},
    "de": {"quote": "Angebot|Projekt|Unser Zeichen|Vertrag|Objekt|Zähler-Nr.|Kommission|Vorgang|Police", "date": "Bestelldatum|Leistungszeitraum von|Druckdatum|Gültig bis|Ablesung|Auftrag vom",
           "party": "Ansprechpartner|Bearbeiter|Ihr Kontakt|Sachbearbeiter|Fahrer", "money": "Kreditlimit|Letzter Saldo|Warenwert Vorjahr|Gegeben|Rückgeld|Mindestbestellwert", "rounding": "Rundung", "period": "Zeitraum", "base": "Nettowert|Bemessungsgrundlage|Netto", "group": "Zwischensumme|Übertrag|Summe {x}"},
    "fr": {"quote": "Devis|Dossier|Notre réf.|Contrat|Chantier|Affaire", "date": "Date de commande|Période du|Imprimé le|Valable jusqu'au", "party": "Contact|Suivi par|Commercial|Interlocuteur", "money": "Encours|Solde précédent|Rendu|Espèces", "rounding": "Arrondi", "period": "Période", "base": "Base HT|Base", "group": "Sous-total|Report|Total {x}"},
    "es": {"quote": "Presupuesto|Proyecto|Nuestra ref.|Contrato|Obra", "date": "Fecha de pedido|Periodo desde|Impreso", "party": "Contacto|Comercial|Atendido por", "money": "Saldo anterior|Entregado|Cambio", "rounding": "Redondeo", "period": "Periodo", "base": "Base", "group": "Suma y sigue|Subtotal {x}"},
    "it": {"quote": "Preventivo|Commessa|Ns. rif.|Contratto", "date": "Data ordine|Periodo dal|Stampato il", "party": "Contatto|Agente|Referente", "money": "Saldo precedente|Contanti|Resto", "rounding": "Arrotondamento", "period": "Periodo", "base": "Imponibile", "group": "Riporto|Subtotale {x}"},
    "nl": {"quote": "Offerte|Project|Ons kenmerk|Contract", "date": "Besteldatum|Periode van|Afgedrukt", "party": "Contactpersoon|Behandeld door", "money": "Vorig saldo|Contant|Terug", "rounding": "Afronding", "period": "Periode", "base": "Grondslag", "group": "Subtotaal {x}|Transport"},
}  # fmt: skip
"""Labels of what is not to be read: references, dates, people, money; by language, English elsewhere."""
SENTENCES = {
    "en": ("Thank you for your business.", "Goods remain our property until paid in full.", "Interest may be charged on late payment.", "Please quote the number above when paying.", "All work carried out to the usual standards.", "For questions call us any weekday.", "Prices are those of our current list.", "Returns within fourteen days only.", "We hope to see you again soon.", "Registered in England and Wales."),
    "de": ("Vielen Dank für Ihren Auftrag.", "Die Ware bleibt bis zur vollständigen Bezahlung unser Eigentum.", "Bei Rückfragen stehen wir gerne zur Verfügung.", "Es gelten unsere allgemeinen Geschäftsbedingungen.", "Bitte geben Sie bei der Zahlung die Nummer an.", "Amtsgericht HRB, Geschäftsführer siehe unten."),
    "fr": ("Merci de votre confiance.", "Pas d'escompte pour paiement anticipé.", "Tout retard entraîne une indemnité forfaitaire.", "Les marchandises restent notre propriété."), "es": ("Gracias por su confianza.", "Inscrita en el Registro Mercantil.", "No se admiten devoluciones pasados diez días."),
    "it": ("Grazie per averci scelto.", "Contributo ambientale assolto ove dovuto.", "La merce viaggia a rischio del cliente."), "nl": ("Hartelijk dank voor uw opdracht.", "Op al onze leveringen zijn onze voorwaarden van toepassing."),
    "pl": ("Dziękujemy za współpracę.", "Towar pozostaje własnością sprzedawcy."), "pt": ("Obrigado pela preferência.", "Processado por computador."), "sv": ("Tack för din beställning.", "Dröjsmålsränta enligt lag."),
    "da": ("Tak for handlen.", "Renter beregnes ved forsinket betaling."), "no": ("Takk for handelen.",), "fi": ("Kiitos tilauksesta.",), "cs": ("Děkujeme za objednávku.",), "hu": ("Köszönjük bizalmát.",), "ro": ("Vă mulțumim.",),
}  # fmt: skip
CODES = re.compile(r"\b(?:EUR|GBP|USD|DKK|SEK|NOK|PLN|CZK|HUF|RON|CHF)\b|€|£")
_SYLLABLES = [
    "ba",
    "ke",
    "li",
    "mo",
    "nu",
    "ra",
    "se",
    "ti",
    "vo",
    "za",
    "fe",
    "gi",
    "pol",
    "tan",
    "ver",
    "dis",
    "kom",
    "rek",
    "hand",
    "num",
    "fak",
    "dat",
    "sum",
    "ord",
    "lev",
    "bet",
]


def _lines(name: str) -> dict[str, dict[str, tuple[str, ...]]]:
    found: dict[str, dict[str, tuple[str, ...]]] = {}
    language = ""
    for line in (Path(__file__).parent / name).read_text(encoding="utf-8").splitlines():
        if line.startswith("#") or not line.strip():
            continue
        key, _, rest = line.strip().partition(":")
        if rest:
            found[language][key] = tuple(part.strip() for part in rest.split("|"))
        else:
            language = key
            found[language] = {}
    return found


def is_held(text: str) -> bool:
    """Whether a label is kept for pages that are only measured on."""
    return zlib.crc32(text.casefold().encode()) % HELD == 0


@cache
def labels(language: str, name: str, held: bool) -> tuple[str, ...]:
    """All that may stand beside what is named, of one side of the split. Never empty: a language that
    has too few labels for two sides has the same on both."""
    more = _lines("labels.txt").get(language)
    if more is not None:
        texts = more.get(name, ())
    else:
        stated, spare = wording()[language].get(name, ((), ()))
        texts = (*stated, *spare, *phrases().get(language, {}).get(name, ()))
    if not texts and name in MORE["en"]:
        texts = tuple((MORE.get(language) or {}).get(name, MORE["en"][name]).split("|"))
    # A label with another rate than the document's would say something wrong.
    texts = tuple(
        text for text in dict.fromkeys(texts) if name != "tax" or not re.search(r"\d", text)
    )
    chosen = tuple(text for text in texts if is_held(text) == held)
    return chosen or texts or (name,)


@cache
def titles(language: str, kind: str, held: bool) -> tuple[str, ...]:
    """Titles of a kind of document."""
    if kind in ("invoice", "credit note"):
        return labels(language, "invoice" if kind == "invoice" else "credit", held)
    texts = _lines("titles.txt")[language][kind]
    return tuple(text for text in texts if is_held(text) == held) or texts


def nonsense(chance: random.Random) -> str:
    """A word of no language."""
    return "".join(chance.choice(_SYLLABLES) for _ in range(chance.randrange(2, 4)))


class Speech:
    """One supplier's words: each label is chosen once.

    Args:
        chance: of the document.
        language: of its labels.
        held: which side of the split.
        currency: what labels name that name one.
    """

    def __init__(
        self, chance: random.Random, language: str, *, held: bool, currency: str = ""
    ) -> None:
        self.chance, self.language, self.held = chance, language, held
        self.second = chance.choice(["en", "en", "fr", "de"]) if chance.random() < 0.06 else ""
        self.case = chance.choices(["", "upper", "title", "lower"], [14, 3, 2, 1])[0]
        self.end = chance.choices(["", ":", " :", ".", "..:"], [9, 8, 1, 0.4, 0.3])[0]
        self.currency = currency
        self.garble = chance.choices([0.0, 0.3], [9, 1])[0]
        self._said: dict[str, str] = {}

    def say(self, name: str, rate: str = "") -> str:
        """The label of something, without what ends it."""
        if name not in self._said:
            self._said[name] = self._chosen(name)
        if self.currency:
            text = CODES.sub(self.currency, self._said[name])
            self._said[name] = text
        text = re.sub(r"\{rate\}", rate, self._said[name], flags=re.IGNORECASE)
        return re.sub(r"\{x\}", lambda _: word_of(self.chance), text, flags=re.IGNORECASE)

    def _chosen(self, name: str) -> str:
        text = self.chance.choice(labels(self.language, name, self.held))
        if self.second and self.second != self.language:
            text += " / " + self.chance.choice(labels(self.second, name, self.held))
        if self.chance.random() < self.garble:
            words = text.split()
            at = self.chance.randrange(len(words))
            if len(words[at]) > 5:
                words[at] = words[at][: self.chance.randrange(3, 6)] + "."
            text = " ".join(words)
        if self.chance.random() < 0.02:
            text = nonsense(self.chance).capitalize()
        return getattr(text, self.case)() if self.case else text

    def title(self, kind: str) -> str:
        """What stands above the document."""
        text = self.chance.choice(titles(self.language, kind, self.held))
        return text.upper() if self.chance.random() < 0.3 else text

    def sentence(self) -> str:
        """A sentence that states nothing."""
        return self.chance.choice(SENTENCES[self.language])


def word_of(chance: random.Random) -> str:
    """Something that a group of lines is called."""
    from tools.grammar.people import word

    return word(chance)
