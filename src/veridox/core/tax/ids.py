"""Tax ids: whose country, and whether their check digits hold. python-stdnum knows how."""

import re
from importlib import import_module
from typing import Final

from stdnum.exceptions import ValidationError

from veridox.core.tax.rates import EU

_PREFIX: Final = {"EL": "GR", "XI": "XI"}
_MODULES: Final = {
    **{country: f"stdnum.{country.lower()}.vat" for country in EU},
    "GR": "stdnum.gr.vat", "IE": "stdnum.ie.vat", "ES": "stdnum.es.nif", "IT": "stdnum.it.iva",
    "PL": "stdnum.pl.nip", "PT": "stdnum.pt.nif", "SE": "stdnum.se.vat", "FI": "stdnum.fi.alv",
    "HU": "stdnum.hu.anum", "LT": "stdnum.lt.pvm", "LU": "stdnum.lu.tva", "LV": "stdnum.lv.pvn",
    "NL": "stdnum.nl.btw", "RO": "stdnum.ro.cf", "SI": "stdnum.si.ddv", "SK": "stdnum.sk.dph",
    "AT": "stdnum.at.uid", "CZ": "stdnum.cz.dic", "DK": "stdnum.dk.cvr", "EE": "stdnum.ee.kmkr",
    "FR": "stdnum.fr.tva", "HR": "stdnum.hr.oib", "GB": "stdnum.gb.vat", "XI": "stdnum.gb.vat",
    "CH": "stdnum.ch.vat", "NO": "stdnum.no.mva", "CA": "stdnum.ca.bn",
}  # fmt: skip
"""Where python-stdnum keeps a country's form and check digits."""


def country_of(tax_id: str) -> str:
    """The country that a tax id names at its beginning (ISO 3166, `XI`); empty when none.

    `CHE-123.456.788 MWST` is Swiss, `EL` Greek; a British one may stand without GB.
    """
    bare = re.sub(r"[^A-Z0-9]", "", tax_id.upper())
    if bare.startswith("CHE"):
        return "CH"
    if bare.endswith("MVA") and bare[:9].isdigit():
        return "NO"
    if re.fullmatch(r"T\d{13}", bare):
        return "JP"
    begin = _PREFIX.get(bare[:2], bare[:2])
    return begin if begin in _MODULES else ""


def holds(tax_id: str, country: str = "") -> bool | None:
    """Whether a tax id is of its country's form and its check digits hold.

    Args:
        tax_id: as printed or kept.
        country: whose it is, where it does not say so itself.

    Returns:
        None where nobody can tell: of no known country.
    """
    whose = country_of(tax_id) or country
    bare = re.sub(r"[^A-Z0-9]", "", tax_id.upper())
    if whose == "JP":
        return bool(re.fullmatch(r"T?\d{13}", bare)) and _checks("stdnum.jp.cn", bare[-13:])
    if whose == "XI":
        return _checks(_MODULES["XI"], bare.removeprefix("XI"))
    if whose == "GR":
        bare = re.sub(r"^(EL|GR)", "", bare)
    if whose == "CH" and not bare.endswith(("MWST", "TVA", "IVA", "TPV")):
        bare += "MWST"
    module = _MODULES.get(whose)
    return None if module is None else _checks(module, bare)


def _checks(module: str, number: str) -> bool:
    try:
        import_module(module).validate(number)
    except ValidationError:
        return False
    return True
