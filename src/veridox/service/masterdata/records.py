"""Rows of the master data as core's plain values."""

from veridox.core.facts import EntityRecord
from veridox.core.matching import VendorRecord
from veridox.service.masterdata.models import Entity, Vendor


def vendor_record(row: Vendor) -> VendorRecord:
    """A vendor, as far as matching and texts need it."""
    return VendorRecord(
        code=row.code,
        name=row.name,
        tax_id=row.tax_id,
        needs_order=row.needs_order,
        blocked=row.blocked,
        contact=row.email,
    )


def entity_record(row: Entity) -> EntityRecord:
    """One of our own companies."""
    return EntityRecord(code=row.code, name=row.name, tax_id=row.tax_id)
