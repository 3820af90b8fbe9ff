"""Send a prepared notice."""

from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.connections.actions.manage import note_health
from veridox.service.connections.models import Connection, ConnectionKind
from veridox.service.errors import AdapterError, UnreachableError
from veridox.service.notices.actions.sent import store_failed, store_sent
from veridox.service.notices.models import Notice, NoticeState
from veridox.service.notices.ports import OutgoingMail

TELLER = Actor.system("tell")


def tell(notice_id: int) -> None:
    """Send, then store that it was sent.

    A worker that dies between the two sends the same mail again, with the same
    Message-ID: mail has no way to ask whether it arrived (docs/decisions).
    """
    notice = Notice.objects.get(pk=notice_id)
    if notice.state != NoticeState.PREPARED:
        return
    if notice.channel:
        _tell_chat(notice)
        return
    connection = Connection.objects.filter(kind=ConnectionKind.OUTBOX).order_by("pk").first()
    if connection is None:
        raise UnreachableError("there is no outbox connection to send mails with")
    mail = OutgoingMail(
        to=notice.recipient,
        subject=notice.subject,
        text=notice.text,
        message_id=notice.message_id,
    )
    try:
        wiring.open_outbox(connection).send(mail)
    except UnreachableError as error:
        note_health(connection.name, str(error))
        raise
    except AdapterError as error:
        store_failed(TELLER, notice_id, str(error))
        return
    note_health(connection.name, "")
    store_sent(TELLER, notice_id)


def _tell_chat(notice: Notice) -> None:
    connection = Connection.objects.filter(kind=ConnectionKind.CHAT).order_by("pk").first()
    if connection is None:
        raise UnreachableError("there is no chat connection to send messages with")
    try:
        wiring.open_chat(connection).send(notice.channel, notice.text, notice.message_id)
    except UnreachableError as error:
        note_health(connection.name, str(error))
        raise
    except AdapterError as error:
        store_failed(TELLER, notice.pk, str(error))
        return
    note_health(connection.name, "")
    store_sent(TELLER, notice.pk)
