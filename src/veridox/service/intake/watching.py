"""Watch mailboxes: a thread for each folder that waits for news and only defers `collect`."""

import contextlib
import hashlib
import logging
import threading
import time

import psycopg
from django.conf import settings
from django.db import DatabaseError, close_old_connections
from procrastinate.exceptions import AlreadyEnqueued

from veridox.service import wiring
from veridox.service.connections.actions.manage import connection_named, note_health
from veridox.service.connections.models import ConnectionKind
from veridox.service.errors import VeridoxError
from veridox.service.intake.dropping import lying_still, root_for
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.pipelines.queries import definition_of, directories, sources
from veridox.service.work import job

log = logging.getLogger(__name__)
LOOK_EVERY = 60.0
"""Seconds after which a folder is looked at even without news."""
SOURCES_EVERY = 5.0
DROPS_EVERY = 1.0
LONGEST_PAUSE = 120.0

Key = tuple[str, str, str]
"""Pipeline, mailbox connection, folder."""


def all_the_time(version: PipelineVersion) -> bool:
    """Whether it collects all the time; others look when a run begins."""
    return definition_of(version).run.schedule is None


def _lease_connection() -> psycopg.Connection[tuple[int]]:
    known = settings.CONFIGURATION.database
    return psycopg.connect(
        host=known.host,
        port=known.port,
        dbname=known.name,
        user=known.user,
        password=known.password,
        autocommit=True,
    )


def _lock_number(key: Key) -> int:
    digest = hashlib.sha256("\0".join(key).encode()).digest()
    return int.from_bytes(digest[:8], "big", signed=True)


class FolderWatch(threading.Thread):
    """Watches one folder, as long as its lease holds and it is not stopped."""

    def __init__(self, key: Key, ended: threading.Event) -> None:
        super().__init__(name=f"watch {'/'.join(key)}", daemon=True)
        self.key = key
        self.ended = ended
        self.stopped = threading.Event()

    def _going(self) -> bool:
        return not (self.ended.is_set() or self.stopped.is_set())

    def run(self) -> None:
        """Try again with growing pauses when the line breaks."""
        pause = 1.0
        while self._going():
            began = time.monotonic()
            try:
                with _lease_connection() as lease:
                    row = lease.execute(
                        "select pg_try_advisory_lock(%s)", [_lock_number(self.key)]
                    ).fetchone()
                    if row and row[0]:
                        self._watch(lease)
            except (VeridoxError, psycopg.Error) as error:
                log.warning("watching %s: %s", self.key, error)
                if isinstance(error, VeridoxError):
                    note_health(self.key[1], str(error))
            if time.monotonic() - began > LONGEST_PAUSE:
                pause = 1.0
            self.ended.wait(pause)
            pause = min(pause * 2, LONGEST_PAUSE)

    def _watch(self, lease: psycopg.Connection[tuple[int]]) -> None:
        _, mailbox, folder = self.key
        close_old_connections()
        connection = connection_named(mailbox, ConnectionKind.MAILBOX)
        with wiring.open_mailbox(connection) as box:
            box.select(folder)
            self._defer()
            looked = time.monotonic()
            while self._going():
                news = box.wait(5.0)
                if news or time.monotonic() - looked >= LOOK_EVERY:
                    self._defer()
                    looked = time.monotonic()
                lease.execute("select 1")  # ends the watch when the lease's line broke

    def _defer(self) -> None:
        pipeline, mailbox, folder = self.key
        name = f"collect {'/'.join(self.key)}"
        try:
            # One waits while one runs, and two never run at once: each would fetch the same mails.
            job("collect").configure(queueing_lock=name, lock=name).defer(
                pipeline=pipeline, mailbox=mailbox, folder=folder
            )
        except AlreadyEnqueued:
            log.debug("a round of %s is queued already", self.key)


class DropWatch(threading.Thread):
    """Looks into all watched directories; defers `gather` where something lies still."""

    def __init__(self, ended: threading.Event) -> None:
        super().__init__(name="watch directories", daemon=True)
        self.ended = ended

    def run(self) -> None:
        """Look every second or so; a directory that is not there is made."""
        while not self.ended.wait(DROPS_EVERY):
            close_old_connections()
            try:
                self._look()
            except (VeridoxError, OSError, DatabaseError) as error:
                log.warning("watching directories: %s", error)

    def _look(self) -> None:
        for version, collect in directories():
            folder = root_for(collect.watch)
            folder.mkdir(parents=True, exist_ok=True)
            if not all_the_time(version) or not lying_still(folder):
                continue
            name = version.pipeline.name
            lock = f"gather {name} {collect.watch}"
            with contextlib.suppress(AlreadyEnqueued):
                job("gather").configure(queueing_lock=lock, lock=lock).defer(
                    pipeline=name, watch=collect.watch
                )


def watch(ended: threading.Event) -> None:
    """Keep one thread for each watched folder until `ended` is set."""
    watches: dict[Key, FolderWatch] = {}
    drops: DropWatch | None = None
    while not ended.is_set():
        close_old_connections()
        wanted: set[Key] = {
            (version.pipeline.name, collect.mailbox, collect.folder)
            for version, collect in sources()
            if all_the_time(version)
        }
        if drops is None or not drops.is_alive():
            drops = DropWatch(ended)
            drops.start()
        for key in set(watches) - wanted:
            watches.pop(key).stopped.set()
        for key in wanted:
            if key not in watches or not watches[key].is_alive():
                watches[key] = FolderWatch(key, ended)
                watches[key].start()
        ended.wait(SOURCES_EVERY)
