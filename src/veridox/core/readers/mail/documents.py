"""Which files of a mail are documents, its own words among them."""

from veridox.core.readers.mail.content import LeftOut, MailContent, MailFile, MailKind

BODY = "mail text"
"""Name of the file that a mail's own text becomes."""
STUCK = frozenset({LeftOut.LOCKED, LeftOut.LIMIT, LeftOut.DAMAGED})
"""Why a file is kept that somebody must look at: it may be a bill, and cannot be opened."""


def body_is_document(content: MailContent, body: str) -> bool:
    """Whether a mail's own words are a document (C10).

    Args:
        content: the mail.
        body: `always`, `without files` or `never`.
    """
    if content.kind is not MailKind.LETTER or not (content.text.strip() or content.html):
        return False
    # A file that cannot be opened is a file all the same; a logo is none.
    brings = any(not file.left_out or file.left_out in STUCK for file in content.files)
    return body == "always" or (body == "without files" and not brings)


def body_file(content: MailContent) -> MailFile:
    """A mail's own words as a file: its HTML, else plain text."""
    html = bool(content.html)
    return MailFile(
        position=len(content.files) + 1,
        name=f"{BODY}.{'html' if html else 'txt'}",
        declared_type="text/html" if html else "text/plain",
        media_type="text/html" if html else "text/plain",
        content=(content.html or content.text).encode(),
    )


def documents_of(content: MailContent, body: str = "without files") -> tuple[MailFile, ...]:
    """The files to read, its own words where they are one; in the mail's order."""
    files = tuple(file for file in content.files if not file.left_out)
    return (*files, body_file(content)) if body_is_document(content, body) else files
