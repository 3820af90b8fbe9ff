"""Thousands of parties of thirty countries: companies, persons, public bodies; their numbers."""

import random
from dataclasses import dataclass, field
from functools import cache

from stdnum import iban
from stdnum.eu import vat as eu_vat
from stdnum.exceptions import ValidationError
from stdnum.gb import vat as gb_vat

from tools.grammar import vocabulary

LANGUAGE = {
    "GB": "en", "IE": "en", "US": "en", "AU": "en", "CA": "en", "DE": "de", "AT": "de", "CH": "de", "FR": "fr",
    "BE": "fr", "LU": "fr", "ES": "es", "MX": "es", "IT": "it", "NL": "nl", "PL": "pl", "PT": "pt", "SE": "sv",
    "DK": "da", "NO": "no", "FI": "fi", "CZ": "cs", "SK": "cs", "HU": "hu", "RO": "ro", "SI": "en", "EE": "en",
    "LT": "en", "GR": "en", "HR": "en",
}  # fmt: skip
CURRENCY = {"GB": "GBP", "US": "USD", "AU": "AUD", "CA": "CAD", "CH": "CHF", "MX": "MXN", "PL": "PLN", "SE": "SEK",
            "DK": "DKK", "NO": "NOK", "CZ": "CZK", "HU": "HUF", "RO": "RON"}  # fmt: skip
RATES = {"GB": ("20", "5"), "IE": ("23", "13.5"), "US": ("8.25", "6"), "AU": ("10",), "CA": ("13", "5"), "DE": ("19", "7"),
         "AT": ("20", "10"), "CH": ("8.1", "2.6"), "FR": ("20", "10", "5.5"), "BE": ("21", "6"), "LU": ("17", "8"),
         "ES": ("21", "10", "4"), "MX": ("16",), "IT": ("22", "10", "4"), "NL": ("21", "9"), "PL": ("23", "8", "5"),
         "PT": ("23", "13", "6"), "SE": ("25", "12", "6"), "DK": ("25",), "NO": ("25", "15"), "FI": ("25.5", "14"),
         "CZ": ("21", "12"), "SK": ("23", "19"), "HU": ("27", "5"), "RO": ("19", "9"), "SI": ("22", "9.5"),
         "EE": ("22", "9"), "LT": ("21", "9"), "GR": ("24", "13"), "HR": ("25", "13")}  # fmt: skip
