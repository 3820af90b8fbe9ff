"""Fields that a developer declares beside those of the catalogue."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from veridox.core.reading.fields import FieldSpec, Kind


@dataclass(frozen=True, kw_only=True, slots=True)
class ExtraField:
    """A declared field: what it is, and how to find it on a page.

    Attributes:
        name: as in a pipeline file; no name of the catalogue.
        spec: type, title, choices, unit.
        labels: what stands beside its value, in any language.
        example: a value as it is printed; others are of the same pattern. Empty for none.
        kinds: of documents that have it; empty for all.
    """

    name: str
    spec: FieldSpec
    labels: tuple[str, ...] = ()
    example: str = ""
    kinds: frozenset[Kind] = frozenset()

    def concerns(self, kind: Kind) -> bool:
        """Whether documents of a kind have it."""
        return not self.kinds or kind in self.kinds

    def to_json(self) -> dict[str, Any]:
        """For a reader process; back by `from_json`."""
        return {
            "name": self.name, **self.spec.to_json(), "labels": list(self.labels),
            "example": self.example, "kinds": sorted(kind.value for kind in self.kinds),
        }  # fmt: skip

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> "ExtraField":
        """Back from `to_json`. Raises KeyError or ValueError on another shape."""
        return cls(
            name=data["name"], spec=FieldSpec.from_json(data), labels=tuple(data["labels"]),
            example=data["example"], kinds=frozenset(map(Kind, data["kinds"])),
        )  # fmt: skip
