"""What a page says in whole sentences: why no tax is charged, who is paid instead, how."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Final

from veridox.core.locales.labels import fold
from veridox.core.money import Money
from veridox.core.pages import Box, Page, TextRow, rows_of
from veridox.core.reading import POSTED_KINDS, Field, Reading
from veridox.core.tax import reason_in

SAID: Final = 0.97
"""How sure a value is that a page says in words of its own; a word may stand in another sense."""

_DEBIT: Final = re.compile(
    r"\b(?:(?:by|via|through) (?:sepa )?direct debit|direct debit (?:will|mandate|on)|"
    r"(?:wird|werden|ziehen wir|buchen wir)\b.{0,60}\b(?:lastschrift|eingezogen|abgebucht|einzug)|"
    r"sepa[- ]lastschrift(?:mandat)?|per lastschrift|lastschrifteinzug|"
    r"(?:par|regle par) prelevement|prelevement automatique|"
    r"domiciliacion bancaria|recibo domiciliado|addebito diretto|"
    r"automatisch(?:e)? (?:incasso|afgeschreven)|polecenie zaplaty|debito direto|"
    r"autogiro dras)"
)
_PAYEE: Final = re.compile(
    r"\b(?:(?:has been |is |have been |are )?(?:assigned|sold|factored) to|"
    r"payment (?:must be made )?(?:only |solely )?to (?:our (?:factor|assignee)|the factor)|"
    r"(?:an|zugunsten von) unsere(?:n|r)? (?:factor|faktor)|abgetreten an|"
    r"(?:cedee|cede|subrogee?) a|cedid[ao] a|cedut[oa] a|overgedragen aan|verpand aan)"
    r"(?: die| the| la| le)?\s*[:,]?\s+(?P<name>[A-Z0-9À-Ž][^.,;:()]{2,60})",
    re.IGNORECASE,
)
_ROUNDING: Final = re.compile(
    r"^(?:rounding|rundung(?:sdifferenz)?|rundungsbetrag|arrondi|redondeo|arrotondamento|"
    r"afronding|zaokraglenie|arredondamento|oresavrundning|avrundning)\b"
)
_AMOUNT: Final = re.compile(r"(?P<sign>[-−+]?)\s?(?P<whole>\d)[.,](?P<part>\d{2})\s?(?P<after>-?)")


def with_remarks(reading: Reading, pages: Sequence[Page]) -> Reading:
    """The reading with what its pages say in sentences, where nothing else stated it.

    `exemption_reason` (BT-120) is the sentence that says why no tax is charged, `payment_means`
    (BT-81) `direct debit` where the amount is fetched, `payee.name` (BT-59) whom the bill was
    assigned to, `rounding` (BT-114) an amount below one that is called so.
    """
    if reading.kind not in POSTED_KINDS:
        return reading
    found: dict[str, Field] = {}
    rows = [row for page in pages for row in rows_of(page)]
    if not _anything("\n".join(row.text for row in rows)):
        return reading
    for row in rows:
        for name, field in _said(row, reading.currency):
            found.setdefault(name, field)
    new = {name: field for name, field in found.items() if name not in reading.fields}
    return replace(reading, fields={**reading.fields, **new}) if new else reading


def _anything(text: str) -> bool:
    """Whether it is worth looking line by line: most bills say nothing of all this."""
    folded = fold(text)
    return (
        reason_in(text) is not None
        or _DEBIT.search(folded) is not None
        or _PAYEE.search(text) is not None
        or any(_ROUNDING.match(line) for line in folded.splitlines())
    )


def _said(row: TextRow, currency: str | None) -> Iterator[tuple[str, Field]]:
    text = row.text
    if len(text) < 6:
        return
    if reason_in(text) is not None:
        yield "exemption_reason", _field(row, text)
    folded = fold(text)
    if _DEBIT.search(folded):
        yield "payment_means", replace(_field(row, text), value="direct debit")
    payee = _PAYEE.search(text)
    if payee is not None:
        yield "payee.name", replace(_field(row, text), value=payee["name"].strip())
    if currency is not None and _ROUNDING.match(folded):
        amount = _AMOUNT.search(text)
        if amount is not None:
            minus = "-" if "-" in (amount["after"] or amount["sign"].replace("−", "-")) else ""
            money = Money.of(f"{minus}{amount['whole']}.{amount['part']}", currency)
            yield "rounding", replace(_field(row, text), value=money)


def _field(row: TextRow, text: str) -> Field:
    box = Box.around(word.box for word in row.words)
    return Field(value=text[:300], text=text[:300], page=row.page, box=box, confidence=SAID)