FORMS = {
    "en": ("Ltd", "Limited", "plc", "LLP", "Inc.", "LLC", "Co.", "Pty Ltd", "& Sons", "& Co", "Group", "CIC"),
    "de": ("GmbH", "GmbH & Co. KG", "AG", "e.K.", "OHG", "UG (haftungsbeschränkt)", "KG", "GbR", "eG", "e.V.", "Ges.m.b.H."),
    "fr": ("SARL", "SAS", "S.A.", "EURL", "SNC", "SCOP", "& Fils", "SASU", "EARL"), "es": ("S.L.", "S.A.", "SLU", "S.Coop.", "e Hijos", "C.B."),
    "it": ("S.r.l.", "S.p.A.", "Srl", "S.n.c.", "S.a.s.", "& Figli", "Soc. Coop."), "nl": ("B.V.", "BV", "V.O.F.", "N.V.", "en Zonen"),
    "pl": ("Sp. z o.o.", "S.A.", "sp. j.", "Sp. k."), "pt": ("Lda", "Lda.", "Unipessoal Lda", "S.A."), "sv": ("AB", "HB", "Aktiebolag", "KB"),
    "da": ("ApS", "A/S", "I/S"), "no": ("AS", "ASA", "ANS"), "fi": ("Oy", "Oyj", "Ky", "ry"), "cs": ("s.r.o.", "a.s.", "spol. s r.o."),
    "hu": ("Kft.", "Zrt.", "Bt."), "ro": ("S.R.L.", "S.A.", "SRL"),
}  # fmt: skip
TRADES = {
    "en": "Supplies Pumps Cleaning Engineering Foods Print Electrical Bakery Joinery Catering Logistics Software Consulting Garden Fisheries Books Haulage Dental Legal Design Security Scaffolding Laundry Energy Water Media Travel Plant Hire Quarry Ceramics Roofing",
    "de": "Technik Gebäudereinigung Handel Elektro Druckerei Großhandel Bäckerei Tischlerei Spedition Gartenbau Beratung Verlag Pumpen Metallbau Reisen Medien Stadtwerke Reinigung Fensterbau",
    "fr": "Services Peinture Électricité Imprimerie Négoce Plomberie Boulangerie Menuiserie Transports Conseil Éditions Traiteur Jardins Nettoyage",
    "es": "Suministros Limpiezas Electricidad Imprenta Distribuciones Panadería Talleres Transportes Asesores Jardines Editorial",
    "it": "Forniture Impianti Stampa Elettrica Commerciale Pulizie Panificio Officina Trasporti Consulenze Giardini", "nl": "Techniek Groothandel Schoonmaak Drukwerk Installaties Bakkerij Vervoer Advies Tuinen Uitgeverij",
    "pl": "Usługi Hurtownia Elektro Drukarnia Serwis Piekarnia Transport Doradztwo Ogrody Wydawnictwo", "pt": "Serviços Comércio Limpezas Gráfica Instalações Padaria Oficina Transportes Consultoria",
    "sv": "Teknik El Städ Tryckeri Grossist Bageri Åkeri Trädgård Konsult Förlag", "da": "Teknik El Rengøring Tryk Engros Bageri Vognmand Rådgivning Forlag", "no": "Teknikk Elektro Renhold Trykkeri Engros Bakeri Transport Rådgivning",
    "fi": "Tekniikka Sähkö Siivous Paino Tukku Leipomo Kuljetus Konsultointi", "cs": "Technika Elektro Úklid Tiskárna Velkoobchod Pekárna Doprava Poradenství", "hu": "Technika Villany Takarítás Nyomda Nagyker Pékség Fuvar Tanácsadó",
    "ro": "Tehnic Electric Curățenie Tipografie Angro Brutărie Transport Consultanță",
}  # fmt: skip
EVERYDAY = {
    "en": ("Blue Green Old New Red Silver North South Upper Golden Bright Swift Quiet High Stone Oak First City Royal Little",
           "Mesa Barrow Harbour Mill Fire Station Orchard Bridge Anchor Lantern Meadow Fox Heron Gate Castle Market River Corner Forge Beacon Court Grove",
           "Air|Farm Shop|Trust|Clinic|Couriers|Veterinary Centre|Heating|Studio|Stores|Works|Kitchen|Motors|Nursery|Brewery|Practice|Partners|Labs|Cabs|Signs|Press|Storage|Architects|Surveyors|Solicitors|Tree Care|Alarms|Glass|Tyres|Events|Timber Merchants|Pest Control|Photography|Fabrications|Water Services|Dairy|Tours|Chambers|Hotel|Inn|Community Choir|Estates|Facilities"),
    "de": ("Neue Alte Erste Freie Vereinigte Grüne Junge Norddeutsche", "Linden Berg Stadt Hafen Mühlen Sonnen Rosen Wald Bach Kirch Markt Adler",
           "Taxi|Apotheke|Dentallabor|Autohaus|Hotel|Gasthof|Druck|Kanzlei|Zahnarztpraxis|Ingenieurbüro|Fahrschule|Baustoffe|Blumen|Reifen|Stahlhandel|KFZ-Werkstätte|Malerbetrieb|Tankkarten|Büromöbel|Schreinerei|Zaunbau|Rechtsanwälte|Steuerberater|Architekten|Praxis"),
    "fr": ("Vieux Grand Petit Nouvel Bon Haut", "Moulin Port Jardin Soleil Pont Chêne Quai Marché Atelier Phare", "Éditions|Garage|Cabinet|Atelier|Maison|Hôtel|Pharmacie|Librairie|Fromagerie|Menuiserie|Avocats|Traductions|Graphisme|Ferme"),
    "es": ("Nuevo Gran Buen Alto", "Molino Puerto Sol Valle Prado Faro Olivo", "Construcciones y Reformas|Talleres|Bodegas|Clínica|Ferretería|Asesoría|Hostal|Gestoría|Muebles|Viveros"),
    "it": ("Nuova Antica Grande", "Torre Ponte Mare Valle Sole Olmo", "Magazzini Riuniti|Officine|Studio Legale|Trattoria|Tipografia|Albergo|Farmacia|Cantina|Ferramenta|Autotrasporti"),
    "nl": ("Oude Nieuwe Groene", "Molen Haven Brug Waard Linde Anker", "Zand- en Grindhandel|Bouwbedrijf|Garage|Advocaten|Loonbedrijf|Slagerij|Tandartspraktijk|Drukkerij|Kwekerij|Machine- en Apparatenbouw"),
    "pl": ("Nowa Stara", "Lipa Młyn Most Port", "Drukarnia Pod|Zakład Usług|Hurtownia|Kancelaria|Apteka|Przedsiębiorstwo Handlowe"), "pt": ("Nova Velha", "Ribeira Quinta Ponte Serra", "Quinta da|Oficina|Transportes|Clínica|Papelaria|Construções"),
    "sv": ("Nya Norra", "Björk Vik Ström Hamn", "Konsult|Måleri|Bygg|Fastigheter|Advokatbyrå"), "da": ("Nye Gamle", "Havn Bro Skov Mølle", "Tømrer|Malerfirma|Autoværksted|Kro|Revision"),
}  # fmt: skip
"""Adjectives, things and trades of everyday speech, of which names are made that could be other words."""
HONORIFICS = {"en": "Mr|Mrs|Ms|Mr & Mrs|Dr|Miss|Messrs", "de": "Herrn|Frau|Familie|Dr. med.|Eheleute", "fr": "M.|Mme|M. et Mme|Me", "es": "D.|Dña.|Sr.", "it": "Sig.|Sig.ra|Dott.",
              "nl": "Dhr.|Mevr.|Fam.", "pl": "Pan|Pani", "pt": "Sr.|Sra."}  # fmt: skip
