"""Codes of each line, from all who say any, and what is wrong with them."""

from collections.abc import Iterator, Mapping
from decimal import Decimal

from veridox.core.checks.tax import taxed
from veridox.core.coding import (
    CALLED,
    DIMENSIONS,
    FOOT,
    CodedLine,
    Dimension,
    Proposal,
    Share,
    Source,
    TaxCode,
    code_line,
    coded_at_hand,
    lines_to_code,
    most_likely,
    path_of,
    tax_code_of,
    wording_key,
)
from veridox.core.facts import Facts
from veridox.core.findings import Finding, Weight
from veridox.core.findings.wording import counted, listed
from veridox.core.language import (
    Names,
    NotEvaluableError,
    Subject,
    evaluate,
    lists_of,
    look,
    values_of,
)
from veridox.core.pipeline.case import Case
from veridox.core.pipeline.definition import Coding, CodingRule, Said
from veridox.core.reading import LINE_CELLS, Row
from veridox.core.reading.reading import cell_number, cell_text
from veridox.core.tax import Treatment
from veridox.core.tax.reasons import CATEGORIES

SURE = 0.95
"""Chance from which a code of history is not told as a guess."""


def coding_of(coding: Coding, case: Case, subject: Subject) -> tuple[CodedLine, ...]:
    """The codes of every line: a person's, the first rule's, the order's, the vendor's, the table's
    of tax codes, and what lines like it were booked under."""
    facts = case.facts
    names, lists = values_of(subject), lists_of(subject)
    codes = {finding.code for finding in subject.findings}
    found = []
    for at, description, amount in lines_to_code(facts.reading):
        by_hand = coded_at_hand(case.by_hand, at, description, amount)
        row = _row(facts, at)
        own = {f"line.{name}": row[name].value for name in LINE_CELLS if name in row}
        if at in FOOT:
            own |= {"line.description": description, "line.amount": amount}
        line = {**names, **own}
        rules = []
        for rule in coding.rules:
            holds = rule.when is None or look(
                rule.when, line, codes, lists, facts, subject.calls
            ).holds is True  # fmt: skip
            if holds:
                rules.append(_of_rule(rule, line))
        every = [*([by_hand] if by_hand else []), *rules, _of_order(facts, at), _of_vendor(facts),
                 _of_table(facts, at), _of_history(facts, description)]  # fmt: skip
        found.append(code_line(at, description, amount, every))
    return tuple(found)


def _of_rule(rule: CodingRule, names: Names) -> Proposal:
    shares = [
        Share(percent=each.percent, amount=each.amount, codes=_said(each.codes, names))
        for each in rule.shares
    ]
    why = dict.fromkeys(DIMENSIONS, f"rule: {rule.source}" if rule.source else "rule for all lines")
    codes = _said(rule.codes, names)
    return Proposal(source=Source.RULE, codes=codes, shares=shares, why=why)


def _said(codes: Mapping[Dimension, Said], names: Names) -> dict[Dimension, str]:
    """Codes as values; one whose name has no value is not said."""
    found = {}
    for dimension, said in codes.items():
        try:
            found[dimension] = said if isinstance(said, str) else str(evaluate(said, names))
        except NotEvaluableError:
            continue
    return found


def _of_order(facts: Facts, at: int) -> Proposal:
    pair = facts.pairs[at - 1] if 0 < at <= len(facts.pairs) else None
    if pair is None:
        return Proposal(source=Source.ORDER)
    line = pair.line
    codes = {
        Dimension.GL_ACCOUNT: line.gl_account, Dimension.COST_CENTRE: line.cost_centre,
        Dimension.PROJECT: line.project,
    }  # fmt: skip
    why = dict.fromkeys(DIMENSIONS, f"line {line.position} of order {pair.order.number}")
    return Proposal(source=Source.ORDER, codes=codes, why=why)


