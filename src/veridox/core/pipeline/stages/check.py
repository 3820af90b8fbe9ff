"""Run the checks, weigh the risk, and set aside what is never posted."""

from collections import Counter
from dataclasses import replace
from decimal import Decimal

from veridox.core.checks import CODES, run_checks
from veridox.core.checks.cards import audited
from veridox.core.checks.shares import shares
from veridox.core.coding import FOOT, CodedLine, Source
from veridox.core.extract.confidence import FIGURES, risk_of
from veridox.core.facts import Facts
from veridox.core.findings.wording import counted
from veridox.core.language import Subject
from veridox.core.language.explain import shown_value
from veridox.core.language.syntax import Percent
from veridox.core.pipeline.case import Case, Checked
from veridox.core.pipeline.definition import Definition
from veridox.core.pipeline.effects import AskPlugins
from veridox.core.pipeline.stages.coding import coding_findings, coding_of
from veridox.core.pipeline.stages.outcome import Outcome, Stop
from veridox.core.pipeline.stages.rules import ruled
from veridox.core.pipeline.statements import acceptance_by_two, acceptance_of, told
from veridox.core.pipeline.states import State
from veridox.core.reading import FIELDS, POSTED_KINDS, Kind, Origin, Reading

SELLER = frozenset({"seller.name", "seller.tax_id"})
"""What is read of who sells; nothing hangs on it where that is known otherwise."""


def check(definition: Definition, case: Case) -> Outcome:
    """All findings and the risk; a kind that is never posted is set aside.

    Raises:
        CheckError: a check failed.
    """
    reading = case.facts.reading
    looked = _knew(case.facts)
    if definition.others_aside and _is_aside(reading):
        # Of a document without anything to post only what concerns its file is said.
        checked = Checked(findings=case.facts.file_findings, open=(), risk=risk_of_case(case.facts))
        reason = f"a {reading.kind.value}: kept with its mail, nothing to post"
        return Outcome(
            stop=Stop(state=State.ASIDE, reasons=(reason,)),
            looked=(*looked, reason),
            case=replace(case, checked=checked),
        )
    if case.plugins_missing:
        said = "plug-ins are asked first"
        stop = Stop(state=State.READ, reasons=(said,))
        return Outcome(stop=stop, effects=(AskPlugins(),), looked=(*looked, said))
    from_outside = told(case.statements)
    found = run_checks(case.facts)
    if case.plugins is not None:
        found = (*found, *case.plugins.findings)
        looked.append(f"plug-ins asked: {case.plugins.asked}")
    subject = Subject(
        mail=case.mail, files=case.files, around=case.around, facts=case.facts, findings=found,
        calls=case.plugins.calls if case.plugins else None,
    )  # fmt: skip
    coding = definition.post.coding if definition.post else None
    coded = coding_of(coding, case, subject) if coding is not None else ()
    if coding is not None:
        found = (*found, *coding_findings(coding, case.facts, coded))
        looked += _coded(coded)
    findings = (*found, *ruled(definition.rules, subject, reading), *from_outside)
    open_findings = []
    for finding in findings:
        by = None
        code = CODES[finding.code]
        if finding not in from_outside and code.second:
            by = acceptance_by_two(finding, reading, case.statements, case.entered_by)
        elif finding not in from_outside and code.accepted:
            by = acceptance_of(finding, reading, case.statements)
        if finding.blocks and by is None:
            open_findings.append(finding)
        accepted = f" (accepted by {by.by.partition(':')[2]}: {by.reason})" if by else ""
        looked.append(f"{finding.code}, {finding.weight.value}: {finding.message}{accepted}")
    if not findings:
        looked.append("no findings")
    risk = _with_coding(risk_of_case(case.facts), coded)
    looked.append(f"risk {shown_value(risk)}{_least_sure(case.facts)}")
    checked = Checked(findings=findings, open=tuple(open_findings), risk=risk, coding=coded)
    return Outcome(looked=tuple(looked), case=replace(case, checked=checked))


def _with_coding(risk: Percent, coded: tuple[CodedLine, ...]) -> Percent:
    """The same with the chance that a code is wrong: one guess for all lines of a wording."""
    right = 1 - risk.share
    for chance in {(line.description, line.chance) for line in coded}:
        right *= Decimal(str(round(chance[1], 6)))
    return Percent(min(Decimal(1), 1 - right))


