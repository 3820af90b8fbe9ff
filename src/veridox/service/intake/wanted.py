"""A pipeline's conditions on mails that lie on a server."""

import hashlib
import json
from collections.abc import Iterator
from dataclasses import asdict, replace
from datetime import date

from veridox.core.pipeline import Condition, MailFacts, Wanted, conditions, facts_of_content, unmet
from veridox.core.readers.mail.content import MailContent
from veridox.service.ports.mailbox import Mailbox, Outline, file_names


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


def unmet_by_content(
    wanted: Wanted, content: MailContent, outline: Outline, today: date
) -> Condition | None:
    """The same for a mail that only its own bytes describe: the server could not."""
    told = facts_of_content(content, outline.received_at)
    facts = replace(told, read=outline.read, keywords=outline.keywords)
    return unmet(wanted, facts, today)


def conditions_key(wanted: Wanted) -> str:
    """A digest of the conditions; two that refuse the same mails have the same one."""
    given = {name: value for name, value in asdict(wanted).items() if name != "at_most"}
    text = json.dumps(given, sort_keys=True, default=str)
    return hashlib.sha256(text.encode()).hexdigest()[:32]
