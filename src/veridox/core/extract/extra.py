"""Fields that a developer declared: by label, by the pattern of an example, by type."""

import re
from collections.abc import Iterable, Iterator

from rapidfuzz import fuzz, process

from veridox.core.extract import values
from veridox.core.extract.sheet import LabelHit, Sheet, label_hits
from veridox.core.extract.spans import Span, spans_of
from veridox.core.extract.thresholds import BESIDE, LIKE, LISTED
from veridox.core.extract.values import Found
from veridox.core.locales.labels import Label, Lexicon, fold, lexicon, normalise
from veridox.core.locales.units import in_unit
from veridox.core.money import Money
from veridox.core.pages import Box, Word
from veridox.core.reading import ExtraField, Field, FieldType, Kind

LONGEST = 80
"""Signs of a text beside a label."""


def extra_fields(
    sheet: Sheet, fields: Iterable[ExtraField], kind: Kind, currency: str | None
) -> dict[str, Field]:
    """The declared fields that are stated."""
    found = {}
    for field in fields:
        if field.concerns(kind) and (value := _found(sheet, field, currency)) is not None:
            found[field.name] = value
    return found


def _found(sheet: Sheet, field: ExtraField, currency: str | None) -> Field | None:
    for hit in _hits(sheet, field.labels):
        for whole in spans_of(hit, sheet):
            span = _up_to_label(whole, sheet)
            if span is not None and (found := _value(span, field, sheet, currency)) is not None:
                return found.as_field(BESIDE * found.trust)
    if not field.example or field.spec.type is not FieldType.TEXT:
        return None
    if not any(map(str.isdigit, field.example)):
        return None  # "north" is any word: only its label tells
    alike = {found.value: found for found in _alike(sheet, pattern_of(field.example))}
    return next(iter(alike.values())).as_field(LIKE) if len(alike) == 1 else None


# -- where


def _hits(sheet: Sheet, labels: Iterable[str]) -> Iterator[LabelHit]:
    """Where a field's own labels stand, the longest first."""
    grouped: dict[str, list[Label]] = {}
    for text in labels:
        words = normalise(text)
        if words:
            label = Label(field="", words=words, language="")
            grouped.setdefault(words[0], []).append(label)
    own = Lexicon(
        {
            first: tuple(sorted(some, key=lambda label: -len(label.words)))
            for first, some in grouped.items()
        }
    )
    found = [
        hit
        for row, segments in zip(sheet.rows, sheet.segments, strict=True)
        for hit in label_hits(row, segments, own)
    ]
    return iter(sorted(found, key=lambda hit: -len(hit.label.words)))


def _up_to_label(span: Span, sheet: Sheet) -> Span | None:
    """A span without the label that follows in its segment; None when it is a label itself."""
    words: list[Word] = []
    for at, word in enumerate(span.words):
        rest = normalise(" ".join(each.text for each in span.words[at : at + 4]))
        label = lexicon("header").match(rest, 0, sheet.languages) if rest else None
        if label is not None and word.text.endswith(":"):
            break
        words.append(word)
    return Span(words=tuple(words), page=span.page, trust=span.trust) if words else None


# -- what


def _value(span: Span, field: ExtraField, sheet: Sheet, currency: str | None) -> Found | None:
    spec = field.spec
    match spec.type:
        case FieldType.DATE:
            return next(iter(values.dates(span, sheet.dates)), None)
        case FieldType.MONEY:
            return _money(span, sheet, currency)
        case FieldType.NUMBER | FieldType.RATE:
            return _number(span, sheet, spec.unit)
        case FieldType.CHOICE:
            return _choice(span, spec.choices)
        case _:
            return _text(span, field.example)


def _taken(span: Span, value: object, words: tuple[Word, ...], trust: float = 1.0) -> Found:
    return Found(
        value=value,  # type: ignore[arg-type]
        text=" ".join(word.text for word in words),
        page=span.page,
        box=Box.around(word.box for word in words),
        trust=trust * span.trust,
    )


def _money(span: Span, sheet: Sheet, currency: str | None) -> Found | None:
    for number in values.numbers(span.words, sheet.numbers):
        code = number.currency or currency
        if code is not None and not number.percent:
            return _taken(span, Money(amount=number.number, currency=code), number.words)
    return None


def _number(span: Span, sheet: Sheet, unit: str) -> Found | None:
    if unit:
        text = " ".join(word.text for word in span.words)
        converted = in_unit(text, unit, sheet.numbers)
        if converted is not None:
            return _taken(span, converted, span.words)
    found = values.numbers(span.words, sheet.numbers)
    return _taken(span, found[0].number, found[0].words) if found else None


def _choice(span: Span, choices: tuple[str, ...]) -> Found | None:
    chosen = choice_of(span.text, choices)
    return _taken(span, chosen[0], span.words, chosen[1]) if chosen else None


def choice_of(text: str, choices: tuple[str, ...]) -> tuple[str, float] | None:
    """The one of a closed list that a text names, with a trust in [0, 1]; None when none or two."""
    folded = fold(text)
    named = [each for each in choices if re.search(rf"\b{re.escape(fold(each))}\b", folded)]
    if len(named) == 1:
        return named[0], 1.0
    if named:
        return None
    best = process.extractOne(text, choices, processor=fold, scorer=fuzz.ratio, score_cutoff=LISTED)
    return (best[0], best[1] / 100) if best else None


def _text(span: Span, example: str) -> Found | None:
    if not example:
        text = span.text
        return _taken(span, text, span.words) if len(text) <= LONGEST else None
    pattern = pattern_of(example)
    return next(iter(_matches(span, pattern)), None)


def _alike(sheet: Sheet, pattern: re.Pattern[str]) -> Iterator[Found]:
    for row, segments in zip(sheet.rows, sheet.segments, strict=True):
        for segment in segments:
            yield from _matches(Span(words=segment.words, page=row.page, trust=1.0), pattern)


def _matches(span: Span, pattern: re.Pattern[str]) -> Iterator[Found]:
    """Runs of whole words that are of a pattern, the longest at each place."""
    words, at = span.words, 0
    while at < len(words):
        for end in range(len(words), at, -1):
            text = " ".join(word.text for word in words[at:end])
            bare = text.strip(":;,()").removesuffix(".")
            if pattern.fullmatch(bare):
                yield _taken(span, bare, words[at:end])
                at = end - 1
                break
        at += 1


_RUN = re.compile(r"[^\W\d_]+|\d+|\s+|.", re.DOTALL)
SHORT = 3
"""Letters of a prefix that is always as long."""


def pattern_of(example: str) -> re.Pattern[str]:
    """What texts like an example look like: `T-204 north` gives letter, dash, figures, word.

    Short runs of capitals keep their length, words may be of any; a run of
    figures may be one shorter or longer; what is neither stays as it is.
    """
    parts = []
    for run in _RUN.findall(example.strip()):
        if run.isspace():
            parts.append(r"\s")
        elif run.isdigit():
            parts.append(rf"\d{{{max(1, len(run) - 1)},{len(run) + 1}}}")
        elif run.isalpha() and run.isupper():
            size = f"{{{len(run)}}}" if len(run) <= SHORT else "+"
            parts.append(rf"[^\W\d_a-z]{size}")
        elif run.isalpha():
            parts.append(r"[^\W\d_]+")
        else:
            parts.append(re.escape(run))
    return re.compile("".join(parts))
