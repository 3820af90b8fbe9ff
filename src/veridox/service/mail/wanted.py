"""A pipeline's conditions on mails that lie on a server."""

from collections.abc import Iterator
from datetime import date

from veridox.core.pipeline import Condition, MailFacts, Wanted, conditions, unmet
from veridox.service.mail.imap_outline import file_names
from veridox.service.mail.ports import Mailbox, Outline


def facts_of(box: Mailbox, outline: Outline) -> MailFacts:
    """What conditions ask about; the text is fetched only when one does."""
    texts = [piece for piece in outline.pieces if piece.is_text]
    return MailFacts(
        read=outline.read,
        keywords=outline.keywords,
        received_at=outline.received_at,
        people=outline.senders,
        recipients=outline.recipients,
        subject=outline.subject,
        files=file_names(outline),
        text=lambda: box.texts(outline.uid, texts),
    )


def unmet_by(wanted: Wanted, box: Mailbox, outline: Outline, today: date) -> Condition | None:
    """The condition that keeps a mail out; None when it is taken."""
    return unmet(wanted, facts_of(box, outline), today)


def looked_at(wanted: Wanted, box: Mailbox, outline: Outline, today: date) -> Iterator[Condition]:
    """All conditions with how the mail meets them."""
    return conditions(wanted, facts_of(box, outline), today)
