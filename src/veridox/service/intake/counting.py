"""Count every mailbox that is collected from; the newest differences are shown by Today."""

import logging

from veridox.service.connections.actions.manage import note_health
from veridox.service.errors import AdapterError
from veridox.service.intake.accounted import Progress, period_of, rows_of_mailbox
from veridox.service.intake.actions.keep_account import keep_account
from veridox.service.pipelines.queries import sources

log = logging.getLogger(__name__)


def count_all() -> None:
    """One by one: a server that does not answer is noted and does not stop the others."""
    for name in dict.fromkeys(collect.mailbox for _, collect in sources()):
        try:
            keep_account(name, rows_of_mailbox(name, period_of(), Progress()))
        except AdapterError as error:
            note_health(name, str(error))
            log.warning("mail of %s cannot be counted: %s", name, error)
