"""Blocks of parties: who sells, who buys, where to pay; and others who are named on a page."""

import random

from tools.grammar import around, vocabulary
from tools.grammar.blocks import Desk
from tools.grammar.people import (
    Party,
    account_shown,
    department,
    party,
    role,
    salute,
    tax_shown,
    word,
)
from tools.grammar.sheet import Part

OTHERS = {
    "en": "Carrier|Site|Insurer|Printed by|Driver's company|On behalf of|Agent|Contract holder|Introduced by|Manufacturer|In partnership with|Project|Job name|Venue|Subcontractor|Debt assigned to|A member of|Hosted by|Vessel|Re|Matter|Re:|Subject|Your client|Estate of|Our client|Tenant|Landlord|Guest|Passenger|Pupil|Patient|Attendee",
    "de": "Spediteur|Baustelle|Versicherer|Druck|Vermittelt durch|Objekt|Hersteller|Projekt|Im Auftrag von|Abgetreten an|Mitglied im|Ort der Leistung|Partner|Betrifft|In Sachen|Mandant|Mieter|Vermieter|Gast|Fahrgast|Patient|Eigentümer|Schüler",
    "fr": "Transporteur|Chantier|Assureur|Imprimé par|Fabricant|Projet|Pour le compte de|Créance cédée à|Lieu|Partenaire|Objet|Affaire|Locataire|Client final|Patient|Voyageur", "es": "Transportista|Obra|Aseguradora|Fabricante|Proyecto|Por cuenta de|Lugar", "it": "Vettore|Cantiere|Assicurazione|Produttore|Progetto|Per conto di|Luogo",
    "nl": "Vervoerder|Werk|Verzekeraar|Fabrikant|Project|Namens|Locatie", "pl": "Przewoźnik|Budowa|Producent|Projekt|Miejsce", "sv": "Transportör|Objekt|Projekt|Tillverkare", "da": "Fragtmand|Byggeplads|Projekt|Producent",
}  # fmt: skip
"""Labels of those who neither sell nor buy."""
AGAIN = {
    "en": "For and on behalf of {}|Payable to {}|© {}|{} - all rights reserved|Cheques to {}|Account name: {}|Signed, {}|Your {} team", "de": "Kontoinhaber: {}|Zahlungsempfänger {}|Ihr Team von {}|gez. {}|© {}|Empfänger: {}",
    "fr": "Titulaire : {}|À l'ordre de {}|L'équipe {}|© {}|Pour {}", "es": "Titular: {}|A nombre de {}|© {}|Por {}", "it": "Intestatario: {}|A favore di {}|© {}|Per {}", "nl": "Ten name van {}|t.n.v. {}|© {}|Namens {}", "pl": "Odbiorca: {}|© {}", "sv": "Mottagare: {}|© {}", "da": "Kontohaver: {}|© {}",
}  # fmt: skip
"""How a seller's name stands once more on a page."""


def party_rows(desk: Desk, who: Party, part: str, *, full: bool) -> list[list[Part]]:
    """Rows of a party's block: name, address, numbers."""
    chance, deal = desk.chance, desk.deal
    name_tag = {"seller": "seller.name", "buyer": "buyer.name"}.get(part, "other.party")
    address_tag = {"seller": "seller.address", "buyer": "buyer.address"}.get(part, "other.party")
    rows: list[list[Part]] = [[(text, name_tag)] for text in _broken(chance, who.name)]
    if part != "other":
        desk.tell(name_tag, who.name)
    if part == "seller":
        rows = _surrounded(desk, rows)
    elif len(rows) == 1 and chance.random() < 0.06:
        # A department in the row of the house's name.
        said, mark = department(chance, deal.language), chance.choice([",", ",", " -", " |", ""])
        name = rows[0][0][0]
        rows = [[(said + mark, address_tag), (name, name_tag)]]
        if chance.random() < 0.5:
            rows = [[(name + mark, name_tag), (said, address_tag)]]
    if part != "seller" and chance.random() < 0.12:
        said, tag = (
            salute(chance, deal.language),
            "label.buyer.name" if part == "buyer" else "label.other.party",
        )
        if chance.random() < 0.4:
            rows[0].insert(0, (said, tag))
        else:
            rows.insert(0, [(said, tag)])
    ahead = who.rows[:1] if chance.random() < 0.25 else []
    if ahead:
        # Whom it is for stands above the house.
        rows.insert(0, [(ahead[0], address_tag)])
    rows += [[(text, address_tag)] for text in who.rows[len(ahead) :]]
    where = list(who.address)
    if chance.random() < 0.12:
        where = [", ".join(where)]
    rows += [[(text, address_tag)] for text in where]
    if len(rows) < 5 and chance.random() < 0.04:
        rows = [_one_row(rows)]
    elif chance.random() < 0.05:
        rows = _as_form(desk, rows, name_tag, address_tag)
    if part == "buyer" and chance.random() < 0.15:
        shown = tax_shown(chance, who)
        rows.append(
            [
                (desk.label(deal.speech.say("your_tax_id")), "label.buyer.tax_id"),
                (shown, "buyer.tax_id"),
            ]
        )
        desk.tell("buyer.tax_id", shown)
    if part == "seller" and full:
        rows += seller_numbers(desk)
    return rows


