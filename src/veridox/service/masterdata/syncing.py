"""Carry a sync through: ask the ledger for page after page, outside of any transaction."""

from veridox.service import wiring
from veridox.service.connections.actions.manage import connection_named
from veridox.service.connections.models import ConnectionKind
from veridox.service.errors import AdapterError, UnreachableError
from veridox.service.masterdata.actions.sync import (
    UNDER_WAY,
    begin_anew,
    note_broken,
    store_page,
)
from veridox.service.masterdata.models import Load
from veridox.service.ports.ledger import CursorGoneError

ANEW = 2
"""Times that a list is begun anew because the ledger forgot where it was."""


def sync(load_id: int) -> None:
    """Bring in a list of a ledger, from where it was left off.

    Raises:
        UnreachableError: the ledger does not answer; the job comes again.
        AdapterError: it cannot list this.
    """
    load = Load.objects.get(pk=load_id)
    if load.state not in UNDER_WAY:
        return
    ledger = wiring.open_ledger(connection_named(load.ledger, ConnectionKind.LEDGER))
    after: str | None = load.cursor
    anew = 0
    while after is not None:
        try:
            page = ledger.list_page(load.what, since=load.since, after=after)
        except CursorGoneError as error:
            anew += 1
            if anew > ANEW:
                note_broken(load_id, str(error))
                raise UnreachableError(str(error)) from error
            begin_anew(load_id)
            load.refresh_from_db()
            after = load.cursor
            continue
        except AdapterError as error:
            note_broken(load_id, str(error))
            raise
        after = store_page(load_id, after, page)
