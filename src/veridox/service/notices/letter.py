"""The letter that goes to a vendor with a returned document. Reads only."""

from dataclasses import dataclass

from veridox.core.language import lists_of, values_of
from veridox.core.pipeline.telling import LETTER_TEXT, filled_in
from veridox.service.documents.models import Document
from veridox.service.documents.subject import subject_of_document

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
    subject = subject_of_document(document)
    line, text = filled_in(LETTER_TEXT, values_of(subject), lists_of(subject))
    return Letter(to=document.vendor.email if document.vendor else "", subject=line, text=text)
