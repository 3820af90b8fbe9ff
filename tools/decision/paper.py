"""What a document of the decision set is made of."""

from collections.abc import Callable
from dataclasses import dataclass, field
from decimal import ROUND_HALF_UP, Decimal

OURS = "Merrowmere Aquarium Trust"
OURS_DE = "Merrowmere Meerhaus GmbH"
STYLES = {"en": (",", "."), "de": (".", ","), "fr": (" ", ","), "ch": ("'", "."), "bare": ("", "."),
          "comma": ("", ",")}  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class Paper:
    """One document and what it states.

    Attributes:
        structure: how it is laid out; two documents share one.
        language: ISO 639-1.
        kind: as the product names kinds.
        html: of the page that is printed; or
        content: the file's bytes.
        ending: of the file's name.
        fields, lines: what is printed, as manifests write it.
        photo: whether it is also seen by a telephone.
    """

    structure: str
    language: str
    kind: str = "invoice"
    html: str = ""
    content: Callable[[], bytes] | None = None
    ending: str = ".pdf"
    fields: dict[str, str]
    lines: list[dict[str, str]] = field(default_factory=list)
    photo: bool = False


def two(value: Decimal | str | int) -> Decimal:
    """To two decimals, half up."""
    return Decimal(value).quantize(Decimal("0.01"), ROUND_HALF_UP)


def show(value: Decimal | str | int, style: str, places: int = 2) -> str:
    """A number as printed in a style of `STYLES`."""
    group, mark = STYLES[style]
    text = f"{Decimal(value):,.{places}f}"
    return text.replace(",", "\0").replace(".", mark).replace("\0", group)


def line(quantity: object = None, price: object = None, amount: object = None) -> dict[str, str]:
    """The cells of a line that are printed."""
    cells = {"quantity": quantity, "unit_price": price, "amount": amount}
    return {name: str(value) for name, value in cells.items() if value is not None}


def page(css: str, body: str, size: str = "A4") -> str:
    """A page of HTML."""
    return (
        f"<!doctype html><meta charset=utf-8><style>@page{{size:{size};margin:16mm}}"
        f"body{{font:10pt 'Liberation Sans'}}{css}</style>{body}"
    )
