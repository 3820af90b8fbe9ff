"""A structured invoice beside the page that came with it: what agrees, and what does not."""

from dataclasses import replace

from veridox.core.findings import Finding, Weight
from veridox.core.money import Money
from veridox.core.reading import FIELDS, Field, Reading, Value

COMPARED = (
    "number", "issue_date", "currency", "gross_total", "net_total", "tax_total", "amount_due",
    "account", "seller.tax_id",
)  # fmt: skip
GRAVE = frozenset({"number", "currency", "gross_total", "amount_due", "account"})
"""Differences by which something else would be paid than the page asks for."""
BELIEVED = 0.9
"""A value of the page that is less sure proves nothing."""


def confirmed(structured: Reading, page: Reading) -> tuple[Reading, tuple[Finding, ...]]:
    """The structured reading with the places of its values on the page, and the differences.

    The structured form prevails (EN 16931 calls it the invoice); where the page
    surely says something else, a person is told.
    """
    fields, findings = dict(structured.fields), []
    for name, field in structured.fields.items():
        shown = page.fields.get(name)
        if shown is None or shown.box is None:
            continue
        if alike(name, field.value, shown.value):
            fields[name] = replace(field, page=shown.page, box=shown.box, text=shown.text)
        elif name in COMPARED and shown.confidence >= BELIEVED:
            findings.append(_finding(name, field, shown))
    # The smallest profiles of hybrid invoices carry no lines.
    lines = structured.lines or page.lines
    merged = replace(structured, fields=fields, lines=lines, language=page.language)
    return merged, tuple(findings)


def alike(name: str, one: Value, other: Value) -> bool:
    """Whether two values of a field say the same, however they are written."""
    if isinstance(one, Money) and isinstance(other, Money):
        return one.rounded() == other.rounded()
    if isinstance(one, str) and isinstance(other, str):
        bare = [
            "".join(char for char in text.casefold() if char.isalnum()) for text in (one, other)
        ]
        # On paper a tax id may lack its country.
        return bare[0] == bare[1] or (name.endswith("tax_id") and bare[0].endswith(bare[1]))
    return one == other


def _finding(name: str, field: Field, shown: Field) -> Finding:
    message = (
        f"{FIELDS[name].title}: the structured invoice says {field.value}, "
        f"the page says {shown.value}."
    )
    return Finding(
        code="einvoice.differs",
        weight=Weight.BLOCK if name in GRAVE else Weight.WARN,
        fields=(name,),
        page=shown.page,
        box=shown.box,
        expected=str(field.value),
        found=str(shown.value),
        message=message,
        letter=message,
        hint="Ask the vendor which one holds; legally it is the structured invoice.",
    )
