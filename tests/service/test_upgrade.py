"""A database of the version before, with documents in every state, becomes one of this version."""

import pytest
from django.core.management import call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from tests.service.conftest import PIPELINE
from veridox.core.pipeline import Identity, Said
from veridox.core.pipeline.statements import identity_of
from veridox.core.reading import reading_from_json
from veridox.service.documents.columns import findings_of
from veridox.service.documents.models import Document
from veridox.service.flow.gathering import ground_of
from veridox.service.pipelines.queries import definition_of

BEFORE = [
    ("flow", None), ("notices", "0002_collect"), ("connections", "0003_trouble"),
    ("ledgers", "0002_family"), ("documents", "0007_orders_of_lists"),
]  # fmt: skip
SUM = {
    "code": "total.sum", "weight": "block", "fields": ["gross_total"], "page": 1, "box": None,
    "expected": "1421.28", "found": "1481.28", "difference": "+60.00", "message": "60 too high",
    "hint": None, "letter": "",
}  # fmt: skip
REFUSED = {**SUM, "code": "ledger.refused", "fields": [], "expected": None, "found": None,
           "difference": None, "message": "The ledger refuses the bill: closed."}  # fmt: skip
READING = {
    "document": {"sha256": "", "name": "x.pdf", "path": "", "media_type": "", "pages": [1],
                 "kind": "invoice", "kind_confidence": 1.0, "language": "en", "confidence": 1.0},
    "fields": {"gross_total": {"value": {"amount": "1481.28", "currency": "GBP"}, "text": "x",
                               "page": 1, "box": None, "confidence": 0.99, "origin": "text",
                               "others": []}},
    "lines": [], "tax_lines": [], "findings": [],
}  # fmt: skip


@pytest.fixture
def before(committed):
    """The tables as they were; afterwards they are as they should be, whatever happened."""
    executor = MigrationExecutor(connection)
    executor.migrate(BEFORE)
    then, named = MigrationExecutor(connection).loader, {app for app, _ in BEFORE}
    others = [leaf for leaf in then.graph.leaf_nodes() if leaf[0] not in named]
    yield then.project_state([*others, *(target for target in BEFORE if target[1])]).apps
    call_command("migrate", "--no-input", verbosity=0)


def stored(apps):
    """One document in each state that the version before knew, with what was said of it."""
    get = apps.get_model
    ada = get("accounts", "Person").objects.create(username="ada", role="admin")
    pipeline = get("pipelines", "Pipeline").objects.create(name="bills")
    version = get("pipelines", "PipelineVersion").objects.create(
        pipeline=pipeline, number=1, sha256="x", published_by="person:ada",
        text=PIPELINE,
    )  # fmt: skip
    books = get("connections", "Connection").objects.create(
        name="books", kind="ledger", settings={"url": "http://h"}
    )
    get("connections", "Connection").objects.create(name="post", kind="mailbox", settings={})
    file = get("documents", "File").objects.create(
        pipeline_version=version, name="x.pdf", media_type="application/pdf", size=1, sha256="x",
        state="read",
    )  # fmt: skip
    accepted = [{"code": "total.sum", "message": "60 too high", "by": "person:ada",
                 "reason": "agreed"}]  # fmt: skip
    rows = {
        "read": {}, "at_desk": {"findings": [SUM]},
        "refused": {"state": "at_desk", "findings": [SUM, REFUSED], "accepted": accepted,
                    "stopped_for": ["ledger.refused"]},
        "letter": {"state": "at_desk", "findings": [SUM], "letter_out": True},
        "cleared": {"findings": [SUM], "accepted": accepted, "cleared_by": ada},
        "posted": {}, "discarded": {"end_reason": "twice"}, "returned": {}, "aside": {},
        "failed": {"failed_at_state": "cleared"},
    }  # fmt: skip
    made = {}
    for position, (name, more) in enumerate(rows.items(), start=1):
        document = get("documents", "Document").objects.create(
            **{"file": file, "position": position, "pipeline_version": version, "kind": "invoice",
               "state": name, **more}
        )  # fmt: skip
        get("documents", "ReadingVersion").objects.create(
            document=document, number=1, reading=READING, made_by="system:read"
        )
        made[name] = document.pk
    for name, state in (("refused", "refused"), ("cleared", "prepared"), ("posted", "posted")):
        get("ledgers", "Posting").objects.create(
            document_id=made[name], ledger=books, state=state, bill={}, number="BL-1"
        )
    with connection.cursor() as cursor:
        cursor.execute(
            "insert into procrastinate_jobs (queue_name, task_name, priority, args, status) values"
            " ('check', 'check', 0, '{\"document_id\": 1}', 'todo'),"
            " ('check', 'check_again', 0, '{\"document_id\": 2}', 'todo')"
        )
    return made


@pytest.mark.django_db(transaction=True)
def test_what_was_said_and_posted_before_is_known_afterwards(before):
    made = stored(before)
    call_command("migrate", "--no-input", verbosity=0)
    documents = {name: Document.objects.get(pk=pk) for name, pk in made.items()}
    said = {
        name: sorted(row.what for row in document.statements.filter(ended_at=None))
        for name, document in documents.items()
    }
    assert {name: found for name, found in said.items() if found} == {
        "refused": ["accepted", "stopped", "told"], "letter": ["sent back"],
        "cleared": ["accepted", "cleared"],
    }  # fmt: skip
    told = documents["refused"].statements.get(what=Said.TOLD)
    assert told.finding["message"] == REFUSED["message"]
    assert documents["cleared"].statements.get(what=Said.CLEARED).by == "person:ada"
    postings = {name: d.posting.state for name, d in documents.items() if d.posting}
    assert postings == {"refused": "refused", "cleared": "prepared", "posted": "posted"}
    assert documents["posted"].posting.completed_at == documents["posted"].posting.posted_at
    # What was accepted is what stands, down to the figures.
    cleared = documents["cleared"]
    accepted = cleared.statements.get(what=Said.ACCEPTED)
    reading = reading_from_json(cleared.readings.get().reading)
    (finding,) = findings_of(cleared)
    assert Identity.from_json(accepted.identity) == identity_of(finding, reading)
    for document in documents.values():
        definition = definition_of(document.pipeline_version)
        ground_of(document, definition, locking=False)  # each can be gathered
    with connection.cursor() as cursor:
        cursor.execute("select name, driver from connections_connection order by name")
        assert cursor.fetchall() == [("books", "finance"), ("post", "imap")]
        cursor.execute("select distinct task_name from procrastinate_jobs")
        assert cursor.fetchall() == [("advance",)]