SALUTES = {"en": "To|Messrs|Attention|FAO|The Manager|To the Treasurer of|Accounts Payable|Client", "de": "Herrn/Frau/Firma|Firma|An|An die|An das|Praxis|Herrn|Frau", "fr": "À l'attention de|Pour|Société|Doit|Madame, Monsieur|M. / Mme", "es": "Sres.|A la atención de|Cliente|Sr./Sra.",
           "it": "Spett.le|Spett.le Ditta|Egr. Sig.|Gent.mi", "nl": "Aan|T.a.v.|De heer/mevrouw|Firma", "pl": "Szanowni Państwo|Dla|Firma", "pt": "Exmo(s) Senhor(es)|Exmo. Sr.|À", "sv": "Till|Att", "da": "Til|Att."}  # fmt: skip
"""What stands before the name in an address."""
HOUSES = {
    "en": "The Old {t}|{x} Farm|{x} House|The {t}|{t} Cottage|{x} Court|Civic Centre|{t} Business Park|{a} {t}|{x} Hall|The {a} {t}|{t} View Farm|{x} Industrial Estate", "de": "Haus {x}|Gut {x}|Gewerbepark {x}|Werk 2|Hof {x}|Rathaus|{x}hof|Gebäude C",
    "fr": "Résidence {x}|Lieu-dit {x}|Villa {x}|Le Bourg|Bâtiment B|Domaine {x}|Parc d'activités {x}", "es": "Edificio {x}|Finca {x}|Parque Empresarial {x}", "it": "Palazzo {x}|Cascina {x}|Località {x}|Frazione {x}", "nl": "Huize {x}|Hoeve {x}|Gebouw {x}|Bedrijvenpark {x}",
    "pl": "Osiedle {x}|Dwór {x}", "pt": "Quinta {x}|Edifício {x}", "sv": "{x} gård|Hus C", "da": "{x} gård|Gården {x}",
}  # fmt: skip
"""Rows of an address that look like names and are none."""
ROLES = {"en": "(registered charity {n})|t/a {x}|a division of {x} Group|Est. {y}|Proprietor: {p}|incorporating {x} & Co|part of the {x} family|Chartered Surveyors|(in liquidation)", "de": "Inh. {p}|Inhaber {p}|seit {y}|Betriebs-GmbH|Meisterbetrieb|Steuerberatungsgesellschaft|Ein Unternehmen der {x}-Gruppe|vorm. {x}",
         "fr": "Maison fondée en {y}|Gérant : {p}|Expert-comptable|Groupe {x}", "nl": "sinds {y}|Eigenaar {p}|onderdeel van {x}", "it": "dal {y}|di {p}|Titolare {p}", "es": "desde {y}|Titular: {p}|Grupo {x}", "pl": "rok założenia {y}|właściciel {p}", "pt": "desde {y}|Gerente: {p}", "sv": "Sedan {y}|Innehavare {p}"}  # fmt: skip
