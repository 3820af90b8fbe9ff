"""Header fields that a label names: numbers, dates, tax ids, terms."""

from collections.abc import Callable, Iterable, Iterator

from veridox.core.extract import values
from veridox.core.extract.hints import Hints
from veridox.core.extract.sheet import LabelHit, Sheet
from veridox.core.extract.spans import Span, spans_of
from veridox.core.extract.values import Found
from veridox.core.reading import Candidate, Field, Origin

Parser = Callable[[Span], Iterable[Found]]


def header_fields(sheet: Sheet, hints: Hints) -> dict[str, Field]:
    """The labelled fields that were found; what is not stated is absent."""

    def dates(span: Span) -> Iterable[Found]:
        return values.dates(span, sheet.dates)

    parsers: dict[str, Parser] = {
        "number": values.identifiers,
        "order_number": values.identifiers,
        "delivery_note": values.identifiers,
        "preceding_number": values.identifiers,
        "issue_date": dates,
        "due_date": dates,
        "delivery_date": dates,
    }
    fields: dict[str, Field] = {}
    for name, parser in parsers.items():
        chosen = choose(_candidates(sheet, name, parser))
        if chosen is not None:
            fields[name] = chosen
    # "Date" alone may head any date: a due date that equals no other is fine,
    # but one spot on the page must not serve two fields.
    _drop_shared_spot(fields, "issue_date", "due_date")
    _drop_shared_spot(fields, "number", "order_number")
    if "issue_date" not in fields and (lone := _lone_date(sheet, fields)) is not None:
        fields["issue_date"] = lone
    fields.update(_tax_ids(sheet, hints))
    return fields


def _candidates(sheet: Sheet, name: str, parser: Parser) -> Iterator[tuple[LabelHit, Found]]:
    for hit in sheet.hits_of(name):
        for span in spans_of(hit, sheet):
            found = next(iter(parser(span)), None)
            if found is not None:
                yield hit, found
                break


def choose(candidates: Iterable[tuple[LabelHit, Found]]) -> Field | None:
    """The best candidate as a field, the others with it.

    Longer labels say more ("date of issue" against "date"). A second candidate
    with another value that is nearly as good takes confidence away.
    """
    scored = sorted(
        (
            (
                found.trust * (0.97 + 0.01 * min(3, len(hit.label.words))),
                hit.row.page,
                found,
            )
            for hit, found in candidates
        ),
        key=lambda each: (-each[0], each[1], each[2].box.top),
    )
    if not scored:
        return None
    score, _, best = scored[0]
    rivals = [(s, f) for s, _, f in scored[1:] if f.value != best.value]
    # Hand-set figures, not calibrated: see docs/reading.md. A lone candidate
    # beside a clear label is hardly ever wrong.
    confidence = min(score, 0.995) if rivals else 1 - (1 - score) * 0.15
    if rivals and rivals[0][0] > score - 0.02:
        confidence *= 0.75
    others: dict[object, Candidate] = {}
    for rival_score, rival in rivals:
        others.setdefault(
            rival.value,
            Candidate(
                value=rival.value,
                confidence=round(min(1 - confidence, rival_score * 0.5), 4),
                page=rival.page,
                box=rival.box,
            ),
        )
    return as_field(best, confidence, tuple(others.values())[:4])


def as_field(found: Found, confidence: float, others: tuple[Candidate, ...] = ()) -> Field:
    """A found value as a field of a reading."""
    return Field(
        value=found.value,
        text=found.text,
        page=found.page,
        box=found.box,
        confidence=confidence,
        origin=Origin.TEXT,
        others=others,
    )


LONE = 0.75
"""How surely the only date that nothing else claims is the date of issue."""


def _lone_date(sheet: Sheet, fields: dict[str, Field]) -> Field | None:
    """The one date on the first page that no label claims, when there is just one."""
    taken = {(field.page, field.box) for field in fields.values()}
    taken |= {
        (row.page, found.box)
        for name in ("not.order_date", "not.print_date")
        for hit, found in _candidates(sheet, name, lambda span: values.dates(span, sheet.dates))
        for row in [hit.row]
    }
    alone: list[Found] = []
    for row, segments in zip(sheet.rows, sheet.segments, strict=True):
        if row.page != sheet.pages[0].number:
            break
        for segment in segments:
            span = Span(words=segment.words, page=row.page, trust=LONE)
            alone += (
                found
                for found in values.dates(span, sheet.dates)
                if (found.page, found.box) not in taken
            )
    if len({found.value for found in alone}) != 1:
        return None
    return as_field(alone[0], LONE)


def _drop_shared_spot(fields: dict[str, Field], first: str, second: str) -> None:
    one, two = fields.get(first), fields.get(second)
    if one and two and one.page == two.page and one.box == two.box:
        weaker = first if one.confidence < two.confidence else second
        del fields[weaker]


def _tax_ids(sheet: Sheet, hints: Hints) -> dict[str, Field]:
    ours = {buyer.tax_id for buyer in hints.buyers if buyer.tax_id}
    buyer_hits = list(_candidates(sheet, "not.buyer_tax_id", values.tax_ids))
    seller_hits: list[tuple[LabelHit, Found]] = []
    for pair in _candidates(sheet, "seller.tax_id", values.tax_ids):
        (buyer_hits if pair[1].value in ours else seller_hits).append(pair)
    fields = {}
    for name, pairs in (("seller.tax_id", seller_hits), ("buyer.tax_id", buyer_hits)):
        chosen = choose(pairs)
        if chosen is not None:
            fields[name] = chosen
    if "seller.tax_id" not in fields:
        theirs = ours | {each.value for each in fields.values()}
        lone = {f.value: f for f in values.tax_ids_anywhere(sheet.rows) if f.value not in theirs}
        if len(lone) == 1:
            (found,) = lone.values()
            fields["seller.tax_id"] = as_field(found, found.trust)
    return fields
