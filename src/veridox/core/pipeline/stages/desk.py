"""The desk's gate: a person looks at what blocks, what is doubtful, what the developer says."""

from collections.abc import Iterable

from veridox.core.checks import CODES
from veridox.core.findings import Finding
from veridox.core.findings.wording import counted
from veridox.core.language import Subject, lists_of, look, values_of
from veridox.core.language.words import in_words
from veridox.core.pipeline.case import Case, Checked
from veridox.core.pipeline.definition import Definition
from veridox.core.pipeline.effects import Effect, Remember
from veridox.core.pipeline.stages.outcome import Outcome, Stop
from veridox.core.pipeline.statements import Said, Statement
from veridox.core.pipeline.states import State

DEFAULT_QUEUE = "exceptions"
ALREADY = "; looked at already"
"""Ends the sentence of a condition that whoever cleared the document has seen."""


def desk(definition: Definition, case: Case) -> Outcome:
    """Stops with queue and reasons, or lets through.

    A blocking finding that nobody accepted always stops, whatever the pipeline's rules say; a
    rule that cannot be evaluated stops, too. What a person cleared goes on to the next gate for
    the conditions that they saw, with their values; another condition stops it again.
    """
    checked = case.checked
    if checked is None:
        raise ValueError("the desk looks at what the checks said")
    subject = subject_of(case, checked)
    names, lists = values_of(subject), lists_of(subject)
    cleared = _cleared(case)
    reasons = [*_letter_failed(case), *(finding.message for finding in checked.open)]
    reasons += _only_a_person(case, checked)
    looked = [_counted(checked)]
    if cleared is not None:
        looked.append(f"cleared by {cleared.by.partition(':')[2]}: {cleared.reason or 'no reason'}")
    titles = {name: spec.title for name, spec in case.facts.reading.extra.items() if spec.title}
    queue, codes = "", {finding.code for finding in checked.findings}
    for rule in definition.desk:
        seen = look(rule.when, names, codes, lists, subject.facts, subject.calls)
        passed = seen.holds is not False and cleared is not None and seen.said in cleared.looked
        looked.append(f"{seen.said}{ALREADY}" if passed else seen.said)
        if seen.holds is False or passed:
            continue
        queue = queue or rule.queue
        said = rule.because or in_words(rule.when, names, titles)
        if seen.holds is None:
            reasons.append(f"{said} It could not be evaluated: {seen.why}.")
        elif rule.because or rule.source != "blocked":  # the findings themselves say more
            reasons.append(said)
    looked += _reasons_beside(reasons, checked.open)
    if not reasons:
        return Outcome(looked=tuple(looked))
    stop = Stop(state=State.AT_DESK, queue=queue or DEFAULT_QUEUE, reasons=tuple(reasons))
    return Outcome(stop=stop, effects=_remembered(case, checked), looked=tuple(looked))


def _reasons_beside(reasons: Iterable[str], findings: Iterable[Finding]) -> list[str]:
    """Reasons that are no finding's sentence: those stand in the trace already."""
    said = {finding.message for finding in findings}
    return [f"stops: {reason}" for reason in reasons if reason not in said]


def _counted(checked: Checked) -> str:
    if not checked.open:
        return "no finding stops it"
    stop = "stops" if len(checked.open) == 1 else "stop"
    return f"{counted(len(checked.open), 'finding')} {stop} it"


def _cleared(case: Case) -> Statement | None:
    """The clearing that holds: on the same version of the reading."""
    cleared = case.last(Said.CLEARED)
    return cleared if cleared is not None and cleared.reading == case.reading else None


def _letter_failed(case: Case) -> list[str]:
    """A letter that did not go out brings its document back to whoever sent it."""
    letter = case.letter
    if case.last(Said.SENT_BACK) is None or letter is None or letter.state != "failed":
        return []
    return [f"The letter to {letter.to} did not go out: {letter.problem}"]


def _only_a_person(case: Case, checked: Checked) -> list[str]:
    """What stopped it before and is gone now: a person lets it go on, or nobody."""
    shown = {finding.code for finding in checked.open}
    reasons = []
    for each in case.statements:
        code = each.identity.code if each.what is Said.STOPPED and each.identity else ""
        if code and code not in shown and code in CODES:
            title = CODES[code].title
            reasons.append(
                f"Nothing says any more: {title[0].lower()}{title[1:]}. "
                "It stopped for that, so a person lets it go on."
            )
    return list(dict.fromkeys(reasons))


def _remembered(case: Case, checked: Checked) -> tuple[Effect, ...]:
    """What only a person lets go on, once for each code."""
    standing = {
        each.identity.code
        for each in case.statements
        if each.what is Said.STOPPED and each.identity
    }
    new: dict[str, Finding] = {}
    for each in checked.open:
        if not CODES[each.code].alone and each.code not in standing:
            new.setdefault(each.code, each)
    return (Remember(findings=tuple(new.values())),) if new else ()


def subject_of(case: Case, checked: Checked) -> Subject:
    """What names and lists of the language speak of at the gates."""
    return Subject(
        mail=case.mail,
        files=case.files,
        around=case.around,
        calls=case.plugins.calls if case.plugins else None,
        facts=case.facts,
        blocked=bool(checked.open),
        risk=checked.risk,
        findings=checked.findings,
    )
