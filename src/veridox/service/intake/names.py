"""What a mail and its file are called in expressions and templates (C04)."""

from collections.abc import Mapping
from decimal import Decimal
from typing import Any

from veridox.core.language import header_name
from veridox.core.language.syntax import Literal
from veridox.core.pipeline.naming import names_of_bytes, names_of_letter
from veridox.service.intake.models import File, Message


def names_of_file(file: File) -> dict[str, Literal]:
    """Names of a file and of the mail that it came in; of a forwarded one, of the inner mail."""
    names = names_of_bytes(file.name, file.media_type, file.size, file.position)
    names["received"] = file.received_at.date()
    if file.message is not None:
        names |= names_of_mail(file.message)
        if file.letter:
            names |= _of_letter(file.letter)
    return names


def names_of_mail(message: Message) -> dict[str, Literal]:
    """Names of a mail; a forwarded one speaks for its inner mail. Empty ones are missing."""
    names: dict[str, Literal] = {
        "received": message.received_at.date(),
        "message.kind": message.kind,
        **names_of_letter(**{name: getattr(message, name) for name in LETTER}),
    }
    for header, value in message.headers.items():
        if value:
            names[header_name(header)] = value
    if message.forwarded:
        names |= _of_letter(message.forwarded)
    return names


def names_of_files(message: Message) -> tuple[dict[str, Literal], ...]:
    """Names of each file of a mail, in their order; those left out are not among them."""
    rows = message.files.filter(left_out="").order_by("position")
    return tuple(
        {"name": name, "type": type_, "size": Decimal(size), "position": Decimal(position)}
        for name, type_, size, position in rows.values_list(
            "name", "media_type", "size", "position"
        )
    )


LETTER = ("sender_address", "sender_name", "recipients", "subject", "text")
"""What is stored of a letter that names are made of."""


def _of_letter(letter: Mapping[str, Any]) -> dict[str, Literal]:
    return names_of_letter(**{name: letter[name] for name in LETTER if letter.get(name)})
