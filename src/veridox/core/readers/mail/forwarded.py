"""A mail that was forwarded within the text of another: who wrote it first."""

import re
from dataclasses import dataclass
from email.utils import getaddresses

from veridox.core.readers.mail.content import Letter
from veridox.core.readers.mail.decoding import date_of

_FORWARDED = re.compile(
    r"^\s*(fwd?|wg|tr|rv|i|enc|vs|vb|doorst|weitergeleitet|pd|re-?fwd)\s*:", re.IGNORECASE
)
# Labels as mail programs write them: en de fr es it nl pl pt sv.
_LABELS = {
    "from": ("from", "von", "de", "da", "van", "od", "från", "fra", "expéditeur", "mittente"),
    "sent": (
        "date", "sent", "datum", "gesendet", "envoyé", "fecha", "enviado", "enviado el", "data",
        "inviato", "verzonden", "wysłano", "enviada", "skickat",
    ),
    "to": ("to", "an", "à", "a", "para", "aan", "do", "till", "til"),
    "subject": (
        "subject", "betreff", "objet", "asunto", "oggetto", "onderwerp", "temat", "assunto",
        "ämne",
    ),
}  # fmt: skip
_LABEL_OF = {label: field for field, labels in _LABELS.items() for label in labels}
_LINE = re.compile(r"^[\s>*]*([^\W\d_][\w ]{0,20}?)\s*:\*?\s*(.*?)\s*$")


@dataclass
class _Block:
    found: dict[str, str]
    end: int


def is_forward(subject: str) -> bool:
    """Whether a subject says so."""
    return bool(_FORWARDED.match(subject))


def letter_within(subject: str, text: str) -> Letter | None:
    """The first letter that stands below a block of its headers in the text, or None.

    Only where the subject says that the mail was forwarded: a reply quotes
    the same kind of block, and there the outer sender is the one who speaks.
    """
    if not is_forward(subject):
        return None
    lines = text.splitlines()
    block = next(
        (found for at in range(len(lines)) if (found := _block(lines, at)) is not None), None
    )
    if block is None:
        return None
    name, address = next(iter(getaddresses([block.found["from"].replace("mailto:", "")])))
    if "@" not in address:
        named = re.search(r"[\w.+-]+@[\w-]+(?:\.[\w-]+)+", block.found["from"])
        if named is None:
            return None
        name, address = block.found["from"][: named.start()].strip(' <[("'), named.group()
    return Letter(
        sender_name=name[:2000],
        sender_address=address.lower()[:320],
        recipients=tuple(
            each.lower() for _, each in getaddresses([block.found.get("to", "")]) if "@" in each
        ),
        subject=block.found.get("subject", "")[:2000],
        sent=date_of(block.found.get("sent", "")),
        text="\n".join(lines[block.end :]).strip(),
    )


def _block(lines: list[str], at: int) -> _Block | None:
    """Consecutive lines from `at` that hold at least a sender and a subject or a date."""
    found: dict[str, str] = {}
    for index in range(at, min(at + 8, len(lines))):
        match = _LINE.match(lines[index])
        field = _LABEL_OF.get(match.group(1).strip().lower()) if match else None
        if match is None or field is None:
            return None if index == at else _whole(found, index)
        if index == at and field != "from":
            return None
        found.setdefault(field, match.group(2))
    return _whole(found, min(at + 8, len(lines)))


def _whole(found: dict[str, str], end: int) -> _Block | None:
    whole = "@" in found.get("from", "") and ("subject" in found or "sent" in found)
    return _Block(found, end) if whole else None
