"""The letter that goes to a vendor with a returned document. Reads only."""

from dataclasses import dataclass
from datetime import date

from veridox.service.documents.models import Document
from veridox.service.notices.actions.queue import names_for
from veridox.service.notices.templates import render

NOTHING_SAID = "(please say here what is wrong)"
"""Stands where a draft has nothing to say; a letter with it is not sent."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Letter:
    """A draft; a person looks at it before it goes.

    Attributes:
        to: the vendor's contact in the master data; empty without one. Never the sender,
            who may be a colleague, a no-reply address or a forger.
        subject, text: in plain words.
    """

    to: str
    subject: str
    text: str


def draft(document: Document) -> Letter:
    """A polite letter that says what does not fit and asks for a corrected document."""
    points = [
        str(finding["letter"])
        for finding in document.findings
        if finding["weight"] != "note" and finding.get("letter")
    ]
    to = document.vendor.email if document.vendor else ""
    names = {
        **names_for(document),
        "points": points,
        "nothing_said": NOTHING_SAID,
        "issued": _in_words(document.issue_date),
    }
    subject, text = render("please-correct", names)
    return Letter(to=to, subject=subject, text=text)


def _in_words(day: date | None) -> str:
    # A month's name leaves nothing to guess between countries.
    return f"{day.day} {day:%B %Y}" if day else ""
