"""Numbers that vouch for themselves: accounts and tax ids whose check digits hold."""

from stdnum import iban
from stdnum.es import nif as es_nif
from stdnum.eu import vat as eu_vat
from stdnum.exceptions import ValidationError
from stdnum.gb import vat as gb_vat
from stdnum.it import iva
from stdnum.pl import nip
from stdnum.pt import nif as pt_nif
from stdnum.se import vat as se_vat


def iban_holds(text: str) -> bool:
    """Whether an account passes the checksum of ISO 13616."""
    try:
        iban.validate(text, check_country=False)
    except ValidationError:
        return False
    return True


def tax_id_holds(tax_id: str) -> bool:
    """Whether a tax id passes its country's checksum (EU VAT numbers and GB)."""
    try:
        if tax_id.startswith("GB"):
            gb_vat.validate(tax_id)
        elif tax_id[:2].isalpha():
            eu_vat.validate(tax_id)
        else:
            return _holds_at_home(tax_id)
    except ValidationError:
        return False
    return True


def _holds_at_home(tax_id: str) -> bool:
    """Whether some country takes it as it stands, without the country before it."""
    return any(each.is_valid(tax_id) for each in (gb_vat, pt_nif, nip, iva, es_nif, se_vat))
