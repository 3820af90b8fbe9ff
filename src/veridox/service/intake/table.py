"""Mails as rows of a table for spreadsheets."""

from veridox.service.intake.outcomes import outcome_of, said_of
from veridox.service.web.tables import Column

MESSAGE_COLUMNS: dict[str, Column] = {
    "id": Column(title="Mail", value=lambda m: m.pk),
    "received_at": Column(title="Received", value=lambda m: m.received_at),
    "sender_address": Column(title="Sender", value=lambda m: m.sender_address),
    "sender_name": Column(title="Sender's name", value=lambda m: m.sender_name),
    "forwarded_from": Column(
        title="Forwarded from", value=lambda m: (m.forwarded or {}).get("sender_address")
    ),
    "recipients": Column(title="To", value=lambda m: ", ".join(m.recipients)),
    "subject": Column(title="Subject", value=lambda m: m.subject),
    "text": Column(title="Text begins", value=lambda m: m.text.strip()[:200]),
    "files": Column(title="Files", value=lambda m: ", ".join(file.name for file in m.files.all())),
    "kind": Column(title="Kind", value=lambda m: m.kind),
    "outcome": Column(title="Outcome", value=outcome_of),
    "said": Column(title="What became of it", value=said_of),
    "mailbox": Column(title="Mailbox", value=lambda m: m.connection.name if m.connection else ""),
    "folder": Column(title="Lies in", value=lambda m: m.folder),
    "message_id": Column(title="Message-ID", value=lambda m: m.message_id),
}