"""What a supplier adds to its name, and is none of it."""
PUBLIC = {
    "en": ("{t} Town Council", "{t} Borough Council", "University of {t}", "{t} Primary School", "{t} Hospital Trust", "Department of Works, {t}", "The {t} Museum", "{t} Sailing Club", "Parish of St {x}"),
    "de": ("Stadt {t}", "Gemeinde {t}", "Landkreis {t}", "Universität {t}", "Museum {t}", "Amt für {x}, {t}", "Klinikum {t}", "Stiftung {x}", "Verein der Freunde {t}"), "fr": ("Mairie de {t}", "Commune de {t}", "Lycée {x}", "CHU de {t}", "Musée de {t}", "Association {x}"),
    "es": ("Ayuntamiento de {t}", "Museo de {t}", "Universidad de {t}", "Fundación {x}"), "it": ("Comune di {t}", "Università di {t}", "Museo di {t}", "Fondazione {x}"), "nl": ("Gemeente {t}", "Stichting {x}", "Universiteit {t}", "Museum {t}"),
    "pl": ("Gmina {t}", "Urząd Miasta {t}", "Muzeum w {t}", "Fundacja {x}"), "pt": ("Câmara Municipal de {t}", "Junta de Freguesia de {t}", "Museu de {t}"), "sv": ("{t} kommun", "Stiftelsen {x}", "{t} museum"), "da": ("{t} Kommune", "{t} Museum", "Foreningen {x}"),
    "no": ("{t} kommune", "{t} museum", "Stiftelsen {x}"), "fi": ("{t}n kaupunki", "{x} säätiö", "{t}n museo"), "cs": ("Město {t}", "Obec {t}", "Muzeum {t}"), "hu": ("{t} Önkormányzat", "{t} Múzeum"), "ro": ("Primăria {t}", "Muzeul {t}"),
}  # fmt: skip
STREETS = {
    "en": ("{n} {x} Lane", "{n} {x} Road", "Unit {n}, {x} Quay", "The {x} Works", "{n} {x} Street", "{x} House, {n} Dock Street", "PO Box {n}", "Suite {n}, {x} Plaza"),
    "de": ("{x}straße {n}", "{x}weg {n}", "Am {x} {n}", "Postfach {n}", "{x}-Allee {n}a", "{x}str. {n}"), "fr": ("{n}, rue du {x}", "{n} quai {x}", "ZI {x}, lot {n}", "{n} bis avenue {x}", "BP {n}"),
    "es": ("Calle {x}, {n}", "C/ {x} nº {n}", "Polígono {x}, nave {n}", "Avda. {x} {n}"), "it": ("Via {x}, {n}", "Viale {x} {n}", "Piazza {x}, {n}"), "nl": ("{x}straat {n}", "{x}kade {n}", "Postbus {n}"),
    "pl": ("ul. {x}a {n}", "al. {x} {n}/2", "os. {x} {n}"), "pt": ("Rua {x}, {n}", "Av. {x} {n}", "Largo {x} {n}"), "sv": ("{x}gatan {n}", "{x}vägen {n}", "Box {n}"), "da": ("{x}vej {n}", "{x}gade {n}, 2. tv."),
    "no": ("{x}veien {n}", "{x}gata {n}", "Postboks {n}"), "fi": ("{x}katu {n}", "{x}tie {n} A 4"), "cs": ("{x}ova {n}", "nám. {x} {n}"), "hu": ("{x} utca {n}.", "{x} út {n}."), "ro": ("Str. {x} nr. {n}", "Bd. {x} {n}"),
}  # fmt: skip
POSTCODES = {"GB": "A9 9AA", "IE": "A99 A9A9", "US": "99999", "AU": "9999", "CA": "A9A 9A9", "NL": "9999 AA", "PL": "99-999", "PT": "9999-999",
             "SE": "999 99", "CZ": "999 99", "SK": "999 99", "DK": "9999", "NO": "9999", "CH": "9999", "AT": "9999", "BE": "9999", "HU": "9999", "RO": "999999",
             "LU": "L-9999", "GR": "999 99"}  # fmt: skip
