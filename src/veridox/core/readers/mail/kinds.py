"""What a mail is: a letter, or a notice that machines send about mails and meetings."""

import email.message

from veridox.core.readers.mail.content import MailKind
from veridox.core.readers.mail.decoding import header_of

_REPORTS = {
    "delivery-status": (MailKind.DELIVERY, "a report about the delivery of a mail (RFC 3464)"),
    "disposition-notification": (MailKind.RECEIPT, "a report that a mail was read (RFC 8098)"),
}
OWN = "@veridox.invalid"
"""End of the Message-ID of our own notices: what we tell must not come back as work."""
_BOUNCES = ("mailer-daemon@", "postmaster@")
_BOUNCE_WORDS = (
    "undeliver",
    "delivery status",
    "delivery failure",
    "mail delivery",
    "returned mail",
)


def kind_of(message: email.message.Message) -> tuple[MailKind, str]:
    """What a mail is and by what that shows; a letter when nothing speaks against it.

    `Auto-Submitted: auto-generated` stays a letter: billing systems send
    invoices with it, and only `auto-replied` answers a mail (RFC 3834, 5).
    """
    if header_of(message, "message-id").strip("<> ").endswith(OWN):
        return MailKind.OWN, "a notice that this service sent itself"
    content_type = message.get_content_type()
    if content_type == "multipart/report":
        kind = str(message.get_param("report-type", "") or "").lower()
        if kind in _REPORTS:
            return _REPORTS[kind]
    for part in message.walk():
        for name, found in _REPORTS.items():
            # Some systems forget to declare the report around its parts.
            if part.get_content_type() == f"message/{name}" and not _holds_files(message):
                return found
    sender = header_of(message, "from").lower()
    subject = header_of(message, "subject")
    returned = any(each in sender for each in _BOUNCES)
    if returned and any(word in subject.lower() for word in _BOUNCE_WORDS):
        return MailKind.DELIVERY, "a mail system returns a mail that it could not deliver"
    submitted = header_of(message, "auto-submitted").lower().split(";")[0].strip()
    if submitted == "auto-replied":
        return MailKind.AUTO_REPLY, "the sender's system answers by itself (Auto-Submitted)"
    if header_of(message, "precedence").lower() == "auto_reply":
        return MailKind.AUTO_REPLY, "the sender's system answers by itself (Precedence)"
    if _is_invitation(message):
        return MailKind.CALENDAR, "an invitation to a meeting, or an answer to one"
    return MailKind.LETTER, ""


def _is_invitation(message: email.message.Message) -> bool:
    """A calendar part that speaks for the whole mail; an .ics among other files does not."""
    if _holds_files(message):
        return False
    for part in message.walk():
        if part.get_content_type() == "text/calendar" and part.get_param("method"):
            return True
    return message.get_content_type() == "text/calendar"


def _holds_files(message: email.message.Message) -> bool:
    """Whether anything in it could be a bill."""
    for part in message.walk():
        kind = part.get_content_type()
        if part.is_multipart() or kind.startswith(("text/", "message/")):
            continue
        if kind.startswith("image/") and part.get("content-id"):
            continue
        if kind not in ("application/ics", "application/pkcs7-signature"):
            return True
    return False
