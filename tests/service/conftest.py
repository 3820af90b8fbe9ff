"""An installation with the Merrowmere master data, and documents that arrive in it."""

import json
from dataclasses import dataclass, field
from functools import cache

import pytest
from django.db import connection
from procrastinate.contrib.django import app

from demo import merrowmere as m
from demo.drawing import LAYOUTS, Bill
from tests.pipelines import UNCODED
from tests.service.caller import Caller
from tests.service.snapshot import Snapshot, untouched
from veridox.core.extract.assemble import extract
from veridox.core.extract.hints import Hints, KnownParty
from veridox.core.readers.files import read_pages
from veridox.core.reading import Source
from veridox.readerpool import ReadAnswer
from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.adapters.doubles.ledger import MemoryLedger
from veridox.service.adapters.doubles.mailbox import MemoryMailbox
from veridox.service.connections.actions.manage import put_connection
from veridox.service.documents.actions.store_reading import store_reading
from veridox.service.documents.models import Document
from veridox.service.flow.actions.advance import advance
from veridox.service.flow.actions.recheck import recheck_waiting
from veridox.service.intake.actions.receive import upload
from veridox.service.ledgers.posting import post
from veridox.service.masterdata.importing import import_table
from veridox.service.people.actions.people import create_person
from veridox.service.pipelines.actions.publish import publish
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.storage import originals
from veridox.service.trail.models import Head

SYSTEM = Actor.system("test")
HINTS = Hints(buyers=tuple(KnownParty(name=e.name, tax_id=e.tax_id) for e in m.ENTITIES))
PIPELINE = UNCODED


@cache
def drawn(layout: str, bill: Bill) -> bytes:
    """A bill's PDF: many tests look at the same one."""
    return LAYOUTS[layout](bill)


@cache
def answer_of(content: bytes) -> ReadAnswer:
    """What the reader pool would say; read here, since the bytes are our own."""
    file = read_pages(content)
    return ReadAnswer(
        media_type=file.media_type,
        pages=tuple(
            {"number": p.number, "width": p.width, "height": p.height, "text": p.text()}
            for p in file.pages
        ),
        readings=extract(file.pages, Source(), HINTS) if file.pages else (),
        findings=file.findings,
    )


def table(what, content, *, preview=False, by=SYSTEM, **more):
    """A table of master data comes in."""
    given = content if isinstance(content, bytes) else content.encode()
    return import_table(by, what, more.pop("name", "t.csv"), given, preview=preview, **more)


@dataclass
class Installation:
    version: object
    ledger: MemoryLedger
    mailbox: MemoryMailbox = field(default_factory=MemoryMailbox)

    def arrive(self, bill: Bill, layout: str = "letterhead") -> Document:
        """A bill comes in and is read, not yet checked."""
        return self.arrive_bytes(drawn(layout, bill), f"{bill.number}.pdf".replace("/", "-"))

    def arrive_bytes(self, content: bytes, name: str = "x.pdf") -> Document:
        sha256 = originals().put(content)
        file = upload(
            SYSTEM, self.version, name=name, declared_type="application/pdf",
            media_type="application/pdf", sha256=sha256, size=len(content),
        )  # fmt: skip
        store_reading(SYSTEM, file.pk, answer_of(content))
        return Document.objects.get(file=file)

    def checked(self, bill: Bill, layout: str = "letterhead") -> Document:
        """The same, checked."""
        document = self.arrive(bill, layout)
        advance(SYSTEM, document.pk)
        document.refresh_from_db()
        return document


_SNAPSHOTS: list[tuple[Snapshot, int]] = []


def install(monkeypatch) -> Installation:
    """An installation: made by actions the first time, copied where nothing has happened since."""
    fresh = untouched()
    if fresh and _SNAPSHOTS:
        snapshot, version = _SNAPSHOTS[0]
        snapshot.put_back()
        there = Installation(version=PipelineVersion.objects.get(pk=version), ledger=MemoryLedger())
    else:
        snapshot = Snapshot.begun()
        there = _installed()
        if fresh:
            snapshot.ended()
            _SNAPSHOTS.append((snapshot, there.version.pk))
    monkeypatch.setattr(wiring, "open_ledger", lambda connection: there.ledger)
    monkeypatch.setattr(wiring, "open_mailbox", lambda connection: there.mailbox)
    return there


def _installed() -> Installation:
    put_connection(SYSTEM, "ap-inbox", "mailbox", {"host": "127.0.0.1", "user": "ap"}, "word")
    put_connection(
        SYSTEM, "mail-out", "outbox",
        {"host": "127.0.0.1", "sender": "veridox@merrowmere.example", "security": "none"}, None,
    )  # fmt: skip
    put_connection(SYSTEM, "main-books", "ledger", {"url": "http://127.0.0.1:1"}, "token")
    table("entities", m.entities_csv())
    table("vendors", m.vendors_csv())
    table("orders", m.orders_csv())
    version = publish(SYSTEM, PIPELINE)
    go_on()  # nothing waits yet that the imports could help
    return Installation(version=version, ledger=MemoryLedger())


@pytest.fixture
def installation(db, monkeypatch) -> Installation:
    return install(monkeypatch)


@pytest.fixture
def clerk(db):
    return create_person(SYSTEM, "cleo", "a long enough word", "clerk")


@pytest.fixture
def admin(db):
    return create_person(SYSTEM, "ada", "a long enough word", "admin")


@pytest.fixture
def works(installation, clerk):
    return Caller(clerk, "read", "work")


@pytest.fixture
def reads(installation, clerk):
    return Caller(clerk, "read")


@pytest.fixture
def rules(installation, admin):
    return Caller(admin, "read", "work", "admin")


def jobs(task: str) -> list[dict]:
    """Arguments of the jobs of a task that are queued."""
    rows = app.job_manager.list_jobs(task=task, status="todo")
    kwargs = [job.task_kwargs for job in rows]
    return [json.loads(each) if isinstance(each, str) else each for each in kwargs]


ON = ("recheck", "advance", "settle", "announce")
"""Jobs that reach for nothing outside."""


def go_on() -> None:
    """Run what is queued of these, and what that queues."""
    while queued := [
        job for name in ON for job in app.job_manager.list_jobs(task=name, status="todo")
    ]:
        for job in queued:
            with connection.cursor() as cursor:
                cursor.execute("delete from procrastinate_jobs where id = %s", [job.id])
            arguments = job.task_kwargs
            arguments = json.loads(arguments) if isinstance(arguments, str) else arguments
            app.tasks[job.task_name](**arguments)


def rechecked(what: str = "vendors") -> list[dict]:
    """Documents that new master data has looked at again."""
    recheck_waiting(what)
    return jobs("advance")


def carry_through(posting_id: str) -> None:
    """A posting as a worker would, and the document after it."""
    try:
        post(posting_id)
    finally:
        go_on()


@pytest.fixture(scope="session")
def django_db_setup(django_db_setup, django_db_blocker):
    """Tests with real transactions empty all tables afterwards; the trail must let them."""
    with django_db_blocker.unblock(), connection.cursor() as cursor:
        cursor.execute("alter table trail_entry disable trigger trail_never_emptied")


@pytest.fixture
def committed(transactional_db):
    """Real transactions. The queue's tables are not Django's, so nobody else empties them."""
    with connection.cursor() as cursor:
        cursor.execute("truncate procrastinate_jobs cascade")
    Head.objects.get_or_create(pk=1)


@pytest.fixture(autouse=True)
def _quick_passwords(settings):
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
