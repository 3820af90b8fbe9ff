"""Codes of lines as they are stored: what people said, what came of it, what was posted before."""

from collections.abc import Iterable, Mapping
from decimal import Decimal
from typing import Any, Final

from veridox.core.coding import (
    DIMENSIONS,
    ByHand,
    CodedBefore,
    CodedLine,
    Dimension,
    Share,
    place_of,
)
from veridox.service.documents.models import CodedPart, Document, State

MOST: Final = 400
"""Newest posted lines of a vendor that later ones are coded from."""


def by_hand(document: Document) -> tuple[ByHand, ...]:
    """What people said of its lines."""
    return tuple(
        ByHand(
            line=place, description=said["description"], amount=said["amount"],
            codes=_codes(said["codes"]),
            shares=shares_of(said.get("shares", ())),
        )
        for key, said in document.by_hand.items()
        if (place := place_of(key)) is not None
    )  # fmt: skip


def shares_of(shares: Iterable[Mapping[str, str]]) -> tuple[Share, ...]:
    """Shares of a line from how they are stored."""
    return tuple(
        Share(
            percent=Decimal(each["percent"]) if each.get("percent") else None,
            amount=Decimal(each["amount"]) if each.get("amount") else None,
            codes=_codes(each),
        )
        for each in shares
    )


def _codes(said: Mapping[str, str]) -> dict[Dimension, str]:
    return {each: said[each.value] for each in DIMENSIONS if said.get(each.value)}


def coding_json(lines: Iterable[CodedLine]) -> list[dict[str, Any]]:
    """Codes of lines with who says each, for people."""
    return [
        {
            "line": line.at, "description": line.description, "amount": str(line.amount),
            "chance": round(line.chance, 4), "problem": line.problem,
            "parts": [
                {
                    "amount": part.amount.plain(),
                    **{
                        dimension.value: {
                            "code": coded.code, "source": coded.source.value,
                            "chance": round(coded.chance, 4), "why": coded.why,
                        }
                        for dimension, coded in part.codes.items()
                    },
                }
                for part in line.parts
            ],
        }
        for line in lines
    ]  # fmt: skip


def coded_before(vendors: Iterable[int], without: Document) -> list[CodedBefore]:
    """The newest lines of vendors that were posted, with their codes."""
    rows = CodedPart.objects.filter(
        vendor_id__in=list(vendors), document__state=State.POSTED
    ).exclude(document=without)  # fmt: skip
    names = [each.value for each in DIMENSIONS]
    return [
        CodedBefore(
            wording=row["wording"],
            codes={name: row[name] for name in names if row[name]},
        )
        for row in rows.order_by("-pk").values("wording", *names)[:MOST]
    ]