COUNTRIES = {"GB": "United Kingdom", "IE": "Ireland", "US": "USA", "DE": "Deutschland", "AT": "Österreich", "CH": "Schweiz", "FR": "France", "ES": "España",
             "IT": "Italia", "NL": "Nederland", "PL": "Polska", "PT": "Portugal", "SE": "Sverige", "DK": "Danmark", "NO": "Norge", "FI": "Suomi", "CZ": "Česko",
             "BE": "Belgique", "HU": "Magyarország", "RO": "România"}  # fmt: skip
_TAX = {"DE": "#########", "FR": "###########", "NL": "#########B0#", "AT": "U########", "BE": "0#########", "ES": "B########", "IT": "###########",
        "PL": "##########", "PT": "5########", "SE": "##########01", "DK": "########", "FI": "########", "CZ": "########", "IE": "#######X", "LU": "########",
        "SI": "########", "HU": "########", "EE": "10#######", "SK": "##########", "RO": "########"}  # fmt: skip
_BANK = {"DE": "#" * 18, "GB": "XXXX" + "#" * 14, "FR": "#" * 23, "NL": "XXXX" + "#" * 10, "AT": "#" * 16, "BE": "#" * 12, "ES": "#" * 20, "PL": "#" * 24, "PT": "#" * 21,
         "SE": "#" * 20, "DK": "#" * 14, "FI": "#" * 14, "CZ": "#" * 20, "CH": "#" * 17, "NO": "#" * 11, "IE": "XXXX" + "#" * 14, "IT": "X" + "#" * 22, "HU": "#" * 24,
         "RO": "XXXX" + "#" * 16, "SK": "#" * 20, "LU": "#" * 16, "EE": "#" * 16, "SI": "#" * 15, "LT": "#" * 16, "GR": "#" * 23, "HR": "#" * 17}  # fmt: skip
POOL = 120
_ONSET = [
    "B",
    "Br",
    "C",
    "D",
    "Dr",
    "F",
    "G",
    "Gr",
    "H",
    "J",
    "K",
    "Kl",
    "L",
    "M",
    "N",
    "P",
    "Q",
    "R",
    "S",
    "Sch",
    "St",
    "T",
    "Tr",
    "V",
    "W",
    "Z",
]
_NUCLEUS = [
    "a",
    "e",
    "i",
    "o",
    "u",
    "ai",
    "au",
    "ea",
    "ee",
    "ie",
    "oa",
    "ö",
    "ü",
    "å",
    "ø",
    "é",
    "á",
]
_CODA = ["l", "m", "n", "r", "s", "t", "nd", "rt", "ck", "ll", "ng", "sch", "x", "lm", "bb"]
_TAIL = ("ow", "er", "mann", "sen", "ini", "ez", "ski", "ford", "ley", "ard", "quist", "berg", "aux", "mere", "ton", "wick", "ová", "ák", "escu", "nen", "ado", "veld", "holm", "")  # fmt: skip


