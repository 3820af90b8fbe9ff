"""Send a prepared notice."""

from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.connections.actions.manage import note_health, usual_connection
from veridox.service.connections.models import Connection, ConnectionKind
from veridox.service.errors import AdapterError, UnreachableError
from veridox.service.notices.actions.sent import note_trying, store_failed, store_sent
from veridox.service.notices.models import Notice, NoticeState
from veridox.service.ports.outgoing import OutgoingMail

TELLER = Actor.system("tell")


def tell(notice_id: int) -> None:
    """Send, then store that it was sent.

    A worker that dies between the two sends the same mail again, with the same
    Message-ID: mail has no way to ask whether it arrived (docs/decisions).
    """
    notice = Notice.objects.get(pk=notice_id)
    if notice.state != NoticeState.PREPARED:
        return
    kind = ConnectionKind.CHAT if notice.channel else ConnectionKind.OUTBOX
    connection = notice.connection or usual_connection(kind)
    try:
        if connection is None:
            raise UnreachableError(f"there is no {kind.value} connection to send this with")
        _hand_over(connection, notice)
    except UnreachableError as error:
        if connection is not None:
            note_health(connection.name, str(error))
        note_trying(notice_id, str(error))
        raise
    except AdapterError as error:
        # What is refused is the connection's trouble until something goes through.
        if connection is not None:
            note_health(connection.name, str(error))
        store_failed(TELLER, notice_id, str(error))
        return
    note_health(connection.name, "")
    store_sent(TELLER, notice_id)


def _hand_over(connection: Connection, notice: Notice) -> None:
    if notice.channel:
        wiring.open_chat(connection).send(notice.channel, notice.text, notice.message_id)
        return
    mail = OutgoingMail(
        to=notice.recipient,
        subject=notice.subject,
        text=notice.text,
        message_id=notice.message_id,
    )
    wiring.open_outbox(connection).send(mail)
