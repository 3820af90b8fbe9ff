"""What suppliers print beside values, by language and by what is named; how they garble it."""

import random
import re
import zlib
from functools import cache
from pathlib import Path

from tools.corpus.wording import phrases, wording
from tools.grammar import vocabulary

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
DUE = re.compile(
    r"\b(to pay|payable|due|owed|owing|outstanding|balance|zahlen|zahlbar|zahlbetrag|fällig\w*|offen\w*|restbetrag|restforderung|zahllast|saldo|à payer|à régler|dû|due|reste|solde|a pagar|a abonar|a percibir|líquido|pendiente|a pagare|da pagare|da versare|dovuto|residuo"
    r"|te betalen|te voldoen|openstaand|att betala|att erlägga|kvar|återstår|at betale|til betaling|å betale|do zapłaty|należność|maksettava|k úhradě|fizetendő|de plat[aă]|em dívida|por liquidar)\b",
    re.IGNORECASE,
)
"""Words that say what is to be paid."""
OTHERWISE = {
    "en": {"to": "Customer|Client|Invoice address|Issued to|Account holder|To|Buyer|Recipient|Invoiced to|Bill-to party|Prepared for|Your details|Charge to|Invoicee|Name and address|Purchaser",
           "due_amount": "Amount due|Total due|To pay|Please pay|Amount payable|Total to pay|Balance due|You owe|Pay this amount|Total now due|Due|Amount to be paid|Payment due|Total payable",
           "number": "Document number|Bill no|Inv.|Invoice|Our reference|Ref|Doc. ref.|Invoice ref|Tax invoice no.|Document|Bill number|Note no.",
           "issued": "Tax point|Bill date|Dated|Date of issue|Date/tax point|Date of invoice|Issue|Invoice raised", "due": "Please pay by|Payment due|Pay before|To be paid by|Payable by|Payment required by|Collected on",
           "c_amount": "Net|Value|Total|Charge|Line total|Cost|£|Ext.|Fee|Credit", "c_quantity": "Hours|Hrs|Days|No.|Units|Qty shipped|Tonnes|Nights|Visits|Copies|kg|Count|Litres", "c_price": "Rate|Each|Per hour|Unit|Unit cost|Day rate|Tariff|Hourly|£/t", "c_name": "Details|Work done|Services|Reason|Item|Particulars|Product|Activity|Service|Treatment|Attendance"},
    "de": {"to": "An|Herrn/Frau/Firma|Auftraggeber|Empfänger|Kunde/Rechnungsadresse|Leistungsempfänger|Patient/Rechnungsempfänger|Besteller|Mieter|Für", "due_amount": "Zu zahlen|Zahlbetrag|Zu zahlender Betrag|Bitte zahlen Sie|Zahlbetrag EUR|Noch offen|Zahlungsbetrag|Saldo zu unseren Gunsten|Fälliger Betrag|Zu überweisen",
           "number": "Beleg-Nr.|Rg.-Nr.|Belegnummer|RG-Nr|Nr.|Dokument|Unsere Rechnung|Faktura-Nr.|Re.-Nr.", "issued": "Datum|vom|Belegdatum|Ausstellungsdatum|Rg.-Datum", "due": "Fällig am|Zahlbar bis|Fälligkeit|Zahlungsziel|Abbuchung am|Bitte zahlen bis", "c_amount": "EUR|Gesamt|Summe|Belastung|Betrag netto|Wert", "c_quantity": "Stück|Std.|kg|Stunden|Tonnen|Liter|Anz.|Tage|Nächte|m²", "c_price": "EUR/Einheit|Einzel|Satz|E-Preis|à|EUR/Std.|Tarif", "c_name": "Leistung|Tätigkeit|Beschreibung|Produkt|Werkstoff|Text|Behandlung"},
    "fr": {"due_amount": "À payer|Total à régler|Net à payer|À régler|Montant dû|Somme à payer|Reste dû", "to": "Pour|Doit|À l'attention de|Facturation|Société|Nom et adresse", "number": "N°|Réf. facture|N° de pièce|Facture|Pièce n°", "issued": "Le|Date|Émise le|Fait le|En date du", "c_quantity": "Nombre|Heures|Jours|Nb|Unités|Nuits", "c_price": "PU HT|Tarif|Prix|Taux horaire", "c_name": "Prestation|Détail|Objet|Travaux|Libellé", "c_amount": "Montant|Total|Prix HT|Honoraires"},
    "es": {"due_amount": "A pagar|Líquido a percibir|Total a pagar|Importe a pagar", "to": "Sres.|Cliente|Datos de facturación|Razón social", "number": "Nº|Núm.|Factura|Fra. nº", "c_quantity": "Medición|Uds.|Horas|Cant.", "c_name": "Concepto|Trabajos|Servicio"},
    "it": {"due_amount": "Netto a pagare|Da pagare|Totale da pagare|A saldo", "to": "Spett.le|Destinatario|Cliente|Intestata a", "number": "N.|Fattura n.|Doc. n.|Numero", "issued": "del|Data|Data doc.", "c_quantity": "Q.tà|Ore|N.|Quantità", "c_name": "Prestazione|Descrizione|Oggetto"},
    "nl": {"due_amount": "Te voldoen|Te betalen|Totaal te betalen|Verschuldigd|Openstaand", "to": "Aan|T.a.v.|Opdrachtgever|Klant", "number": "Nr.|Nota|Factuurnr.|Documentnr.", "issued": "Datum|d.d.|Notadatum", "c_quantity": "Ton|Uren|Stuks|Dagen", "c_name": "Werkzaamheden|Omschrijving|Dienst"},
    "pl": {"due_amount": "Do zapłaty|Razem do zapłaty|Pozostaje do zapłaty"}, "pt": {"due_amount": "A pagar|Total a pagar|Valor a pagar"}, "sv": {"due_amount": "Att betala|SEK att betala|Belopp att betala", "c_name": "Benämning|Tjänst|Arbete", "c_price": "À-pris|Pris"},
    "da": {"due_amount": "At betale|Til betaling|Beløb til betaling"}, "no": {"due_amount": "Å betale|Beløp å betale|Til betaling"}, "fi": {"due_amount": "Maksettava|Maksettavaa yhteensä"}, "cs": {"due_amount": "K úhradě|Celkem k úhradě|Zbývá uhradit"}, "hu": {"due_amount": "Fizetendő|Fizetendő összesen"}, "ro": {"due_amount": "De plată|Total de plată"},
}  # fmt: skip
"""Labels beyond those of the corpus."""
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
    if name in ("gross", "due_amount"):
        # Words that say what is to be paid name what is due, wherever they stand.
        stated, spare = wording().get(language, {}).get("gross", ((), ()))
        every = (*texts, *(stated if name == "due_amount" else ()))
        texts = tuple(text for text in every if bool(DUE.search(text)) == (name == "due_amount"))
    texts += tuple(text for text in OTHERWISE.get(language, {}).get(name, "").split("|") if text)
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
    texts = _lines("titles.txt")[language].get(kind, ())
    if kind in ("invoice", "credit note"):
        # The plain words are most of what is printed.
        plain = labels(language, "invoice" if kind == "invoice" else "credit", held)
        texts = tuple(text for text in texts if is_held(text) == held)
        return plain * max(1, 2 * len(texts) // len(plain)) + texts
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
        strange: how many of the labels of the held side are from there; the others are as in
            training.
    """

    def __init__(
        self,
        chance: random.Random,
        language: str,
        *,
        held: bool,
        currency: str = "",
        strange: float = 1.0,
    ) -> None:
        self.chance, self.language, self.held = chance, language, held
        self.strange = strange
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
        return re.sub(
            r"\{x\}", lambda _: word_of(self.chance, self.language), text, flags=re.IGNORECASE
        )

    def _side(self) -> bool:
        """Whether the next label is one of those that training never sees."""
        if self.held and self.strange < 1:
            return self.chance.random() < self.strange
        return self.held

    def _chosen(self, name: str) -> str:
        held = self._side()
        text = self.chance.choice(labels(self.language, name, held))
        if self.second and self.second != self.language:
            text += " / " + self.chance.choice(labels(self.second, name, held))
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
        text = self.chance.choice(titles(self.language, kind, self._side()))
        return text.upper() if self.chance.random() < 0.3 else text

    def sentence(self) -> str:
        """A sentence that states nothing."""
        if self.chance.random() < 0.45:
            return vocabulary.sentence(self.chance, self.language)
        return self.chance.choice(SENTENCES[self.language])


def word_of(chance: random.Random, language: str) -> str:
    """Something that a group of lines is called."""
    from tools.grammar.people import word

    return word(chance, language)