def filled(pattern: str, chance: random.Random) -> str:
    """A pattern with # as digits and X or A as capital letters, 9 as digits."""
    return "".join(
        chance.choice("0123456789") if sign in "#9" else chance.choice("ABCDEFGHJKLMNPRSTUVW") if sign in "XA" else sign
        for sign in pattern
    )  # fmt: skip


@cache
def _tax_ids(country: str, held: bool) -> tuple[str, ...]:
    chance = random.Random(f"tax {country} {held}")
    found: list[str] = []
    while len(found) < POOL:
        text = filled(_TAX[country], chance) if country in _TAX else filled("#########", chance)
        if country in _TAX:
            if _holds(country + text):
                found.append(text)
        elif country != "GB" or gb_vat.is_valid(text):
            found.append(text)
    return tuple(found)


def _holds(text: str) -> bool:
    try:
        eu_vat.validate(text)
    except ValidationError:
        return False
    return True


def word(chance: random.Random, language: str, held: bool = False) -> str:
    """A name: of people or a place where the language is spoken, or one that nobody has."""
    roll = chance.random()
    if roll < 0.4:
        return vocabulary.surname(chance, language, held)
    if roll < 0.6:
        return vocabulary.town(chance, language, held)
    if roll < 0.7:
        return vocabulary.term(chance, language).capitalize()
    return made_up(chance)


def person(chance: random.Random, language: str, held: bool = False) -> str:
    """First name and family name, or the first only as its letter."""
    called = vocabulary.first(chance, language)
    if chance.random() < 0.15:
        called = called[0] + "."
    family = (
        vocabulary.surname(chance, language, held) if chance.random() < 0.75 else made_up(chance)
    )
    return f"{called} {family}"


def made_up(chance: random.Random) -> str:
    """A name that nobody has."""
    middle = chance.choice(_NUCLEUS) + chance.choice(_CODA)
    if chance.random() < 0.35:
        middle += chance.choice("aeiou") + chance.choice("lmnrst")
    return chance.choice(_ONSET) + middle + chance.choice(_TAIL)


@dataclass
class Party:
    """Somebody: name as printed, further rows of the address, numbers."""

    country: str
    name: str
    address: list[str]
    tax_id: str
    iban: str
    rows: list[str] = field(default_factory=list)
    """What stands between name and street: department, attention, a second line of the name."""

    @property
    def language(self) -> str:
        """Of the country."""
        return LANGUAGE[self.country]