def _coded(coded: tuple[CodedLine, ...]) -> list[str]:
    """Each line with its codes, and who says them."""
    said = []
    for line in coded:
        named = FOOT.get(line.at) or (f"line {line.at}" if line.at else "the bill")
        for part in line.parts:
            codes = ", ".join(
                f"{dimension.value} {each.code} ({each.source.value}"
                + (f": {each.why}" if each.why and each.source is not Source.RULE else "")
                + (f", {each.chance:.0%}" if each.chance < 1 else "") + ")"
                for dimension, each in part.codes.items()
            )  # fmt: skip
            share = f", {part.amount}" if len(line.parts) > 1 else ""
            said.append(f"{named}{share}: {codes or 'no codes'}")
    return said


def _is_aside(reading: Reading) -> bool:
    return reading.kind not in POSTED_KINDS and reading.kind is not Kind.OTHER


def _knew(facts: Facts) -> list[str]:
    """What was known of the document besides its reading."""
    vendor, entity = facts.vendor, facts.entity
    said = [f"read as {facts.reading.kind.value}, {facts.reading.kind_confidence:.0%} sure"]
    if vendor:
        chosen = ", chosen by a person" if facts.vendor_chosen else ""
        said.append(f"vendor {vendor.code} {vendor.name}{chosen}")
    else:
        said.append("vendor not known")
    said += [
        f"for vendor {match.vendor.code} ({match.score:.0%}): {reason}"
        for match in facts.near_vendors[:1]
        for reason in match.reasons
    ]
    said.append(f"billed to {entity.code} {entity.name}" if entity else "billed to: not known")
    if facts.exchange is not None:
        rate = facts.exchange
        said.append(
            f"1 {rate.currency} = {rate.rate.normalize():f} {rate.into} ({rate.source}, {rate.day})"
        )
    said += [
        f"order {order.number}: {order.net_total} net, {order.invoiced} billed before"
        for order in facts.orders
    ]
    of = shares(facts) if facts.further_orders else None
    if of is not None:
        said += [f"billed on order {number}: {share}" for number, share in of.of.items()]
    verdicts = Counter(each.verdict.value for each in audited(facts))
    if verdicts:
        cards = ", ".join(dict.fromkeys(each.card for each in facts.agreed or ()))
        told = ", ".join(f"{counted(count, 'line')} {what}" for what, count in verdicts.items())
        said.append(f"rate card {cards}: {told}")
    return said


def risk_of_case(facts: Facts) -> Percent:
    """`risk` of the reading with what is known of its seller."""
    return risk(facts.reading, seller_known=facts.seller_known)


def risk(reading: Reading, *, seller_known: bool = False) -> Percent:
    """The chance that any value about to be posted is wrong, from the confidences.

    Values entered by a person count as right, and who sells where that is known otherwise (a
    person said it, or name and tax id are both a vendor's of the master data). Mistakes come
    together, so the confidences' product says too much; how often documents of such a product
    were wrong is known (`core/extract/confidence.py`).
    """
    right = Decimal(str(reading.kind_confidence))
    for _, confidence in _weighed(reading, seller_known):
        right *= Decimal(str(confidence))
    return Percent(Decimal(str(round(risk_of(float(1 - right)), 6))))


def _weighed(reading: Reading, seller_known: bool) -> list[tuple[str, float]]:
    """Values that are about to be posted with how sure they are; of lines the least sure one."""
    vouched = _vouched(reading) | (SELLER if seller_known else frozenset())
    found = [
        (name, field.confidence)
        for name, field in reading.fields.items()
        if name in FIELDS and FIELDS[name].posted and name not in vouched
    ]
    lines = [row[name].confidence for row in reading.lines for name in FIGURES if name in row]
    return [*found, ("lines", min(lines))] if lines else found


def _least_sure(facts: Facts) -> str:
    """The values that the risk comes from, at most three."""
    weighed = sorted(_weighed(facts.reading, facts.seller_known), key=lambda each: each[1])[:3]
    doubtful = [f"{name} {sure:.1%}" for name, sure in weighed if sure < 0.995]
    return f"; least sure are {', '.join(doubtful)}" if doubtful else ""


_SUM = ("net_total", "tax_total", "gross_total")


def _vouched(reading: Reading) -> frozenset[str]:
    """Net, tax and total where they add up and a person entered one of them: it vouches for all."""
    net, tax, gross = (reading.money(name) for name in _SUM)
    if net is None or tax is None or gross is None or net.currency != tax.currency:
        return frozenset()
    by_hand = any(reading.fields[name].origin is Origin.PERSON for name in _SUM)
    return frozenset(_SUM) if by_hand and net.amount + tax.amount == gross.amount else frozenset()