def _of_vendor(facts: Facts) -> Proposal:
    vendor = facts.vendor
    if vendor is None:
        return Proposal(source=Source.VENDOR)
    codes = {Dimension.GL_ACCOUNT: vendor.gl_account, Dimension.COST_CENTRE: vendor.cost_centre}
    why = dict.fromkeys(DIMENSIONS, f"usual for {vendor.name}")
    return Proposal(source=Source.VENDOR, codes=codes, why=why)


def _of_table(facts: Facts, at: int) -> Proposal:
    """The tax code of the line's country, category, rate, and goods or services."""
    codes = facts.codes.tax_codes if facts.codes else ()
    tax, vendor = taxed(facts), facts.vendor
    row = _row(facts, at)
    rate = cell_number(row, "tax_rate")
    if rate is None:
        rate = tax.rates[0] if len(tax.rates) == 1 else Decimal(0) if tax.free else None
    category = (cell_text(row, "tax_category") or "").upper()
    if not category:
        treatment = tax.told[0] if tax.told else vendor.treatment if vendor and not rate else None
        category = _CATEGORY.get(treatment, "") if treatment else ""
        category = category or ("S" if rate else "Z" if rate == 0 else "")
    country = tax.seller or (vendor.country if vendor else "")
    found = tax_code_of(codes, country=country, category=category, rate=rate,
                        supply=vendor.supply if vendor else "")  # fmt: skip
    if found is None:
        return Proposal(source=Source.TABLE)
    said = " ".join(each for each in (country, category, f"{rate:f} %" if rate is not None else "")
                    if each)  # fmt: skip
    return Proposal(source=Source.TABLE, codes={Dimension.TAX_CODE: found.code},
                    why={Dimension.TAX_CODE: f"tax codes: {said}"})  # fmt: skip


_CATEGORY: dict[Treatment, str] = {}
for _code, _treatment in CATEGORIES.items():
    _CATEGORY.setdefault(_treatment, _code)


def _of_history(facts: Facts, description: str) -> Proposal:
    codes, chances, why = {}, {}, {}
    key = wording_key(description)
    for dimension in DIMENSIONS:
        likely = most_likely(key, facts.coded_before, dimension)
        if likely is not None:
            codes[dimension], chances[dimension], alike = likely
            why[dimension] = (
                f"{counted(alike, 'line')} like it" if alike else "other lines of this vendor"
            )
    return Proposal(source=Source.HISTORY, codes=codes, chances=chances, why=why)


# -- what is wrong with them


def coding_findings(
    coding: Coding, facts: Facts, lines: tuple[CodedLine, ...]
) -> Iterator[Finding]:
    """`coding.missing`, `.unknown`, `.closed`, `.tax_rate`, `.split`, `.guessed`."""
    if facts.codes is None:
        return
    for dimension in DIMENSIONS:
        if dimension in coding.need:
            yield from _missing(dimension, lines)
    for line in lines:
        named, path = _named(line.at), path_of(line.at)
        if line.problem:
            yield Finding(
                code="coding.split", weight=Weight.BLOCK, fields=(path,),
                message=f"{named} is split, but {line.problem}.",
            )  # fmt: skip
        for dimension in DIMENSIONS:
            yield from _of_dimension(coding, facts, line, dimension, named, path)
        guesses = _guesses(line)
        if guesses:
            yield Finding(
                code="coding.guessed", weight=Weight.NOTE, fields=(path,),
                message=f"{named} is coded as lines before it were: {', '.join(guesses)}.",
            )  # fmt: skip


def _missing(dimension: Dimension, lines: tuple[CodedLine, ...]) -> Iterator[Finding]:
    """One sentence for all lines of which a part has no code that is needed."""
    lacking = [each.at for each in lines if any(dimension not in part.codes for part in each.parts)]
    if not lacking:
        return
    numbers = [at for at in lacking if at > 0]
    subjects = [_named(at) for at in lacking if at <= 0]
    if numbers:
        subjects.insert(0, f"Lines {listed(numbers)}" if len(numbers) > 1 else _named(numbers[0]))
    first, *others = subjects
    named = listed([first, *(each[0].lower() + each[1:] for each in others)])
    has = "has" if len(lacking) == 1 else "have"
    yield Finding(
        code="coding.missing", weight=Weight.BLOCK, about=dimension.value,
        fields=tuple(map(path_of, lacking)),
        message=f"{named} {has} no {CALLED[dimension]}.",
    )  # fmt: skip


