"""Who sent the mail that brought a file, and whether the receiving server proved it."""

from veridox.core.facts import MailFact
from veridox.core.matching import SenderFact
from veridox.core.readers.mail.authentication import authentication_of
from veridox.service.intake.models import File, Message


def mail_fact(file: File) -> MailFact:
    """What the mail of a file tells; of a file that came without one only its words."""
    message = file.message
    if message is None:
        return MailFact(text=file.text)
    return MailFact(
        sender=_sender(file, message),
        recipients=tuple(message.recipients),
        text=file.text,
    )


def _sender(file: File, message: Message) -> SenderFact | None:
    inner = file.letter or message.forwarded
    if inner and inner.get("sender_address"):
        # Whoever forwards a mail may write anything into it.
        return SenderFact(address=inner["sender_address"], forwarded=True)
    if not message.sender_address:
        return None
    server = message.connection.settings.get("authserv_id", "") if message.connection else ""
    found = authentication_of(message.headers, server, message.sender_address)
    return SenderFact(
        address=message.sender_address, passed=found.passed, failed=found.failed, said=found.said
    )
