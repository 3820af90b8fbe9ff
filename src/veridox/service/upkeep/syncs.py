"""Syncs that are due, by what the connections of ledgers say."""

from veridox.service.connections.models import Connection, ConnectionKind
from veridox.service.masterdata.actions.sync import ask_for_due
from veridox.service.masterdata.columns import KINDS


def ask_for_due_syncs() -> None:
    """Of each ledger that is to be asked by itself, all kinds in the order in which they need
    each other."""
    for connection in Connection.objects.filter(kind=ConnectionKind.LEDGER).order_by("pk"):
        minutes = int(connection.settings.get("sync_every") or 0)
        if minutes > 0:
            ask_for_due(connection.name, minutes, tuple(KINDS))