def _row(facts: Facts, at: int) -> Row:
    """A line as it is stated; nothing for the bill as a whole, and what stands at its foot."""
    return facts.reading.lines[at - 1] if at > 0 else {}


def _named(at: int) -> str:
    """A place at the beginning of a sentence on one thing."""
    if at in FOOT:
        return f"What is stated as {FOOT[at]}"
    return f"Line {at}" if at else "The bill"


def _guesses(line: CodedLine) -> list[str]:
    """Codes that history says and that are not sure, each once, with how sure they are."""
    found = [
        f"{CALLED[dimension]} {each.code} ({each.chance * 100:.0f} % sure, {each.why})"
        for part in line.parts for dimension, each in part.codes.items()
        if each.source is Source.HISTORY and each.chance < SURE
    ]  # fmt: skip
    return list(dict.fromkeys(found))


def _of_dimension(
    coding: Coding, facts: Facts, line: CodedLine, dimension: Dimension, named: str, path: str
) -> Iterator[Finding]:
    said = {part.codes[dimension].code for part in line.parts if dimension in part.codes}
    if dimension is Dimension.COST_CENTRE and dimension not in coding.need:
        yield from _wants_cost_centre(facts, line, named, path)
    for code in sorted(said):
        yield from _of_code(facts, line, dimension, code, named, path)


def _wants_cost_centre(facts: Facts, line: CodedLine, named: str, path: str) -> Iterator[Finding]:
    assert facts.codes is not None  # noqa: S101 - the caller has looked
    for part in line.parts:
        account = part.codes.get(Dimension.GL_ACCOUNT)
        known = facts.codes.accounts.get(account.code) if account else None
        if known is not None and known.needs_cost_centre \
                and Dimension.COST_CENTRE not in part.codes:  # fmt: skip
            yield Finding(
                code="coding.missing", weight=Weight.BLOCK, fields=(path,),
                message=f"{named} is booked on {known.code} {known.name}, which needs a cost "
                "centre.", about=Dimension.COST_CENTRE.value,
            )  # fmt: skip
            return


def _of_code(
    facts: Facts, line: CodedLine, dimension: Dimension, code: str, named: str, path: str
) -> Iterator[Finding]:
    """Whether the ledger has a code, and books on it."""
    assert facts.codes is not None  # noqa: S101 - the caller has looked
    listed = facts.codes.listed(dimension)
    if listed is None:
        return  # a ledger may keep no list of projects
    known = listed.get(code)
    what = CALLED[dimension]
    if known is None:
        none = "" if listed else "; none were brought in"
        yield Finding(
            code="coding.unknown", weight=Weight.BLOCK, fields=(path,), found=code,
            message=f"{named} is coded with {what} {code}, which the ledger does not have{none}.",
            about=dimension.value,
        )  # fmt: skip
        return
    if known.closed:
        yield Finding(
            code="coding.closed", weight=Weight.BLOCK, fields=(path,), found=code,
            message=f"{named} is coded with {what} {code} {known.name}".rstrip()
            + ", which is closed.",
            about=dimension.value,
        )  # fmt: skip
    rate = known.rate if isinstance(known, TaxCode) else None
    row = _row(facts, line.at)
    stated = cell_number(row, "tax_rate")
    if rate is not None and stated not in (None, rate):
        yield Finding(
            code="coding.tax_rate", weight=Weight.BLOCK, fields=(path,),
            message=f"{named} is taxed at {stated:f} %; tax code {code} is for {rate:f} %.",
            expected=f"{rate:f}", found=f"{stated:f}", about=dimension.value,
        )  # fmt: skip