def _one_row(rows: list[list[Part]]) -> list[Part]:
    """A whole party in one row, with commas between."""
    parts = [part for row in rows for part in row]
    told = [(text if tag.startswith("label.") else text + ",", tag) for text, tag in parts[:-1]]
    return [*told, parts[-1]]


def _surrounded(desk: Desk, rows: list[list[Part]]) -> list[list[Part]]:
    """Rows of a supplier's name with what such people print around it."""
    chance, language = desk.chance, desk.deal.language
    if chance.random() < 0.06:
        # In the row of the name itself.
        rows[-1].append(("- " * (chance.random() < 0.3) + role(chance, language), "text"))
    elif chance.random() < 0.27:
        rows.append(around.beside_name(chance, language))
        if chance.random() < 0.15:
            rows.append(around.beside_name(chance, language))
    if chance.random() < 0.15:
        rows.insert(0, around.beside_name(chance, language))
    return rows


NAMES = {"en": "Name|Company|Customer name|Organisation|Business name", "de": "Name|Firma|Unternehmen", "fr": "Nom|Société|Raison sociale", "es": "Nombre|Razón social|Empresa", "it": "Ragione sociale|Nome|Denominazione", "nl": "Naam|Bedrijf", "pl": "Nazwa|Firma", "pt": "Nome|Empresa", "sv": "Namn|Företag", "da": "Navn|Firma"}  # fmt: skip
WHERE = {"en": "Address|Street|Town|Postcode|Country|City|Contact", "de": "Straße|Anschrift|PLZ/Ort|Ort|Land", "fr": "Adresse|Ville|Pays|Rue", "es": "Dirección|Domicilio|Población|País", "it": "Indirizzo|Città|Sede", "nl": "Adres|Plaats|Land", "pl": "Adres|Miasto", "pt": "Morada|Localidade", "sv": "Adress|Ort", "da": "Adresse|By"}  # fmt: skip


def _as_form(
    desk: Desk, rows: list[list[Part]], name_tag: str, address_tag: str
) -> list[list[Part]]:
    """Each row of a party with a label of its own, as forms have them."""
    chance, language = desk.chance, desk.deal.language
    told: list[list[Part]] = []
    for row in rows:
        words = NAMES if any(tag == name_tag for _, tag in row) else WHERE
        if told and told[-1][-1][1] == name_tag and words is NAMES:
            told.append(row)  # a name that goes on
            continue
        label = chance.choice(words.get(language, words["en"]).split("|"))
        kind = name_tag if words is NAMES else address_tag
        kind = kind if kind != "other.party" else "other"
        kind = "label.other" if words is WHERE or kind == "other" else f"label.{kind}"
        told.append([(desk.label(label), kind), *row])
    return told


def _broken(chance: random.Random, name: str) -> list[str]:
    """A name in one row, or a long one in two."""
    words = name.split()
    if len(words) < 4 or chance.random() > 0.15:
        return [name]
    at = chance.randrange(2, len(words))
    return [" ".join(words[:at]), " ".join(words[at:])]


def seller_numbers(desk: Desk) -> list[list[Part]]:
    """What sellers say of themselves: tax id, account, telephone, mail."""
    deal, chance, speech = desk.deal, desk.chance, desk.deal.speech
    rows: list[list[Part]] = []
    if chance.random() < 0.8:
        shown = tax_shown(chance, deal.seller)
        rows.append(
            [
                (desk.label(speech.say("our_tax_id")), "label.seller.tax_id"),
                (shown, "seller.tax_id"),
            ]
        )
        desk.tell("seller.tax_id", shown)
    if chance.random() < 0.65:
        rows += account_rows(desk)
    if chance.random() < 0.5:
        rows.append(
            [
                (desk.label(speech.say("phone")), "label.other"),
                (deal.facts.get("phone", "0123 456"), "other.contact"),
            ]
        )
    if chance.random() < 0.5:
        host = _host(chance, deal.seller.name, deal.language)
        rows.append(
            [
                (
                    chance.choice(
                        [f"info@{host}.example", f"www.{host}.example", f"{host}.example"]
                    ),
                    "other.contact",
                )
            ]
        )
    if chance.random() < 0.2:
        rows.append(
            [
                (
                    chance.choice(["HRB", "Company no.", "Reg.", "RCS", "KvK", "Org."]),
                    "label.other",
                ),
                (str(chance.randrange(10_000, 99_999_999)), "other.id"),
            ]
        )
    chance.shuffle(rows)
    return rows


