"""The part of a pipeline file that says whom to tell what."""

import yaml

from veridox.core.language import Control, Expression, ExpressionError, Scope, known_at, parse
from veridox.core.language.names import TABLE
from veridox.core.language.syntax import Type
from veridox.core.language.typing import type_of
from veridox.core.language.verdict import names_in
from veridox.core.pipeline.definition import Tell, Through
from veridox.core.pipeline.file import nodes
from veridox.core.pipeline.file.nodes import Problems, Section
from veridox.core.pipeline.file.said import condition_of, names_at, refuse_plugins, text_of
from veridox.core.pipeline.states import EVENTS
from veridox.core.pipeline.telling import ADDRESS, shipped


def tell_of(part: Section) -> Tell | None:
    """One item of `tell`; None with problems noted."""
    event = part.chosen("on")
    # What is known at the event; where the event is none, all is taken as known.
    scope = EVENTS[event].scope if event else Scope.POSTED
    when = condition_of(part, "when", scope, event or "")
    entries = set(part.entries)
    if {"mail", "chat"} <= entries or not {"mail", "chat"} & entries:
        more = "write two for both" if "mail" in entries else "it says neither"
        message = f"one item tells by mail or by chat; {more}"
        part.problems.add(part.node, part.path, message)
        return None
    told = _mail(part, scope, event or "") if "mail" in entries else _chat(part, scope, event or "")
    if event is None or told is None:
        return None
    return Tell(
        on=event, when=when, to=told.to, to_from=told.to_from, template=told.template,
        subject=told.subject, text=told.text, channel=told.channel,
    )  # fmt: skip


def through_of(top: Section) -> Through:
    """Which connections the pipeline's mails and chat messages go through."""
    part = top.section("through")
    if part is None:
        return Through()
    return Through(
        outbox=part.get("mail", nodes.slug) or "", chat=part.get("chat", nodes.slug) or ""
    )


def _mail(part: Section, scope: Scope, event: str) -> Tell | None:
    mail = part.section("mail")
    if mail is None:
        return None
    to, to_from = _recipient(mail, scope, event)
    template = mail.chosen("template")
    own = {"subject", "text"} & set(mail.entries)
    if "template" in mail.entries and own:
        node = mail.entries[min(own)]
        mail.problems.add(node, mail.path, "a text that ships, or one of your own: not both")
    if "template" not in mail.entries and len(own) < 2:
        hint = "or subject and text of your own"
        mail.problems.add(mail.node, mail.path, f"{mail.path} needs 'template'", hint)
    if template and event and not _fits(template, event):
        message = f"the text {template!r} speaks of what is not known yet at this event"
        mail.problems.add(mail.entries["template"], mail.child("template"), message)
    subject, text = text_of(mail, "subject", scope, event), text_of(mail, "text", scope, event)
    if "subject" in mail.entries and subject and "\n" in subject.source.strip():
        node = mail.entries["subject"]
        mail.problems.add(node, mail.child("subject"), "a subject has one line")
    return Tell(on="", to=to, to_from=to_from, template=template or "", subject=subject, text=text)


def _fits(template: str, event: str) -> bool:
    """Whether all that a text that ships speaks of is known at an event."""
    known = known_at(EVENTS[event].scope, event)
    return all(name in known for text in shipped(template) for name in text.names)


def _chat(part: Section, scope: Scope, event: str) -> Tell | None:
    chat = part.section("chat")
    if chat is None:
        return None
    channel, text = chat.get("channel", nodes.slug), text_of(chat, "text", scope, event)
    return None if channel is None or text is None else Tell(on="", channel=channel, text=text)


def _recipient(mail: Section, scope: Scope, event: str) -> tuple[str, Expression | None]:
    """An address, or where it comes from: never from what a stranger writes."""
    value = mail.get("to", nodes.text)
    if value is None:
        return "", None
    node, path = mail.entries["to"], mail.child("to")
    if not value.startswith("="):
        return mail.get("to", _address) or "", None
    try:
        found = parse(value[1:])
        kind = type_of(found, names_at(mail.problems, scope, event))
    except ExpressionError as error:
        mail.problems.add(node, path, str(error), error.hint, error.at + 1)
        return "", None
    refuse_plugins(mail, "to", found)
    if kind is not Type.TEXT:
        mail.problems.add(node, path, f"an address is a text, this is a {kind.value}")
    for name in names_in(found):
        if name in mail.problems.parameters:
            continue  # said by whoever began the run
        if name not in TABLE or TABLE[name].control is not Control.OURS:
            ours = ", ".join(sorted(
                each for each, row in TABLE.items()
                if row.control is Control.OURS and row.type is Type.TEXT and row.scope <= scope
            ))  # fmt: skip
            message = f"{name} is what the document or its mail says; nobody is written to for it"
            mail.problems.add(node, path, message, f"names of ours are {ours}")
    return "", found


def _address(node: yaml.Node, path: str, problems: Problems) -> str | None:
    value = nodes.text(node, path, problems)
    if value is not None and not ADDRESS.fullmatch(value):
        problems.add(node, path, f"{value!r} is not a mail address")
        return None
    return value
