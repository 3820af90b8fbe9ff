"""Who bills: made-up suppliers with names, addresses and tax ids whose check digits are right."""

import random
from collections.abc import Callable

from stdnum import luhn
from stdnum.es import cif
from stdnum.fr import siren
from stdnum.iso7064 import mod_11_10
from stdnum.pt import nif

START = ("Brine", "Quill", "Kelp", "Tide", "Marl", "Fen", "Osprey", "Cobble", "Lantern", "Wick",
         "Harrow", "Sedge", "Plover", "Tansy", "Grim", "Alder", "Rook", "Shale", "Skua", "Thrift",
         "Samphire", "Dunlin", "Gannet", "Marram", "Eider", "Petrel")  # fmt: skip
END = (
    "fold",
    "mere",
    "fin",
    "haven",
    "stead",
    "wick",
    "holm",
    "ford",
    "bury",
    "gate",
    "ness",
    "wold",
)
TRADES = {
    "en": ("Marine Supplies", "Pumps", "Cleaning", "Engineering", "Foods", "Print", "Electrical"),
    "de": ("Pumpentechnik", "Gebäudereinigung", "Handel", "Elektro", "Druckerei", "Großhandel"),
    "fr": ("Services", "Peinture", "Électricité", "Imprimerie", "Négoce", "Plomberie"),
    "es": ("Suministros", "Limpiezas", "Electricidad", "Imprenta", "Distribuciones"),
    "it": ("Forniture", "Impianti", "Stampa", "Elettrica", "Commerciale", "Pulizie"),
    "nl": ("Techniek", "Groothandel", "Schoonmaak", "Drukwerk", "Installaties"),
    "pl": ("Usługi", "Hurtownia", "Elektro", "Drukarnia", "Serwis"),
    "pt": ("Serviços", "Comércio", "Limpezas", "Gráfica", "Instalações"),
    "sv": ("Teknik", "El", "Städ", "Tryckeri", "Grossist"),
}  # fmt: skip
FORMS = {
    "en": ("Ltd", "Limited", "plc", "LLP", "& Sons", "Inc.", ""), "nl": ("B.V.", "BV", "V.O.F.", "N.V.", ""),
    "de": ("GmbH", "GmbH & Co. KG", "AG", "e.K.", "OHG", "UG (haftungsbeschränkt)", ""),
    "fr": ("SARL", "SAS", "S.A.", "EURL", "& Fils", ""), "es": ("S.L.", "S.A.", "SLU", "e Hijos", ""),
    "it": ("S.r.l.", "S.p.A.", "Srl", "S.n.c.", "& Figli", ""), "pl": ("Sp. z o.o.", "S.A.", "sp. j.", ""),
    "pt": ("Lda", "Lda.", "Unipessoal Lda", "S.A.", ""), "sv": ("AB", "HB", "Aktiebolag", ""),
}  # fmt: skip
FIRST = (
    "Ada",
    "Bo",
    "Ilse",
    "Marten",
    "Oona",
    "Pia",
    "Runa",
    "Sorrel",
    "Tam",
    "Wren",
    "Yves",
    "Zoltan",
)
STREETS = {
    "en": ("{n} {x} Lane", "{n} {x} Road", "Unit {n}, {x} Quay", "The {x} Works, {n} Dock Street"),
    "de": ("{x}straße {n}", "{x}weg {n}", "Am {x} {n}"), "fr": ("{n}, rue du {x}", "{n} quai {x}", "ZI {x}, lot {n}"),
    "es": ("Calle {x}, {n}", "C/ {x} nº {n}", "Polígono {x}, nave {n}"), "it": ("Via {x}, {n}", "Viale {x} {n}"),
    "nl": ("{x}straat {n}", "{x}kade {n}"), "pl": ("ul. {x}a {n}", "al. {x} {n}/2"), "pt": ("Rua {x}, {n}", "Av. {x} {n}"),
    "sv": ("{x}gatan {n}", "{x}vägen {n}"),
}  # fmt: skip


def bill_number(chance: random.Random) -> str:
    """The number of a bill, as suppliers of all sorts count theirs."""
    year, month = chance.choice(["2026", "26"]), chance.randrange(1, 13)
    count = chance.randrange(1, chance.choice([20, 200, 2_000, 99_999, 99_999]))
    letters = "".join(
        chance.choice("ABCDEFGHKLMNPRSTVW") for _ in range(chance.choice([1, 2, 2, 3]))
    )
    return chance.choice([
        f"{count}", f"{count:05d}", f"{count:08d}", f"RE-{year}-{count:04d}", f"{year}/{count:05d}",
        f"INV{count:06d}", f"INV-{count:04d}", f"F{year}{count:05d}", f"{letters}/{count}",
        f"{letters}{count:05d}", f"{letters}-{count}-{chance.choice('ISQ')}", f"{letters}/{month:02d}/{year}/{count % 999}",
        f"{year}{month:02d}-{count % 9999}", f"{year}.{count:04d}", f"{letters} {year}-{count % 9999}",
        f"{letters}-{count}", f"{letters}-{count % 9999:04d}", f"{letters} {count}", f"{letters}{count}",
        f"{count % 999:03d}-{count:05d}", f"{letters}{year}-{count:04d}/{chance.randrange(1, 9)}",
    ])  # fmt: skip


