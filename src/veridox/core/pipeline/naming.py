"""What a mail and a file of it are called in expressions and templates (C04)."""

from collections.abc import Sequence
from decimal import Decimal

from veridox.core.language import header_name
from veridox.core.language.syntax import Literal
from veridox.core.readers.mail.content import MailContent, MailFile


def names_of_letter(
    *,
    sender_address: str = "",
    sender_name: str = "",
    recipients: Sequence[str] = (),
    subject: str = "",
    text: str = "",
) -> dict[str, Literal]:
    """Names of who speaks in a mail; empty ones are missing."""
    found = {
        "sender.address": sender_address,
        "sender.name": sender_name,
        "recipients": ", ".join(recipients),
        "subject": subject,
        "text": text,
    }
    return {name: value for name, value in found.items() if value}


def names_of_bytes(name: str, media_type: str, size: int, position: int) -> dict[str, Literal]:
    """Names of a file: `size` in bytes, `position` in its mail from 1."""
    return {
        "file.name": name,
        "file.type": media_type,
        "file.size": Decimal(size),
        "file.position": Decimal(position),
    }


def names_of_content(content: MailContent, file: MailFile) -> dict[str, Literal]:
    """Names of a mail that was just taken apart, and of a file of it; of a forwarded mail, of the
    inner one. When it was received is not known."""
    letter = content.letter
    names: dict[str, Literal] = {
        **names_of_bytes(file.name, file.media_type, len(file.content), file.position),
        "message.kind": content.kind,
        **names_of_letter(
            sender_address=letter.sender_address,
            sender_name=letter.sender_name,
            recipients=letter.recipients,
            subject=letter.subject,
            text=letter.text,
        ),
    }
    return names | {header_name(name): value for name, value in content.headers.items() if value}
