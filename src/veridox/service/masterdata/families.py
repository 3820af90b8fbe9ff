"""Vendors that are one company: those that share a registration for tax."""

from django.db.models import Q

from veridox.core.matching import registration


def spellings(tax_id: str) -> list[str]:
    """How a tax id may stand in the master data: as it is, and with GB or without."""
    bare = registration(tax_id)
    return sorted({tax_id, bare, f"GB{bare}"}) if bare else []


def family_of(code: str, tax_id: str) -> str:
    """What vendors that are one company have in common."""
    key = registration(tax_id)
    return f"tax {key}" if key else f"code {code}"


def of_one_company(code: str, tax_id: str) -> Q:
    """Condition on a `vendor`: this one, or another record of the same company."""
    same = Q(vendor__code=code)
    return same | Q(vendor__tax_id__in=spellings(tax_id)) if registration(tax_id) else same
