"""Do we know the vendor, and may we pay them?"""

from collections.abc import Iterator

from veridox.core.checks.evidence import at_field
from veridox.core.checks.table import check
from veridox.core.facts import Facts
from veridox.core.findings import VENDORS, Code, Finding, Weight
from veridox.core.matching import VendorMatch
from veridox.core.matching.vendors import NAME_THRESHOLD


@check(
    place=70,
    needs=("vendor", "vendor_contradiction", "near_vendors"),
    codes={
        "vendor.unknown": Code(
            title="No vendor in the master data fits",
            why="Bills are only posted to vendors that the finance system knows.",
            do="Choose the vendor, or have it set up in the finance system and bring it in.",
            accepted=False,
            helped_by=VENDORS,
        ),
        "vendor.unclear": Code(
            title="More than one vendor fits",
            why="A person has to choose; guessing could pay the wrong one.",
            do="Choose the vendor, or correct what was misread.",
            accepted=False,
            helped_by=VENDORS,
        ),
        "vendor.contradicted": Code(
            title="What the bill says of the seller contradicts itself",
            why="Name, tax id or account are those of different companies: a misreading, or a "
            "forged bill. A person chooses the vendor.",
            do="Correct what was misread, or choose the vendor.",
            accepted=False,
            alone=False,
            helped_by=VENDORS,
        ),
        "vendor.blocked": Code(
            title="The vendor is blocked",
            why="The finance system does not allow bills of this vendor at present.",
            do="Ask whoever blocked the vendor.",
            accepted=False,
            helped_by=VENDORS,
        ),
        "vendor.gone": Code(
            title="The vendor is not in the finance system any more",
            why="The last complete list did not have it: it was taken out there, or merged into "
            "another one.",
            do="Have it set up again, or choose the vendor that took its place.",
            accepted=False,
            helped_by=VENDORS,
        ),
    },
)
def vendor_known(facts: Facts) -> Iterator[Finding]:
    """`vendor.contradicted`, `.unknown`, `.unclear`, `.blocked`, `.gone`."""
    if facts.vendor is None:
        yield _not_known(facts)
    elif facts.vendor.blocked:
        yield at_field(
            facts.reading,
            "seller.name",
            code="vendor.blocked",
            message=f"{facts.vendor.name} ({facts.vendor.code}) is blocked for bills.",
            found=facts.vendor.code,
        )
    elif facts.vendor.gone:
        yield at_field(
            facts.reading,
            "seller.name",
            code="vendor.gone",
            message=f"{facts.vendor.name} ({facts.vendor.code}) is not in the finance system any "
            "more.",
            found=facts.vendor.code,
        )


def _not_known(facts: Facts) -> Finding:
    reading, near = facts.reading, facts.near_vendors
    name = reading.text("seller.name") or "no name found"
    if facts.vendor_contradiction:
        return at_field(
            reading,
            "seller.name",
            code="vendor.contradicted",
            message=facts.vendor_contradiction,
            also=("seller.tax_id",),
            found=name,
        )
    listed = "; ".join(map(_shown, near[:3]))
    if len(near) > 1 and near[0].score >= NAME_THRESHOLD:
        return at_field(
            reading,
            "seller.name",
            code="vendor.unclear",
            message=f"It is not clear which vendor {name!r} is: {listed}.",
            also=("seller.tax_id",),
            found=name,
        )
    nearest = f" Nearest: {listed}." if near else ""
    return at_field(
        reading,
        "seller.name",
        code="vendor.unknown",
        message=f"No vendor in the master data fits {name!r}.{nearest}",
        also=("seller.tax_id",),
        found=name,
    )


def _shown(match: VendorMatch) -> str:
    return f"{match.vendor.code} {match.vendor.name} ({match.evidence}, {match.score:.0%})"


@check(
    place=72,
    needs=("vendor", "first_bill"),
    codes={
        "vendor.first_bill": Code(
            title="The first bill of this vendor",
            why="Nothing came from them before, neither here nor in the ledger's books: everything "
            "about them is new.",
            do="Make sure that somebody ordered from them.",
            lowered=True,
        ),
    },
)
def first_bill(facts: Facts) -> Iterator[Finding]:
    """`vendor.first_bill`: nothing of this vendor came before."""
    if facts.vendor is None or not facts.first_bill:
        return
    yield at_field(
        facts.reading,
        "seller.name",
        code="vendor.first_bill",
        weight=Weight.WARN,
        message=f"This is the first bill of {facts.vendor.name} ({facts.vendor.code}).",
        found=facts.vendor.code,
    )


@check(
    place=74,
    needs=("vendor", "order", "fresh"),
    codes={
        "masterdata.stale": Code(
            title="Master data have not been brought in for long",
            why="A vendor, account or order may have changed since in the finance system.",
            do="Sync, or bring in a newer table; then look at the bill again.",
            lowered=True,
        ),
    },
)
def masterdata_fresh(facts: Facts) -> Iterator[Finding]:
    """`masterdata.stale`: what this bill was compared with was not brought in for long."""
    used = [("vendors", facts.vendor is not None), ("orders", facts.order is not None)]
    for what, is_used in used:
        since = facts.fresh.get(what)
        if not is_used or since is None or facts.arrived is None:
            continue
        days = (facts.arrived - since).days
        if days > facts.settings.stale_days:
            yield Finding(
                code="masterdata.stale",
                weight=Weight.WARN,
                message=f"The {what} were last brought in on {since}, {days} days before this "
                f"came; up to {facts.settings.stale_days} are usual.",
                found=since.isoformat(),
                about=what,
                difference=f"{days} days",
                hint=f"Sync or import the {what}; what waits is checked again by itself.",
            )