def _host(chance: random.Random, name: str, language: str) -> str:
    """What a supplier's address is called: often as it is called itself."""
    words = ["".join(s for s in word.lower() if s.isascii() and s.isalnum()) for word in name.split()]  # fmt: skip
    words = [each for each in words if each] or ["post"]
    plain = words[:-1] if len(words) > 1 and len(words[-1]) < 5 else words
    return chance.choices(
        [
            "".join(plain)[:24],
            "-".join(plain)[:24].strip("-"),
            words[0] if len(words[0]) > 2 else "".join(words),
            "".join(words[:2]),
            "".join(each[0] for each in words) if len(words) > 2 else "".join(words),
            vocabulary.term(chance, language).lower().encode("ascii", "ignore").decode()
            or "office",
        ],
        [7, 4, 4, 2, 1, 2],
    )[0]


def account_rows(desk: Desk) -> list[list[Part]]:
    """Where to pay."""
    deal, chance, speech = desk.deal, desk.chance, desk.deal.speech
    if "account" in deal.truth:
        by_code = deal.truth["account"][2:3] == "-"
    else:
        by_code = deal.seller.country == "GB" and chance.random() < 0.6
    if by_code:
        code, number = (
            f"{chance.randrange(10, 99)}-{chance.randrange(10, 99)}-{chance.randrange(10, 99)}",
            f"{chance.randrange(10**7, 10**8)}",
        )
        if "account" in deal.truth:
            code, number = deal.truth["account"].split()
        desk.tell("account", f"{code} {number}")
        row: list[Part] = [
            (chance.choice(["Sort code", "Sort", "S/C"]), "label.account"),
            (code, "account"),
            (chance.choice(["Account", "A/C", "account no.", "/"]), "label.account"),
            (number, "account"),
        ]
        return [row] if chance.random() < 0.6 else [row[:2], row[2:]]
    shown = account_shown(chance, deal.seller)
    desk.tell("account", deal.seller.iban)
    called = word(chance, deal.language)
    bank = [(chance.choice([f"{called} Bank", f"Bank {called}", f"{called} Building Society", f"Sparkasse {called}", f"Crédit {called}"]), "other.party")]  # fmt: skip
    row = [(desk.label(speech.say("account")), "label.account"), (shown, "account")]
    rows = [row]
    if chance.random() < 0.4:
        rows.insert(0, bank)
    if chance.random() < 0.4:
        rows.append(
            [
                (chance.choice(["BIC", "BIC:", "SWIFT"]), "label.other"),
                ("".join(chance.choice("ABDEKLMNRSTX") for _ in range(8)), "other.id"),
            ]
        )
    return rows


def bystanders(desk: Desk) -> list[list[Part]]:
    """Somebody who is named and neither sells nor buys: with a label, or in a sentence."""
    chance, deal = desk.chance, desk.deal
    label = chance.choice(OTHERS.get(deal.language, OTHERS["en"]).split("|"))
    name = party(chance, deal.seller.country, deal.held).name
    if chance.random() < 0.1:
        mark = chance.choice(["v", "vs.", "./.", "c/", "/", "re", "and"])
        name = f"{name} {mark} {party(chance, deal.seller.country, deal.held).name}"
    elif chance.random() < 0.25:
        name = f"{vocabulary.first(chance, deal.language)} {name}"
    rows: list[list[Part]] = [[(desk.label(label), "label.other"), (name, "other.party")]]
    if chance.random() < 0.3:
        rows.append([(vocabulary.town(chance, deal.language), "other.party")])
    return rows


def once_more(desk: Desk) -> list[Part]:
    """The seller's name where it is not told first: who is paid, who signs, whose rights it are."""
    chance, deal = desk.chance, desk.deal
    before, _, after = chance.choice(AGAIN.get(deal.language, AGAIN["en"]).split("|")).partition(
        "{}"
    )
    parts: list[Part] = [(before.strip(), "text"), (deal.seller.name, "seller.name"), (after.strip(), "text")]  # fmt: skip
    desk.tell("seller.name", deal.seller.name)
    return [each for each in parts if each[0]]


def return_line(desk: Desk) -> list[Part]:
    """The small row above the window of an envelope: who sends the letter, in one line."""
    chance, seller = desk.chance, desk.deal.seller
    mark = chance.choice(["·", ",", "-", "|", "•", "*", "–"])
    parts: list[Part] = [(seller.name, "seller.name")]
    for row in seller.address:
        parts += [(mark, "text"), (row, "seller.address")]
    desk.tell("seller.name", seller.name)
    return parts