def party(chance: random.Random, country: str, held: bool, *, buyer: bool = False) -> Party:
    """A party of a country."""
    language = LANGUAGE[country]

    def named() -> str:
        return word(chance, language, held)

    town = vocabulary.town(chance, language, held) if chance.random() < 0.6 else made_up(chance)
    street = named()
    roll = chance.random()
    who = person(chance, language, held)
    trades = TRADES[language].split()
    usual = EVERYDAY.get(language)
    if chance.random() < 0.22 and usual is not None:
        name = _everyday(chance, language, held)
    elif buyer and chance.random() < 0.05 and language in HONORIFICS:
        name = f"{chance.choice(HONORIFICS[language].split('|'))} {chance.choice([who.split()[0], who[0] + '.'])} {named()}"
    elif roll < (0.2 if buyer else 0.1):
        name = chance.choice(PUBLIC[language]).format(t=town, x=street)
    elif roll < 0.25:
        title = chance.choice(["", "", "", "Dr. ", "Dipl.-Ing. ", "Prof. "])
        name = (
            title
            + who
            + chance.choice(["", "", f" {chance.choice(trades)}", f", {chance.choice(trades)}"])
        )
    elif roll < 0.45:
        name = chance.choice([
            f"{named()} {chance.choice(trades)}", f"{named()} & {named()}", f"{chance.choice(trades)} {named()}",
            named(), f"The {named()} {chance.choice(trades)}", f"{chance.choice(trades)} {chance.choice(trades)}",
            f"{named()}{named().lower()}", f"{named()}, {named()} & Partner",
        ])  # fmt: skip
    else:
        form = chance.choice(FORMS[language])
        base = chance.choice([
            named(), f"{named()} {chance.choice(trades)}", f"{named()} & {named()}", f"{chance.choice(trades)} {named()}",
            f"{named()} {chance.choice(trades)} {named()}", f"{named()[:3].upper()} {chance.choice(trades)}", f"{who}",
        ])  # fmt: skip
        name = f"{base}, {form}" if chance.random() < 0.1 else f"{base} {form}"
    if chance.random() < 0.15:
        name = name.upper()
    pattern = POSTCODES.get(country, "99999")
    post = filled(pattern, chance)
    if country == "GB":
        post = f"{filled('AA9', chance)} {filled('9AA', chance)}"
    if country == "US":
        place = f"{town}, {filled('AA', chance)} {post}"
    elif language == "en" and country in ("GB", "AU", "CA", "IE"):
        place = f"{town} {post}"
    else:
        place = f"{post} {town}"
    address = [chance.choice(STREETS[language]).format(x=street, n=chance.randrange(1, 190)), place]
    if country == "GB" and chance.random() < 0.3:
        address[1:] = [town, post]
    if chance.random() < 0.25:
        address.append(COUNTRIES.get(country, country))
    rows = []
    if chance.random() < (0.35 if buyer else 0.1):
        rows.append(chance.choice([
            department(chance, language),
            f"{chance.choice(['attn', 'z. Hd.', 'c/o', 'FAO', 'att.', 't.a.v.', 'À l’attention de'])} {who}", who,
            chance.choice(trades), f"{chance.choice(trades)} & {chance.choice(trades)}",
        ]))  # fmt: skip
    if chance.random() < 0.15 and language in HONORIFICS:
        rows.insert(0, f"{chance.choice(HONORIFICS[language].split('|'))} {chance.choice([who, who[0] + '. ' + named()])}")  # fmt: skip
    if chance.random() < 0.2 and language in HOUSES:
        first, second, _ = EVERYDAY.get(language, EVERYDAY["en"])
        place = chance.choice(HOUSES[language].split("|"))
        rows.append(place.format(x=named(), t=chance.choice(second.split()), a=chance.choice(first.split())))  # fmt: skip
    tax_id = chance.choice(_tax_ids(country, held))
    bank = country if country in _BANK else "DE"
    body = filled(_BANK[bank], chance)
    account = bank + iban.calc_check_digits(bank + "00" + body) + body
    return Party(
        country=country, name=name, address=address, tax_id=tax_id, iban=account, rows=rows
    )


def _everyday(chance: random.Random, language: str, held: bool) -> str:
    """A name made of everyday words, with a legal form or without."""

    def named() -> str:
        return word(chance, language, held)

    def thing(usual: str) -> str:
        if chance.random() < 0.4:
            return vocabulary.term(chance, language).capitalize()
        return chance.choice(usual.split())

    first, second, trades = EVERYDAY[language]
    one, two = thing(first), thing(second)
    trade = chance.choice(trades.split("|"))
    if chance.random() < 0.2 and len((said := vocabulary.trade(chance, language)).split()) < 3:
        trade = said
    who = person(chance, language, held)
    base = chance.choice([
        f"{one} {two} {trade}", f"{two} {trade}", f"{trade} {named()}", f"{named()} {trade}", f"{trade} {who}", f"{one} {trade}", f"{one} {two}", f"{trade} {one} {two}",
        f"{named()} & {named()} {trade}", f"{trade} {two}", f"{trade} {one} {named()}", f"{who} {trade}", f"{one}{two.lower()}", f"{one} & {two}", f"{two} {one} {two}",
        f"{trade} di {who[0]}. {named()} & C." if language == "it" else f"The {one} {two} {trade}" if language == "en" else f"{trade} {named()}",
    ])  # fmt: skip
    if chance.random() < 0.5:
        base += " " + chance.choice(FORMS[language])
    roll = chance.random()
    return base.upper() if roll < 0.12 else base.lower() if roll < 0.16 else base


