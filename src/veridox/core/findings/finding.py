"""The one shape of a finding."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum


class Weight(StrEnum):
    """What a finding does to its document."""

    BLOCK = "block"  # a person must look before the document goes on
    WARN = "warn"  # shown and reported, stops nothing
    NOTE = "note"  # worth knowing


@dataclass(frozen=True, kw_only=True, slots=True)
class Finding:
    """One thing that a check, a reader or a ledger says about a document.

    Attributes:
        code: stable, used in pipelines and filters; what is known of it stands in one row
            (`Code`) with whoever says it.
        weight: what it does to the document.
        message: a sentence that a clerk understands, with the figures in it.
        fields: names of the fields concerned, `lines[2].amount` for a line's cell.
        page: page number from 1, None when no place on a page is meant.
        box: left, top, right, bottom in points from the page's top left corner.
        expected, found, difference: canonical text (`1421.28`, `2026-03-31`).
        hint: what can be done.
        about: another record of ours that it speaks of, as in `document 41`; a finding about
            another one is another finding.
        letter: the same in words for the vendor, without a limit, tolerance or code of
            ours; empty where it is none of the vendor's business.
    """

    code: str
    weight: Weight
    message: str
    fields: tuple[str, ...] = ()
    page: int | None = None
    box: tuple[float, float, float, float] | None = None
    expected: str | None = None
    found: str | None = None
    difference: str | None = None
    hint: str | None = None
    letter: str = ""
    about: str = ""

    @property
    def blocks(self) -> bool:
        """Whether a person must look because of this finding."""
        return self.weight is Weight.BLOCK

    def weighted(self, weight: Weight) -> "Finding":
        """The same finding with another weight (the pipeline's choice)."""
        return replace(self, weight=weight)

    def to_json(self) -> dict[str, object]:
        """The shape of the wire; absent parts are null."""
        return {
            "code": self.code,
            "weight": self.weight.value,
            "fields": list(self.fields),
            "page": self.page,
            "box": list(self.box) if self.box else None,
            "expected": self.expected,
            "found": self.found,
            "difference": self.difference,
            "message": self.message,
            "hint": self.hint,
            "letter": self.letter,
            "about": self.about,
        }

    @classmethod
    def from_json(cls, data: Mapping[str, object]) -> "Finding":
        """Back from `to_json`. Raises KeyError or ValueError on another shape."""

        def text(key: str) -> str | None:
            value = data.get(key)
            return None if value is None else str(value)

        box = data.get("box")
        page = data.get("page")
        fields = data.get("fields") or ()
        if not isinstance(fields, list | tuple):
            raise ValueError("fields must be a list")
        return cls(
            code=str(data["code"]),
            weight=Weight(str(data["weight"])),
            message=str(data["message"]),
            fields=tuple(str(name) for name in fields),
            page=int(str(page)) if page is not None else None,
            box=_box(box),
            expected=text("expected"),
            found=text("found"),
            difference=text("difference"),
            hint=text("hint"),
            letter=text("letter") or "",
            about=text("about") or "",
        )


def _box(value: object) -> tuple[float, float, float, float] | None:
    if value is None:
        return None
    if not isinstance(value, list | tuple) or len(value) != 4:
        raise ValueError("box must be four numbers")
    left, top, right, bottom = (float(part) for part in value)
    return (left, top, right, bottom)
