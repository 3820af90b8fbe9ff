"""Check one document and decide at the desk's gate. Pure: the caller gathers and stores."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from enum import StrEnum

from veridox.core.checks import Facts, run_checks
from veridox.core.extract.confidence import FIGURES, risk_of
from veridox.core.findings import CODES, Finding
from veridox.core.pipeline.definition import Definition
from veridox.core.reading import FIELDS, POSTED_KINDS, Kind, Origin, Reading
from veridox.core.rules import NotEvaluableError, evaluate
from veridox.core.rules.names import Names
from veridox.core.rules.syntax import Literal, Percent

DEFAULT_QUEUE = "exceptions"


class Outcome(StrEnum):
    """What the gate decides."""

    ASIDE = "aside"  # kept and listed, nothing to post
    AT_DESK = "at_desk"  # a person must look
    CLEARED = "cleared"  # may be posted


@dataclass(frozen=True, kw_only=True, slots=True)
class Decision:
    """The decision with its reasons as sentences, for the trail and for people."""

    outcome: Outcome
    queue: str = ""
    reasons: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True, slots=True)
class Situation:
    """What the gate looks at.

    Attributes:
        facts: what was known at the check.
        findings: what the checks said.
        accepted: codes of findings that a person accepted with a reason.
        cleared_by_person: somebody at the desk decided to post.
        stopped_for: codes that stopped it before and that only a person may end.
        mail: names from the message (`sender.address`, `subject`, `file.name`).
    """

    facts: Facts
    findings: tuple[Finding, ...]
    accepted: frozenset[str] = frozenset()
    cleared_by_person: bool = False
    stopped_for: tuple[str, ...] = ()
    mail: Mapping[str, Literal] = field(default_factory=dict)


def check_document(definition: Definition, facts: Facts) -> tuple[Finding, ...]:
    """All findings on a document; without words only what concerns the file is said."""
    if definition.others_aside and _is_aside(facts.reading):
        return facts.file_findings
    return run_checks(facts)


def _is_aside(reading: Reading) -> bool:
    return reading.kind not in POSTED_KINDS and reading.kind is not Kind.OTHER


SELLER = frozenset({"seller.name", "seller.tax_id"})
"""What is read of who sells; nothing hangs on it where that is known otherwise."""


def risk(reading: Reading, *, seller_known: bool = False) -> Percent:
    """The chance that any value about to be posted is wrong, from the confidences.

    Values entered by a person count as right, and who sells where that is known otherwise (a
    person said it, or name and tax id are both a vendor's of the master data). Mistakes come
    together, so the confidences' product says too much; how often documents of such a product
    were wrong is known (`core/extract/confidence.py`).
    """
    right = Decimal(str(reading.kind_confidence))
    vouched = _vouched(reading) | (SELLER if seller_known else frozenset())
    for name, field_ in reading.fields.items():
        if name in FIELDS and FIELDS[name].posted and name not in vouched:
            right *= Decimal(str(field_.confidence))
    lines = [row[name].confidence for row in reading.lines for name in FIGURES if name in row]
    if lines:
        right *= Decimal(str(min(lines)))
    return Percent(Decimal(str(round(risk_of(float(1 - right)), 6))))


_SUM = ("net_total", "tax_total", "gross_total")


def _vouched(reading: Reading) -> frozenset[str]:
    """Net, tax and total where they add up and a person entered one of them: it vouches for all."""
    net, tax, gross = (reading.money(name) for name in _SUM)
    if net is None or tax is None or gross is None or net.currency != tax.currency:
        return frozenset()
    by_hand = any(reading.fields[name].origin is Origin.PERSON for name in _SUM)
    return frozenset(_SUM) if by_hand and net.amount + tax.amount == gross.amount else frozenset()


def decide(definition: Definition, situation: Situation) -> Decision:
    """The desk's gate: `aside`, `at_desk` with queue and reasons, or `cleared`.

    A blocking finding always stops, whatever the pipeline's rules say; a rule
    that cannot be evaluated stops too.
    """
    reading = situation.facts.reading
    if definition.others_aside and _is_aside(reading):
        reason = f"a {reading.kind.value}: kept with its mail, nothing to post"
        return Decision(outcome=Outcome.ASIDE, reasons=(reason,))
    open_findings = [
        finding
        for finding in situation.findings
        if finding.blocks and finding.code not in situation.accepted
    ]
    if situation.cleared_by_person and not open_findings:
        return Decision(outcome=Outcome.CLEARED, reasons=("cleared at the desk",))
    names = names_of(situation, bool(open_findings))
    shown = {finding.code for finding in open_findings}
    gone = [code for code in situation.stopped_for if code not in shown]
    codes = {finding.code for finding in situation.findings}
    queue = ""
    reasons = [finding.message for finding in open_findings]
    reasons += [
        f"Nothing says any more: {CODES[code].title[0].lower()}{CODES[code].title[1:]}. "
        "It stopped for that, so a person lets it go on."
        for code in gone
    ]
    for rule in definition.desk:
        try:
            holds = bool(evaluate(rule.when, names, codes))
            reason = rule.source
        except NotEvaluableError as error:
            holds, reason = True, f"{rule.source} could not be evaluated: {error}"
        if holds:
            queue = queue or rule.queue
            if rule.source != "blocked":  # the findings themselves say more
                reasons.append(reason)
    if reasons:
        return Decision(
            outcome=Outcome.AT_DESK, queue=queue or DEFAULT_QUEUE, reasons=tuple(reasons)
        )
    return Decision(outcome=Outcome.CLEARED)


def names_of(situation: Situation, blocked: bool) -> Names:
    """The names of the expression language with this document's values."""
    facts = situation.facts
    reading = facts.reading
    names: dict[str, Literal] = {
        name: value for name in reading.fields if (value := reading.value(name)) is not None
    }
    names["kind"] = reading.kind.value
    names["blocked"] = blocked
    names["risk"] = risk(reading, seller_known=facts.seller_known)
    if reading.language:
        names["language"] = reading.language
    if facts.entity:
        names["entity"] = facts.entity.code
    if facts.vendor:
        names["vendor.code"] = facts.vendor.code
        names["vendor.name"] = facts.vendor.name
        names["vendor.needs_order"] = facts.vendor.needs_order
    if facts.order:
        names["order.number"] = facts.order.number
        names["order.net_total"] = facts.order.net_total
    names.update({name: value for name, value in situation.mail.items() if value})
    return names
