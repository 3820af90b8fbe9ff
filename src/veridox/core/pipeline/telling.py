"""What is sent at an event, as it would look: the texts that ship, and those of a pipeline."""

import re
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources
from typing import Final

from veridox.core.language import (
    Lists,
    Looked,
    Names,
    NotEvaluableError,
    Scope,
    Subject,
    evaluate,
    known_at,
    lists_of,
    look,
    values_of,
)
from veridox.core.language.texts import Text, compile_text, one_line
from veridox.core.pipeline.definition import Definition, Tell
from veridox.core.pipeline.states import EVENTS

LETTER_TEXT: Final = "please-correct"
"""Name of the letter with which a document goes back to its vendor."""
ADDRESS: Final = re.compile(r"[^@\s,;<>]+@[^@\s,;<>]+\.[^@\s,;<>]+")
"""A mail address, as far as it is looked at before a mail server does."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Outgoing:
    """One mail or chat message as it would go out.

    Attributes:
        to: address of the mail; empty for a chat message.
        channel: of the chat; empty for a mail.
        subject: of the mail, one line.
        text: whole.
        problem: why it cannot go; empty when it can.
    """

    to: str = ""
    channel: str = ""
    subject: str = ""
    text: str = ""
    problem: str = ""


@lru_cache(maxsize=64)
def shipped(name: str) -> tuple[Text, Text]:
    """Subject and text of a template that ships. Raises KeyError when there is none."""
    event = next((event for event, each in EVENTS.items() if each.template == name), "")
    scope = EVENTS[event].scope if event else Scope.STOPPED
    file = resources.files("veridox.core.pipeline").joinpath("texts", f"{name}.txt")
    if not file.is_file():
        raise KeyError(name)
    first, _, rest = file.read_text("utf-8").partition("\n")
    known = known_at(scope, event)
    subject = compile_text(first.removeprefix("Subject: "), known)
    return subject, compile_text(rest.lstrip("\n"), known)


def filled_in(name: str, names: Names, lists: Lists) -> tuple[str, str]:
    """Subject and text of a template that ships, with values."""
    subject, text = shipped(name)
    return one_line(subject.fill(names, lists)), text.fill(names, lists)


def outgoing_of(tell: Tell, names: Names, lists: Lists) -> Outgoing:
    """What an item of `tell` sends, with values. Never raises for a value."""
    if tell.channel:
        assert tell.text is not None  # noqa: S101 - its check has seen to it
        return Outgoing(channel=tell.channel, text=tell.text.fill(names, lists))
    to, problem = _recipient(tell, names)
    if tell.template:
        subject, text = filled_in(tell.template, names, lists)
    else:
        subject = one_line(tell.subject.fill(names, lists)) if tell.subject else ""
        text = tell.text.fill(names, lists) if tell.text else ""
    return Outgoing(to=to, subject=subject, text=text, problem=problem)


def _recipient(tell: Tell, names: Names) -> tuple[str, str]:
    if tell.to_from is None:
        return tell.to, ""
    try:
        found = str(evaluate(tell.to_from, names))
    except NotEvaluableError as error:
        return "", f"nobody to send it to: {error}"
    if not ADDRESS.fullmatch(found):
        return "", f"nobody to send it to: {found!r} is not a mail address"
    return found, ""


@dataclass(frozen=True, kw_only=True, slots=True)
class Told:
    """An item of `tell` at its event: what its condition gave, and what goes out.

    Attributes:
        looked: of the condition; None without one.
        outgoing: None where the condition does not hold or could not be evaluated.
    """

    tell: Tell
    looked: Looked | None = None
    outgoing: Outgoing | None = None


def told_at(definition: Definition, event: str, subject: Subject) -> tuple[Told, ...]:
    """What a pipeline tells whom at an event."""
    items = [each for each in definition.tell if each.on == event]
    if not items:
        return ()
    names, lists = values_of(subject), lists_of(subject)
    codes = {finding.code for finding in subject.findings}
    found = []
    for tell in items:
        looked = (
            look(tell.when, names, codes, lists, subject.facts, subject.calls)
            if tell.when is not None
            else None
        )
        goes = looked is None or looked.holds is True
        outgoing = outgoing_of(tell, names, lists) if goes else None
        found.append(Told(tell=tell, looked=looked, outgoing=outgoing))
    return tuple(found)
