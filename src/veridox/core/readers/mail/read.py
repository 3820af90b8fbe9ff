"""A mail's bytes as letter, words and files; every part is accounted for."""

from dataclasses import replace
from email import message_from_string
from email.message import Message

from veridox.core.filetypes import OUTLOOK
from veridox.core.readers.limits import Limits
from veridox.core.readers.mail.content import (
    Letter,
    MailContent,
    MailFile,
    MailKind,
)
from veridox.core.readers.mail.decoding import header_text, raw_headers
from veridox.core.readers.mail.forwarded import letter_within
from veridox.core.readers.mail.html import links_in
from veridox.core.readers.mail.kinds import kind_of
from veridox.core.readers.mail.outlook import read_outlook
from veridox.core.readers.mail.walk import Walk, parse
from veridox.core.readers.sniff import sniff


def read_mail(content: bytes, limits: Limits | None = None) -> MailContent:
    """Take a mail apart: RFC 5322 text, or one saved as .msg.

    Broken headers and parts are read as far as they go; nothing raises but for
    bugs. One part that cannot be decoded becomes a file with its raw bytes: a
    person can look at it, and the mail's other files are not held up.
    """
    limits = limits or Limits()
    walk = Walk(limits)
    if sniff(content) == OUTLOOK:
        try:
            saved = read_outlook(content, limits.mail_depth)
        except ValueError as error:
            message = message_from_string("")
            walk.message(message)
            walk.defects.append(str(error))
        else:
            message = message_from_string(saved.headers)
            walk.outlook(saved)
    else:
        message = parse(content, walk.bulk)
        walk.message(message)
    files, mails = walk.files()
    outer = walk.mails[0]
    kind, reason = kind_of(message)
    text, html = outer.text, "\n".join(outer.html)
    found = MailContent(
        message_id=outer.letter.message_id,
        sender_name=outer.letter.sender_name,
        sender_address=outer.letter.sender_address,
        recipients=outer.letter.recipients,
        subject=outer.letter.subject,
        sent=outer.letter.sent,
        text=text,
        html=html,
        kind=kind,
        kind_reason=reason,
        links=links_in(text, html),
        headers=_headers(message),
        files=files,
        parts=tuple(walk.parts),
        defects=tuple(dict.fromkeys(walk.defects)),
    )
    if kind is MailKind.LETTER:
        found = replace(found, forwarded=_forwarded(walk, files, mails, found))
    return found


def _headers(message: Message) -> dict[str, str]:
    headers: dict[str, str] = {}
    for name, value in raw_headers(message):
        headers.setdefault(name, header_text(value))
    return headers


def _forwarded(
    walk: Walk, files: tuple[MailFile, ...], mails: list[int], found: MailContent
) -> Letter | None:
    """The one mail that all files came in, when it is not the outermost."""
    inner = {mail for file, mail in zip(files, mails, strict=True) if not file.left_out}
    if not inner and len(walk.mails) == 2:
        inner = {1}
    if len(inner) == 1 and inner != {0}:
        words = walk.mails[inner.pop()]
        return replace(words.letter, text=words.text)
    if len(walk.mails) == 1:
        return letter_within(found.subject, found.text)
    return None
