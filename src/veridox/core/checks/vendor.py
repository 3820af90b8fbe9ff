"""Do we know the vendor, and may we pay them?"""

from collections.abc import Iterator

from veridox.core.checks.evidence import at_field
from veridox.core.checks.table import check
from veridox.core.facts import Facts
from veridox.core.findings import VENDORS, Code, Finding


@check(
    place=70,
    needs=("vendor", "vendor_contradiction", "near_vendors"),
    codes={
        "vendor.unknown": Code(
            title="No vendor in the master data fits",
            why="Bills are only posted to vendors that the finance system knows.",
            accepted=False,
            helped_by=VENDORS,
        ),
        "vendor.unclear": Code(
            title="More than one vendor fits",
            why="A person has to choose; guessing could pay the wrong one.",
            accepted=False,
            helped_by=VENDORS,
        ),
        "vendor.contradicted": Code(
            title="What the bill says of the seller contradicts itself",
            why="Name and tax id are those of different companies: a misreading, or a forged bill. "
            "A person chooses the vendor.",
            accepted=False,
            alone=False,
            helped_by=VENDORS,
        ),
        "vendor.blocked": Code(
            title="The vendor is blocked",
            why="The finance system does not allow bills of this vendor at present.",
            accepted=False,
            helped_by=VENDORS,
        ),
    },
)
def vendor_known(facts: Facts) -> Iterator[Finding]:
    """`vendor.contradicted`, `vendor.unknown`, `vendor.unclear`, `vendor.blocked`."""
    reading = facts.reading
    name = reading.text("seller.name") or "no name found"
    if facts.vendor is None and facts.vendor_contradiction:
        yield at_field(
            reading,
            "seller.name",
            code="vendor.contradicted",
            message=facts.vendor_contradiction,
            also=("seller.tax_id",),
            found=name,
            hint="Correct what was misread, or choose the vendor.",
        )
    elif facts.vendor is None:
        near = facts.near_vendors
        listed = "; ".join(
            f"{match.vendor.code} {match.vendor.name} ({match.evidence})" for match in near[:3]
        )
        if len(near) > 1 and near[0].score > 0.9:
            yield at_field(
                reading,
                "seller.name",
                code="vendor.unclear",
                message=f"It is not clear which vendor {name!r} is: {listed}.",
                also=("seller.tax_id",),
                found=name,
                hint="Choose the vendor, or correct what was misread.",
            )
        else:
            nearest = f" Nearest: {listed}." if near else ""
            yield at_field(
                reading,
                "seller.name",
                code="vendor.unknown",
                message=f"No vendor in the master data fits {name!r}.{nearest}",
                also=("seller.tax_id",),
                found=name,
                hint="Have the vendor set up in the finance system and import it, "
                "or correct the name.",
            )
    elif facts.vendor.blocked:
        yield at_field(
            reading,
            "seller.name",
            code="vendor.blocked",
            message=f"{facts.vendor.name} ({facts.vendor.code}) is blocked for bills.",
            found=facts.vendor.code,
            hint="Ask whoever blocked the vendor.",
        )
