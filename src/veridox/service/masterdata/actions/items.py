"""What people show of items: a vendor's code for one of ours."""

from django.db import transaction

from veridox.service.accounts.actors import Actor
from veridox.service.masterdata.models import Item, Vendor
from veridox.service.trail.record import record


@transaction.atomic
def learn_code(actor: Actor, vendor: Vendor, code: str, vendor_code: str) -> bool:
    """Remember that a vendor calls an item of ours so; whether that is new.

    A code that is known for an item of this vendor stays that item's. What is learned belongs to no
    ledger's list, so that none takes it away.
    """
    if Item.objects.filter(vendor=vendor, vendor_code=vendor_code, gone_at=None).exists():
        return False
    bare = Item.objects.filter(vendor=vendor, code=code, vendor_code="", gone_at=None).first()
    unit, packs = (bare.unit, bare.packs) if bare else ("", {})
    item, new = Item.objects.get_or_create(
        vendor=vendor, code=code, vendor_code=vendor_code,
        defaults={"unit": unit, "packs": packs},
    )  # fmt: skip
    if not new and item.gone_at is None:
        return False
    item.gone_at = None
    item.save()
    details = {"vendor": vendor.code, "code": code, "vendor_code": vendor_code}
    record(actor, "item.learned", "vendor", vendor.pk, details)
    return True
