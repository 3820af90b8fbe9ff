"""The names that expressions may use, each with its type."""

from collections.abc import Mapping
from typing import Final

from veridox.core.reading import FIELDS, FieldType
from veridox.core.rules.syntax import Literal, Type

Names = Mapping[str, Literal]
"""Values by name; a name that is not there is missing."""

TYPE_OF_FIELD: Final = {
    FieldType.TEXT: Type.TEXT,
    FieldType.CURRENCY: Type.TEXT,
    FieldType.DATE: Type.DATE,
    FieldType.MONEY: Type.MONEY,
    FieldType.NUMBER: Type.NUMBER,
    FieldType.RATE: Type.NUMBER,
    FieldType.CHOICE: Type.TEXT,
}
"""What a field's value is to expressions."""

NAMES: Final[dict[str, Type]] = {
    **{name: TYPE_OF_FIELD[spec.type] for name, spec in FIELDS.items()},
    "kind": Type.TEXT,
    "language": Type.TEXT,
    "blocked": Type.TRUTH,
    "risk": Type.PERCENT,
    "entity": Type.TEXT,
    "vendor.code": Type.TEXT,
    "vendor.name": Type.TEXT,
    "vendor.needs_order": Type.TRUTH,
    "order.number": Type.TEXT,
    "order.net_total": Type.MONEY,
    "sender.address": Type.TEXT,
    "sender.name": Type.TEXT,
    "recipients": Type.TEXT,
    "subject": Type.TEXT,
    "text": Type.TEXT,
    "received": Type.DATE,
    "message.kind": Type.TEXT,
    "file.name": Type.TEXT,
    "file.type": Type.TEXT,
    "file.size": Type.NUMBER,
    "file.position": Type.NUMBER,
}
"""Every name of the language with its type."""

MAIL_NAMES: Final[dict[str, Type]] = {
    name: NAMES[name]
    for name in (
        "sender.address", "sender.name", "recipients", "subject", "text", "received",
        "message.kind",
    )
}  # fmt: skip
"""What is known as soon as a mail came in."""

FILE_NAMES: Final[dict[str, Type]] = {
    **MAIL_NAMES,
    **{name: NAMES[name] for name in ("file.name", "file.type", "file.size", "file.position")},
}
"""What is known of a file before it is read."""

HEADERS: Final = "message.headers"
"""Followed by a header's name in brackets: `message.headers["x-topic"]`."""


def header_name(header: str) -> str:
    """The name by which a mail's header is known to expressions, whatever its capitals."""
    return f'{HEADERS}["{header.lower()}"]'


FUNCTIONS: Final[dict[str, tuple[tuple[Type, ...], Type]]] = {
    "found": ((Type.TEXT,), Type.TRUTH),
    "lower": ((Type.TEXT,), Type.TEXT),
    "startswith": ((Type.TEXT, Type.TEXT), Type.TRUTH),
    "days_between": ((Type.DATE, Type.DATE), Type.NUMBER),
}
"""Functions with the types of their arguments and of their result."""