DEPARTMENTS = {"en": "Accounts Payable|Finance|Accounts|Finance Department|Purchase Ledger|Purchasing|Accounts Office|Facilities|The Bursar|Treasurer", "de": "Kreditorenbuchhaltung|Buchhaltung|Rechnungseingang|Einkauf|Verwaltung|Kämmerei|Abteilung Finanzen|Zentrale Dienste", "fr": "Service comptabilité|Comptabilité fournisseurs|Service achats|Direction financière",
               "es": "Contabilidad|Administración|Dpto. de compras", "it": "Ufficio acquisti|Amministrazione|Contabilità fornitori", "nl": "Crediteuren|Administratie|Inkoop|Financiën", "pl": "Księgowość|Dział zakupów", "pt": "Contabilidade|Financeiro", "sv": "Ekonomi|Leverantörsreskontra", "da": "Bogholderi|Økonomi"}  # fmt: skip
"""Parts of houses that bills are sent to."""


def department(chance: random.Random, language: str) -> str:
    """A part of a house that bills are sent to."""
    return chance.choice(DEPARTMENTS.get(language, "Finance").split("|"))


def salute(chance: random.Random, language: str) -> str:
    """What stands before a name in an address."""
    return chance.choice(SALUTES.get(language, SALUTES["en"]).split("|"))


def role(chance: random.Random, language: str) -> str:
    """What a supplier says of itself beside its name."""
    text = chance.choice(ROLES.get(language, ROLES["en"]).split("|"))
    return text.format(
        x=word(chance, language), y=chance.randrange(1880, 2022), n=chance.randrange(10**5, 10**7), p=person(chance, language)
    )  # fmt: skip


def tax_shown(chance: random.Random, who: Party) -> str:
    """A tax id as its owner prints it."""
    bare, country = who.tax_id, who.country
    if country == "GB":
        grouped = f"{bare[:3]} {bare[3:7]} {bare[7:]}"
        return chance.choice([f"GB{bare}", f"GB {grouped}", grouped, bare, f"GB {bare}"])
    if country == "CH":
        return f"CHE-{bare[:3]}.{bare[3:6]}.{bare[6:]}" + chance.choice(["", " MWST", " TVA"])
    if country == "NO":
        return chance.choice(
            [f"NO {bare} MVA", f"{bare} MVA", f"{bare[:3]} {bare[3:6]} {bare[6:]} MVA", bare]
        )
    if country in ("US", "AU", "CA", "MX"):
        return chance.choice([f"{bare[:2]}-{bare[2:]}", bare, f"{bare[:2]} {bare[2:5]} {bare[5:]}"])
    if country == "PL":
        return chance.choice(
            [bare, f"PL{bare}", f"{bare[:3]}-{bare[3:6]}-{bare[6:8]}-{bare[8:]}", f"PL {bare}"]
        )
    if country in ("DK", "FI", "IT", "HU", "RO", "PT", "ES", "SE", "CZ"):
        return chance.choice([country + bare, bare, f"{country} {bare}", country + bare])
    if country == "FR":
        return chance.choice(
            [
                f"FR{bare}",
                f"FR {bare[:2]} {bare[2:]}",
                f"FR {bare[:2]} {bare[2:5]} {bare[5:8]} {bare[8:]}",
            ]
        )
    prefix = {"GR": "EL"}.get(country, country)
    return chance.choice(
        [
            prefix + bare,
            prefix + bare,
            f"{prefix} {bare}",
            f"{prefix} {bare[:3]} {bare[3:6]} {bare[6:]}",
        ]
    )


def account_shown(chance: random.Random, who: Party) -> str:
    """An account as printed."""
    text = who.iban
    grouped = " ".join(text[at : at + 4] for at in range(0, len(text), 4))
    return chance.choice([grouped, grouped, grouped, text])
