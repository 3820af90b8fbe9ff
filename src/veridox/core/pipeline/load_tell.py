"""The part of a pipeline file that says whom to tell what."""

import re
from collections.abc import Mapping

import yaml
from jinja2 import TemplateSyntaxError
from jinja2.sandbox import SandboxedEnvironment

from veridox.core.language import (
    Expression,
    ExpressionError,
    Scope,
    compile_condition,
    known_at,
)
from veridox.core.language.syntax import Type
from veridox.core.pipeline import nodes
from veridox.core.pipeline.definition import Tell, Through
from veridox.core.pipeline.nodes import Problems, Section
from veridox.core.pipeline.states import EVENTS

TEMPLATES = tuple(event.template for event in EVENTS.values())


def tell_of(node: yaml.Node, path: str, problems: Problems) -> Tell | None:
    """One item of `tell`; None with problems noted."""
    part = nodes.section(node, path, problems, ("on", "when", "mail", "chat"))
    if part is None:
        return None
    part.require("on")
    event = part.get("on", nodes.choice(*EVENTS))
    # Notices are told of mails and files; what was read and decided is not at hand there.
    when = _condition(part, "when", known_at(EVENTS[event].scope if event else Scope.FILE))
    if "mail" in part.entries and "chat" in part.entries:
        problems.add(node, path, "one item tells by mail or by chat; write two for both")
        return None
    told = _mail(part) if "mail" in part.entries else _chat(part)
    if event is None or told is None:
        return None
    return Tell(on=event, when=when, **told)


def through_of(top: Section) -> Through:
    """Which connections the pipeline's mails and chat messages go through."""
    part = top.section("through", "mail", "chat")
    if part is None:
        return Through()
    return Through(
        outbox=part.get("mail", nodes.slug) or "", chat=part.get("chat", nodes.slug) or ""
    )


def _condition(part: Section, key: str, names: Mapping[str, Type]) -> Expression | None:
    """A condition below a key; None when absent or wrong (then a problem is noted)."""
    source = part.get(key, nodes.text)
    if source is None:
        return None
    try:
        return compile_condition(source, names=names)
    except ExpressionError as error:
        where = part.entries[key]
        part.problems.add(where, part.child(key), str(error), error.hint, error.at)
        return None


def _mail(part: Section) -> dict[str, str] | None:
    mail = part.section("mail", "to", "template")
    if mail is None:
        return None
    mail.require("to", "template")
    to = mail.get("to", _address)
    template = mail.get("template", nodes.choice(*TEMPLATES))
    return None if to is None or template is None else {"to": to, "template": template}


def _chat(part: Section) -> dict[str, str] | None:
    chat = part.section("chat", "channel", "text")
    if chat is None:
        part.require("mail")
        return None
    chat.require("channel", "text")
    channel, text = chat.get("channel", nodes.slug), chat.get("text", _template)
    return None if channel is None or text is None else {"channel": channel, "text": text}


def _template(node: yaml.Node, path: str, problems: Problems) -> str | None:
    value = nodes.text(node, path, problems)
    if value is None:
        return None
    try:
        SandboxedEnvironment().parse(value)
    except TemplateSyntaxError as error:
        problems.add(node, path, f"the text cannot be filled in: {error.message}")
        return None
    return value


def _address(node: yaml.Node, path: str, problems: Problems) -> str | None:
    value = nodes.text(node, path, problems)
    if value is not None and not re.fullmatch(r"[^@\s,;<>]+@[^@\s,;<>]+\.[^@\s,;<>]+", value):
        problems.add(node, path, f"{value!r} is not a mail address")
        return None
    return value
