"""The trail's head goes out of the house every day."""

import json
import uuid
from dataclasses import asdict

from django.conf import settings
from django.utils import timezone

from veridox.service import wiring
from veridox.service.connections.actions.manage import note_health, usual_connection
from veridox.service.connections.models import ConnectionKind
from veridox.service.errors import AdapterError
from veridox.service.ports.outgoing import OutgoingMail
from veridox.service.trail.heads import keep_head


def export_head() -> None:
    """Write the head's file; mail it where `VERIDOX_TRAIL_MAIL` names somebody.

    Raises:
        AdapterError: the mail did not go out; the file is written by then.
    """
    now = timezone.now()
    head = keep_head(now)
    to = settings.CONFIGURATION.trail_mail
    if head is None or not to:
        return
    connection = usual_connection(ConnectionKind.OUTBOX)
    if connection is None:
        return
    mail = OutgoingMail(
        to=to,
        subject=f"Trail of {settings.CONFIGURATION.url}, {now:%Y-%m-%d}: entry {head.number}",
        text="Keep this mail. `veridox trail verify --head FILE` compares the trail with the\n"
        f"lines below, saved as a file.\n\n{json.dumps(asdict(head), indent=1)}\n",
        message_id=f"{uuid.uuid4()}@veridox.invalid",
    )
    try:
        wiring.open_outbox(connection).send(mail)
    except AdapterError as error:
        note_health(connection.name, str(error))
        raise
