"""What a mail and its file are called in expressions and templates (C04)."""

from decimal import Decimal

from veridox.core.rules import header_name
from veridox.core.rules.syntax import Literal
from veridox.service.documents.models import File
from veridox.service.mail.models import Message


def names_of_file(file: File) -> dict[str, Literal]:
    """Names of a file and of the mail that it came in; of a forwarded one, of the inner mail."""
    names: dict[str, Literal] = {
        "file.name": file.name,
        "file.type": file.media_type,
        "file.size": Decimal(file.size),
        "file.position": Decimal(file.position),
        "received": file.received_at.date(),
    }
    if file.message is not None:
        names |= names_of_mail(file.message)
        if file.letter:
            names |= _names_of_letter(file.letter)
    return names


def names_of_mail(message: Message) -> dict[str, Literal]:
    """Names of a mail; a forwarded one speaks for its inner mail. Empty ones are missing."""
    names: dict[str, Literal] = {
        "received": message.received_at.date(),
        "message.kind": message.kind,
        **_names_of_letter(
            {
                "sender_address": message.sender_address,
                "sender_name": message.sender_name,
                "recipients": message.recipients,
                "subject": message.subject,
                "text": message.text,
            }
        ),
    }
    for header, value in message.headers.items():
        if value:
            names[header_name(header)] = value
    if message.forwarded:
        names |= _names_of_letter(message.forwarded)
    return names


def _names_of_letter(letter: dict[str, object]) -> dict[str, Literal]:
    recipients = letter.get("recipients")
    found = {
        "sender.address": letter.get("sender_address"),
        "sender.name": letter.get("sender_name"),
        "recipients": ", ".join(map(str, recipients)) if isinstance(recipients, list) else "",
        "subject": letter.get("subject"),
        "text": letter.get("text"),
    }
    return {name: str(value) for name, value in found.items() if value}
