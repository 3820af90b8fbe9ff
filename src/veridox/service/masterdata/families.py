"""Vendors that are one company: those that share a registration for tax, or an account."""

from django.db.models import Q

from veridox.core.matching import VendorRecord, registration
from veridox.service.masterdata.models import MarkKind, Vendor, VendorMark

FACTOR = 2
"""An account that more companies than this share is a factor's, and makes no family."""


def spellings(tax_id: str) -> list[str]:
    """How a tax id may stand in the master data: as it is, and with GB or without."""
    bare = registration(tax_id)
    return sorted({tax_id, bare, f"GB{bare}"}) if bare else []


def family_of(code: str, tax_id: str) -> str:
    """What vendors that are one company by law have in common."""
    key = registration(tax_id)
    return f"tax {key}" if key else f"code {code}"


def of_one_company(code: str, tax_id: str) -> Q:
    """Condition on a `vendor`: this one, or another record of the same company."""
    same = Q(vendor__code=code)
    return same | Q(vendor__tax_id__in=spellings(tax_id)) if registration(tax_id) else same


def family_ids(vendor: VendorRecord) -> list[int]:
    """Ids of all vendors that share a tax id or an account with one, itself among them."""
    spelled = [each for number in vendor.registered for each in spellings(number)]
    keys = [registration(number) for number in vendor.registered]
    same = Vendor.objects.filter(code=vendor.code).values_list("pk")
    if spelled:
        same = same.union(
            Vendor.objects.filter(tax_id__in=spelled).values_list("pk"),
            VendorMark.objects.filter(kind=MarkKind.TAX_ID, key__in=keys).values_list("vendor_id"),
        )
    ids = {pk for (pk,) in same}
    accounts = [each.number for each in vendor.accounts]
    if accounts:
        sharing = VendorMark.objects.filter(kind=MarkKind.ACCOUNT, key__in=accounts)
        columns = ("key", "vendor_id", "vendor__tax_id", "vendor__code")
        found = list(sharing.values_list(*columns)[:500])
        for account in accounts:
            rows = [row for row in found if row[0] == account]
            companies = {registration(tax_id) or code for _, _, tax_id, code in rows}
            if len(companies) <= FACTOR:
                ids |= {pk for _, pk, _, _ in rows}
    return sorted(ids)