def supplier(chance: random.Random, language: str) -> tuple[str, ...]:
    """Name and address of nobody, as in the language's country."""
    start, end = chance.choice(START), chance.choice(END)
    trade, form = chance.choice(TRADES[language]), chance.choice(FORMS[language])
    person = f"{chance.choice(FIRST)} {chance.choice(START)}{chance.choice(END)}"
    name = chance.choice([
        f"{start}{end} {form}", f"{start}{end} {trade} {form}", f"{start} & {chance.choice(START)} {form}",
        f"{trade} {start}{end} {form}", f"{start}{end}", f"{start}{end} {trade}", person, f"{person} {trade}",
        f"{chance.choice(FIRST)}'s {trade}" if language == "en" else f"{trade} {start}{end} {form}",
    ]).strip()  # fmt: skip
    if chance.random() < 0.15:
        name = name.upper()
    street = chance.choice(STREETS[language]).format(
        n=chance.randrange(1, 180), x=chance.choice(START)
    )
    town = f"{chance.choice(START)}{chance.choice(END)}"
    post = _post(chance, language)
    place = f"{town} {post}" if language == "en" else f"{post} {town}"
    more = [place]
    if language == "en" and chance.random() < 0.3:
        more = [town, post]
    if chance.random() < 0.3:
        more.append({"en": "United Kingdom", "de": "Deutschland", "fr": "France", "es": "España",
                     "it": "Italia", "nl": "Nederland", "pl": "Polska", "pt": "Portugal",
                     "sv": "Sverige"}[language])  # fmt: skip
    return (name, street, *more)


def _post(chance: random.Random, language: str) -> str:
    digits = f"{chance.randrange(10_000, 99_999)}"
    forms: dict[str, Callable[[], str]] = {
        "en": lambda: f"{chance.choice('MKQZ')}{chance.choice('WXV')}{chance.randrange(1, 20)} "
        f"{chance.randrange(1, 9)}{chance.choice('QDZ')}{chance.choice('ADX')}",
        "nl": lambda: f"{digits[:4]} {chance.choice('KQX')}{chance.choice('ZQ')}",
        "pl": lambda: f"{digits[:2]}-{digits[2:]}", "pt": lambda: f"{digits[:4]}-{digits[1:4]}",
        "sv": lambda: f"{digits[:3]} {digits[3:]}",
    }  # fmt: skip
    return forms.get(language, lambda: digits)()


def tax_id(chance: random.Random, country: str) -> str:
    """A tax id with its country, check digits right, of nobody that we know of."""

    def figures(count: int) -> str:
        return f"{chance.randrange(10 ** (count - 1), 10**count)}"

    def british() -> str:
        bare = figures(7)
        check = 97 - sum(int(f) * w for f, w in zip(bare, range(8, 1, -1), strict=True)) % 97
        return f"{bare}{check:02d}"

    def french() -> str:
        bare = figures(8)
        bare += luhn.calc_check_digit(bare)
        siren.validate(bare)
        return f"{(12 + 3 * (int(bare) % 97)) % 97:02d}{bare}"

    def spanish() -> str:
        bare = f"B{figures(7)}"
        return bare + cif.calc_check_digits(bare)[0]

    def dutch() -> str:
        while True:
            bare = figures(8)
            check = sum(int(f) * w for f, w in zip(bare, range(9, 1, -1), strict=True)) % 11
            if check < 10:
                return f"{bare}{check}B0{chance.randrange(1, 9)}"

    def italian() -> str:
        bare = f"{figures(7)}{chance.randrange(1, 90):03d}"
        return bare + luhn.calc_check_digit(bare)

    def polish() -> str:
        while True:
            bare = figures(9)
            weights = (6, 5, 7, 2, 3, 4, 5, 6, 7)
            check = sum(int(f) * w for f, w in zip(bare, weights, strict=True)) % 11
            if check < 10:
                return f"{bare}{check}"

    def portuguese() -> str:
        bare = f"5{figures(7)}"
        return bare + nif.calc_check_digit(bare)

    def german() -> str:
        bare = figures(8)
        return bare + mod_11_10.calc_check_digit(bare)

    def swedish() -> str:
        bare = f"55{figures(7)}"
        return f"{bare}{luhn.calc_check_digit(bare)}01"

    made = {"GB": british, "FR": french, "ES": spanish, "NL": dutch, "IT": italian, "PL": polish,
            "PT": portuguese, "DE": german, "SE": swedish}  # fmt: skip
    return country + made[country]()
