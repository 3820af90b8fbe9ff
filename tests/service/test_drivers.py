"""Drivers: one row each, chosen by kind and driver of a connection."""

from dataclasses import dataclass

import pytest

from tests.service.conftest import PIPELINE, SYSTEM
from tests.service.test_api import Caller
from veridox.service import wiring
from veridox.service.adapters import table
from veridox.service.adapters.table import DRIVERS, driver_of
from veridox.service.connections.actions.manage import put_connection
from veridox.service.connections.models import Connection, ConnectionKind
from veridox.service.connections.settings import access_to
from veridox.service.errors import BadInputError
from veridox.service.notices.actions.queue import queue_letter
from veridox.service.notices.models import Notice
from veridox.service.pipelines.actions.publish import publish
from veridox.service.ports.driver import Driver, Step
from veridox.service.storage import originals
from veridox.service.trail.models import Entry


@pytest.mark.parametrize(("kind", "name"), [
    ("mailbox", "imap"), ("outbox", "smtp"), ("ledger", "finance"), ("chat", "webhook"),
    ("store", "folder"),
])  # fmt: skip
def test_each_kind_has_its_usual_driver(kind, name):
    assert driver_of(kind).name == name
    assert DRIVERS[kind, name] is driver_of(kind, name)


def test_a_driver_that_is_none_is_told_with_those_that_are():
    with pytest.raises(BadInputError, match="no driver 'pop' for a mailbox; there are: imap"):
        driver_of("mailbox", "pop")
    with pytest.raises(BadInputError, match="'fax' is no kind of connection; use chat, ledger"):
        driver_of("fax")


@dataclass(frozen=True, kw_only=True)
class SlateSettings:
    """Of a ledger that is made up."""

    host: str
    port: int = 7
    weight: float = 1.5


@pytest.fixture
def slate(monkeypatch):
    """A second driver of ledgers: what its module would have as `DRIVER`."""
    opened = []

    def check(settings):
        if settings.port == 9:
            raise BadInputError("port 9 discards everything")

    driver = Driver(
        kind="ledger", name="slate", settings=SlateSettings, check=check,
        open=lambda access: opened.append(access) or "a slate",
        test=lambda access, folders: [Step(name="reach", good=True, detail=access.settings.host)],
    )  # fmt: skip
    monkeypatch.setattr(table, "DRIVERS", {**DRIVERS, ("ledger", "slate"): driver})
    return opened


def test_a_connection_is_opened_and_tried_by_its_driver(db, slate):
    put_connection(
        SYSTEM, "old-books", "ledger", {"host": "h", "port": "8"}, "word", driver="slate"
    )
    connection = Connection.objects.get(name="old-books")
    assert wiring.open_ledger(connection) == "a slate"
    (access,) = slate
    assert access.settings == SlateSettings(host="h", port=8)
    assert access.secret == "word"
    assert wiring.test_connection(connection, ())[0].detail == "h"
    assert Entry.objects.get(act="connection.saved").details["driver"] == "slate"
    with pytest.raises(BadInputError, match="'old-books' is no mailbox"):
        wiring.open_mailbox(connection)


@pytest.mark.parametrize(("given", "said"), [
    ({}, "a ledger needs host"), ({"host": "h", "prt": 1}, "unknown here: prt"),
    ({"host": "h", "port": "x"}, "port is 'x'; it must be a int"),
    ({"host": "h", "port": 9}, "discards everything"),
])  # fmt: skip
def test_settings_are_checked_by_the_driver(db, slate, given, said):
    with pytest.raises(BadInputError, match=said):
        put_connection(SYSTEM, "old-books", "ledger", given, None, driver="slate")
    assert not Connection.objects.exists()


def test_another_driver_is_another_address_and_secrets_do_not_follow(db, slate):
    put_connection(SYSTEM, "books", "ledger", {"host": "h"}, "word", driver="slate")
    put_connection(SYSTEM, "books", "ledger", {"url": "http://h"}, None)
    connection = Connection.objects.get()
    assert (connection.driver, connection.secret) == ("finance", None)
    with pytest.raises(BadInputError, match="has no secret yet"):
        access_to(connection)


def test_a_store_is_no_connection(db):
    with pytest.raises(BadInputError, match="'store' is no kind of connection"):
        put_connection(SYSTEM, "attic", "store", {"root": "/"}, None)


def test_a_driver_is_named_over_the_api(db, admin):
    rules = Caller(admin, "read", "admin")
    data = {"name": "b", "kind": "ledger", "settings": {"url": "http://h"}, "driver": "finance"}
    assert rules.send("post", "/connections", data).json()["driver"] == "finance"
    wrong = rules.send("post", "/connections", {**data, "driver": "abacus"})
    assert (wrong.status_code, "there are: finance" in wrong.json()["detail"]) == (400, True)


def test_the_store_of_originals_is_a_driver_too(tmp_path):
    store = originals()
    sha256 = store.put(b"a bill")
    assert (store.get(sha256), store.holds(sha256), store.trouble()) == (b"a bill", True, "")
    (step,) = driver_of("store").test(
        access_of_folder(tmp_path), ()
    )  # fmt: skip
    assert (step.name, step.good) == ("write", True)


def access_of_folder(path):
    from veridox.service.adapters.folder import FolderSettings
    from veridox.service.ports.driver import Access

    return Access(name="originals", settings=FolderSettings(root=str(path)))


# -- which way messages go


def second_outbox():
    put_connection(
        SYSTEM, "mail-out-2", "outbox",
        {"host": "127.0.0.1", "sender": "two@merrowmere.example", "security": "none"}, None,
    )  # fmt: skip


def test_with_several_outboxes_a_pipeline_says_which(installation):
    second_outbox()
    with pytest.raises(BadInputError, match=r"several outbox connections \(mail-out, mail-out-2\)"):
        publish(SYSTEM, PIPELINE + "# anew\n")
    version = publish(SYSTEM, PIPELINE + "through: {mail: mail-out-2}\n")
    assert version.number == 2


def test_an_outbox_that_is_none_is_told_with_those_that_are(installation):
    with pytest.raises(BadInputError, match="no outbox connection 'mail-in'; there are: mail-out"):
        publish(SYSTEM, PIPELINE + "through: {mail: mail-in}\n")


def test_letters_and_notices_go_the_way_that_the_pipeline_names(installation, monkeypatch):
    from demo import bills
    from veridox.service.notices.telling import tell

    second_outbox()
    installation.version = publish(SYSTEM, PIPELINE + "through: {mail: mail-out-2}\n")
    document = installation.checked(bills.SALT_SLIP, "band")
    queue_letter(document, "a@b.example", "Please", "Correct it")
    notice = Notice.objects.latest("pk")
    assert notice.connection.name == "mail-out-2"
    went = []

    class Outbox:
        def send(self, mail):
            went.append(mail.to)

    def opened(connection):
        went.append(connection.name)
        return Outbox()

    monkeypatch.setattr(wiring, "open_outbox", opened)
    tell(notice.pk)
    assert went == ["mail-out-2", "a@b.example"]


def test_every_kind_of_connection_has_a_driver():
    assert {kind for kind, _ in DRIVERS} == {*ConnectionKind, "store"}
