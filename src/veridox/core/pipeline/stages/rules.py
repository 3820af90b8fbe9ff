"""The pipeline's own rules, as findings like those of the checks."""

from collections.abc import Iterable, Iterator

from veridox.core.findings import Finding, Weight
from veridox.core.language import Subject, lists_of, look, values_of
from veridox.core.language.verdict import names_in
from veridox.core.pipeline.definition import CheckRule
from veridox.core.reading import Reading


def ruled(rules: Iterable[CheckRule], subject: Subject, reading: Reading) -> Iterator[Finding]:
    """One finding for each rule that holds, and one for each that cannot be evaluated.

    Args:
        rules: of the pipeline.
        subject: what names speak of; the checks' findings are among it.
        reading: that they are about.
    """
    rules = tuple(rules)
    if not rules:
        return
    names, lists = values_of(subject), lists_of(subject)
    codes = {finding.code for finding in subject.findings}
    for rule in rules:
        seen = look(rule.when, names, codes, lists, subject.facts, subject.calls)
        if seen.holds is False:
            continue
        fields = _fields(rule, reading)
        placed = next((reading.fields[name] for name in fields if name in reading.fields), None)
        about = f"rule {rule.name}"
        page = placed.page if placed else None
        box = placed.box.rounded() if placed and placed.box else None
        if seen.holds is None:
            yield Finding(
                code="rule.not_evaluated", weight=Weight.BLOCK, fields=fields, about=about,
                message=f"The rule {rule.name!r} could not be evaluated: {seen.why}.",
                hint="Enter what is missing; or have the rule say what holds when it is.",
            )  # fmt: skip
            continue
        yield Finding(
            code="rule.told", weight=rule.weight, fields=fields, about=about, page=page, box=box,
            message=" ".join(rule.say.fill(names, lists).split()), hint=rule.hint or None,
        )  # fmt: skip


def _fields(rule: CheckRule, reading: Reading) -> tuple[str, ...]:
    """Header fields that it looks at: another value of them is another finding."""
    named = dict.fromkeys(names_in(rule.when))
    return tuple(name for name in named if reading.spec(name) is not None)
