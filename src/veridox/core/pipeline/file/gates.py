"""The part of a pipeline file that says when a person looks."""

from veridox.core.findings.wording import counted
from veridox.core.language import Scope
from veridox.core.language.verdict import asks_for, implies
from veridox.core.pipeline.definition import WAITS, DeskRule, Wait
from veridox.core.pipeline.file import nodes
from veridox.core.pipeline.file.check import days
from veridox.core.pipeline.file.nodes import Section
from veridox.core.pipeline.file.risk_gate import with_risk_gate
from veridox.core.pipeline.file.said import condition_of

MOST_COMPARED = 50
"""Entries that each is compared with: a check must not take long for a file of any length."""


def desk_of(top: Section) -> tuple[DeskRule, ...]:
    """Entries of the desk, with a risk gate; what no document can reach is warned of."""
    found: list[DeskRule] = []
    for part in top.sections("desk"):
        rule = _rule(part)
        if rule is None:
            continue
        compared = found[:MOST_COMPARED]
        before = next((each for each in compared if implies(rule.when, each.when)), None)
        if before is not None and rule.queue != before.queue:
            message = f"nothing waits in queue {rule.queue} for this"
            hint = f"all that it holds for, {before.source!r} holds for, which stands before it"
            top.problems.warn(part.entries["when"], part.child("when"), message, hint)
        found.append(rule)
    _blocked_is_named(top, found)
    return with_risk_gate(tuple(found))


def _rule(part: Section) -> DeskRule | None:
    when = condition_of(part, "when", Scope.DECIDED)
    queue = part.get("queue", nodes.slug) or "exceptions"
    because = part.get("because", nodes.text) or ""
    if when is None:
        return None
    source = part.get("when", nodes.text) or ""
    return DeskRule(when=when, source=source, queue=queue, because=because)


def wait_of(top: Section) -> Wait:
    """What is waited for; by itself all that can be."""
    part = top.section("wait")
    if part is None:
        return Wait()
    codes = frozenset(part.all_chosen("for")) if "for" in part.entries else WAITS
    tell_after, at_most = part.get("tell_after", days), part.get("at_most", days)
    if tell_after is not None and at_most is not None and tell_after >= at_most:
        message = f"nobody is told: after {counted(at_most, 'day')} it is at the desk already"
        part.problems.warn(part.entries["tell_after"], part.child("tell_after"), message)
    return Wait(codes=codes, tell_after=tell_after, at_most=at_most)


def _blocked_is_named(top: Section, rules: list[DeskRule]) -> None:
    """Findings that block stop a document all the same, in a queue that the file does not name."""
    wrong = any(each.path.startswith("desk") for each in top.problems.found)
    if wrong or "desk" not in top.entries:
        return  # what was meant there is not known
    if any(asks_for(each.when, "blocked") for each in rules):
        return
    message = "no entry of the desk asks for 'blocked'"
    hint = "what a finding stops waits in the queue exceptions; write {when: blocked, queue: ...}"
    top.problems.warn(top.entries["desk"], "desk", message, hint)
