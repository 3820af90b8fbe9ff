"""What suppliers print around their names and what is no part of them: trade, saying, people, branch."""

import random

from tools.grammar import vocabulary
from tools.grammar.deal import thing
from tools.grammar.people import EVERYDAY, TRADES, person, role
from tools.grammar.sheet import Part

SAYINGS = {
    "en": "Your partner for {t}|Everything for {t}|{t} since {y}|{t} you can trust|Family run since {y}|The {t} people|Experts in {t}|{t} · {u} · {v}|Est. {y}|Proud to serve {x}|{t}, {u} and more",
    "de": "Ihr Partner für {t}|Alles für {t}|{t} seit {y}|Meisterbetrieb seit {y}|{t} vom Fachmann|Wir machen {t}|Gut beraten in {x}|{t} · {u} · {v}|Qualität aus {x}",
    "fr": "Votre partenaire {t}|Tout pour {t}|{t} depuis {y}|Spécialiste de {t}|Maison fondée en {y}|{t} - {u} - {v}|Artisan à {x}", "es": "Su socio en {t}|Todo para {t}|{t} desde {y}|Especialistas en {t}|Desde {y}|{t} - {u} - {v}",
    "it": "Il vostro partner per {t}|Tutto per {t}|{t} dal {y}|Specialisti in {t}|Dal {y}|{t} - {u} - {v}", "nl": "Uw partner in {t}|Alles voor {t}|{t} sinds {y}|Specialist in {t}|Vakwerk uit {x}|{t} - {u} - {v}",
    "pl": "{t} od {y} roku|Wszystko dla {t}|Rok założenia {y}|{t} - {u} - {v}", "pt": "Tudo para {t}|{t} desde {y}|Especialistas em {t}|Desde {y}", "sv": "{t} sedan {y}|Allt för {t}|Din partner för {t}", "da": "{t} siden {y}|Alt til {t}|Din partner i {t}",
    "no": "{t} siden {y}|Alt for {t}", "fi": "{t} vuodesta {y}|Kaikki {t}", "cs": "{t} od roku {y}|Vše pro {t}", "hu": "{t} {y} óta|Minden, ami {t}", "ro": "{t} din {y}|Totul pentru {t}",
}  # fmt: skip
BRANCHES = {
    "en": "{x} branch|Branch: {x}|{x} depot|Head office|{x} office|Store {n}|Region {x}", "de": "Niederlassung {x}|Filiale {x}|Werk {x}|Zweigstelle {n}|Büro {x}|Zentrale", "fr": "Agence de {x}|Succursale {x}|Siège social|Dépôt de {x}",
    "es": "Delegación {x}|Oficina central|Tienda {n}", "it": "Filiale di {x}|Sede legale|Punto vendita {n}", "nl": "Vestiging {x}|Hoofdkantoor|Filiaal {n}", "pl": "Oddział {x}|Centrala|Sklep nr {n}",
}  # fmt: skip
DEGREES = {
    "en": "BSc|MRICS|FCCA|LL.M.|Proprietor|Director|Chartered Surveyor|BVSc MRCVS|Master Builder|Translator|Consultant", "de": "Inhaber|Geschäftsführer|Dipl.-Ing.|Rechtsanwältin|Steuerberater|Architekt|Malermeister|Fachärztin|Notar|Heilpraktikerin|staatl. gepr. Übersetzer",
    "fr": "Gérant|Avocat à la Cour|Architecte DPLG|Traductrice|Artisan|Expert-comptable", "es": "Abogado|Arquitecta|Gerente|Traductor jurado", "it": "Titolare|Avvocato|Geometra|Commercialista|Traduttrice", "nl": "Eigenaar|Advocaat|Vertaler|Directeur|Fysiotherapeut", "pl": "Właściciel|Adwokat|Architekt",
}  # fmt: skip
"""What people who work for themselves put behind their names."""


def trades(chance: random.Random, language: str) -> str:
    """One trade, or a few goods and works with marks between."""
    if chance.random() < 0.45:
        usual = EVERYDAY.get(language)
        known = [*TRADES[language].split(), *(usual[2].split("|") if usual else ())]
        said = chance.choice(known)
        if chance.random() < 0.3:
            said += f" {chance.choice(['&', '+', '/', 'und' if language == 'de' else '&'])} {chance.choice(known)}"
        return said
    if chance.random() < 0.3:
        return vocabulary.trade(chance, language)
    mark = chance.choice([" · ", ", ", " | ", " - ", " – ", " & ", " / ", " • "])
    some = [thing(chance, language) for _ in range(chance.choice([2, 2, 3, 3, 4]))]
    while len(mark.join(some)) > 60 and len(some) > 1:
        some.pop()
    return mark.join(some)


def saying(chance: random.Random, language: str) -> str:
    """What a supplier says of itself to be liked."""
    if chance.random() < 0.4:
        text = vocabulary.terms(chance, language, chance.randrange(2, 7))
        text = text[:1].upper() + text[1:] if chance.random() < 0.7 else text
        return text + chance.choice(["", "", ".", "!", "..."])
    text = chance.choice(SAYINGS.get(language, SAYINGS["en"]).split("|"))
    word = vocabulary.term
    return text.format(
        t=word(chance, language), u=word(chance, language), v=word(chance, language),
        x=vocabulary.town(chance, language), y=chance.randrange(1870, 2024),
    )  # fmt: skip


def who_works(chance: random.Random, language: str) -> str:
    """The people of a house: one or two, with what they are."""
    who = person(chance, language)
    degree = chance.choice(DEGREES.get(language, DEGREES["en"]).split("|"))
    return chance.choice([
        who, f"{who}, {degree}", f"{degree} {who}", f"{who} ({degree})", f"{who} & {person(chance, language)}", f"{degree}: {who}",
    ])  # fmt: skip


def branch(chance: random.Random, language: str) -> str:
    """Which house of a supplier's it is."""
    text = chance.choice(BRANCHES.get(language, BRANCHES["en"]).split("|"))
    return text.format(x=vocabulary.town(chance, language), n=chance.randrange(2, 900))


def beside_name(chance: random.Random, language: str) -> list[Part]:
    """A row that stands above or below a supplier's name and is none of it."""
    roll = chance.random()
    if roll < 0.4:
        part: Part = (trades(chance, language), "text")
    elif roll < 0.62:
        part = (saying(chance, language), "text")
    elif roll < 0.8:
        part = (who_works(chance, language), "other.party")
    elif roll < 0.88:
        part = (branch(chance, language), "text")
    else:
        part = (role(chance, language), "text")
    text, tag = part
    if chance.random() < 0.12:
        text = text.upper()
    elif chance.random() < 0.08:
        text = chance.choice(['"{}"', "„{}“", "- {} -", "({})", "« {} »"]).format(text)
    return [(text, tag)]
