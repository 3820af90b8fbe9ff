"""Plug-ins in the service: asked before the transaction, kept with their version, never silent."""

import json
import threading
from http.server import BaseHTTPRequestHandler, HTTPServer

import pytest

from demo import bills
from tests.service.conftest import PIPELINE, SYSTEM, jobs
from veridox.core.posting import Booked, bill_of
from veridox.pluginhost import PluginHost
from veridox.readerpool.crew import PoolLimits
from veridox.service import wiring
from veridox.service.adapters.table import DRIVERS, add_drivers_of, driver_of
from veridox.service.connections.actions.manage import put_connection, set_secret
from veridox.service.connections.models import Connection
from veridox.service.documents.models import Document, State
from veridox.service.errors import AdapterError, BadInputError, UnreachableError
from veridox.service.flow.jobs import advance as advance_job
from veridox.service.flow.models import PluginAnswer
from veridox.service.pipelines.actions.publish import publish
from veridox.service.ports.ledger import NoAnswerError
from veridox.service.reports.troubles import troubles

LIMITS = PoolLimits(cpu_seconds=2, wall_seconds=3.0, data_bytes=200 * 2**20)
HOSTS = {}


def host_of(*packages):
    if packages not in HOSTS:
        HOSTS[packages] = PluginHost(packages, size=1, limits=LIMITS)
        HOSTS[packages].add_functions()
    return HOSTS[packages]


@pytest.fixture(scope="module", autouse=True)
def _ended():
    yield
    while HOSTS:
        HOSTS.popitem()[1].close()


@pytest.fixture
def house(monkeypatch):
    host = host_of("house-checks")
    monkeypatch.setattr(wiring, "plugin_host", lambda: host)
    return host


def advanced(document):
    advance_job.func(document.pk)
    document.refresh_from_db()
    return document


def test_a_document_is_asked_about_once_for_each_version_of_its_reading(installation, house):
    document = advanced(installation.arrive(bills.KRILL))
    assert document.state == State.CLEARED
    answer = PluginAnswer.objects.get(document=document)
    assert (answer.reading, answer.asked) == (1, house.digest)
    steps = document.walks.last().trace
    assert any(f"plug-ins asked: {house.digest}" in line for step in steps for line in step)


def test_what_a_plugin_says_stands_among_the_findings(installation, house):
    text = PIPELINE.replace("risk > 10 %", "fiscal_year(issue_date) == 2027")
    installation.version = publish(SYSTEM, text)
    document = advanced(installation.arrive(bills.KRILL))
    assert (document.state, document.queue) == (State.AT_DESK, "unsure")


def test_what_was_not_asked_yet_waits_and_is_asked(installation, house, clerk):
    from veridox.service.flow.actions.advance import advance

    document = installation.arrive(bills.KRILL)
    advance(SYSTEM, document.pk)  # as after an act of a person: nobody asked before
    document.refresh_from_db()
    assert (document.state, document.reasons) == (State.READ, ["plug-ins are asked first"])
    assert {"document_id": document.pk} in jobs("advance")
    assert advanced(document).state == State.CLEARED


def test_a_plugin_that_fails_stops_its_document_and_is_told(installation, monkeypatch):
    host = host_of("rogue-plugins")
    monkeypatch.setattr(wiring, "plugin_host", lambda: host)
    document = advanced(installation.arrive(bills.KRILL))
    assert document.state == State.AT_DESK
    assert "RuntimeError: a mistake of mine" in " ".join(document.reasons)
    parts = {each["part"]: each["problem"] for each in troubles()}
    assert "made for interface 2" in parts["plug-in of_tomorrow"]


class Board(BaseHTTPRequestHandler):
    """Stands in for the house's notice board and paper book."""

    seen = []
    answers = []

    def do_POST(self):
        body = json.loads(self.rfile.read(int(self.headers["Content-Length"])))
        self.seen.append((self.path, body, self.headers["Authorization"]))
        status, answer = self.answers.pop(0) if self.answers else (200, {"number": 7})
        self.send_response(status)
        self.end_headers()
        self.wfile.write(json.dumps(answer).encode())

    def log_message(self, *_):
        """Say nothing."""


@pytest.fixture
def board():
    Board.seen, Board.answers = [], []
    server = HTTPServer(("127.0.0.1", 0), Board)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}"
    server.shutdown()
    server.server_close()


@pytest.fixture
def plugged(house):
    add_drivers_of(house.plugins, lambda: house)


def opened(name, kind, driver, url):
    put_connection(SYSTEM, name, kind, {"url": url}, None, driver=driver)
    set_secret(SYSTEM, name, "hush")
    connection = Connection.objects.get(name=name)
    return driver_of(kind, driver).open(wiring._access(connection))


def test_a_ledger_of_a_plugin_books_finds_and_reads_back(installation, plugged, board):
    ledger = opened("paper", "ledger", "paper_book", board)
    reading = installation.arrive(bills.KRILL).readings.get().reading
    from veridox.core.reading import reading_from_json

    bill = bill_of(reading_from_json(reading), vendor="V1001", entity="aquarium-trust")
    assert ledger.rehearse(bill) is None
    assert ledger.post("r-1", bill) == Booked(ledger_id="r-1", number="7", link=f"{board}/bills")
    path, sent, token = Board.seen[-1]
    assert (path, sent["gross_total"], token) == ("/bills/r-1", "1220.40", "Bearer hush")
    Board.answers = [(200, {"number": ""}), (200, {}), (200, {
        "gross_total": "1220.40", "lines": ["1"], "attachments": ["ab"]})]  # fmt: skip
    assert ledger.find("r-2") is None
    ledger.attach("r-1", "a.pdf", b"%PDF", "ab")
    assert ledger.read_back("r-1").attachments == ("ab",)
    assert (ledger.repeats_safely, ledger.late_window) == (True, 5.0)


def test_whatever_happens_while_it_books_leaves_open_whether_it_booked(
    installation, plugged, board
):
    ledger = opened("paper", "ledger", "paper_book", board)
    from veridox.core.reading import reading_from_json

    reading = reading_from_json(installation.arrive(bills.KRILL).readings.get().reading)
    bill = bill_of(reading, vendor="V1001", entity="aquarium-trust")
    Board.answers = [(500, {})]
    with pytest.raises(NoAnswerError):
        ledger.post("r-1", bill)
    Board.answers = [(500, {})]
    with pytest.raises(UnreachableError):
        ledger.find("r-1")
    away = opened("away", "ledger", "paper_book", "http://127.0.0.1:9")
    with pytest.raises(UnreachableError, match="refused"):
        away.post("r-1", bill)


def test_a_chat_of_a_plugin(installation, plugged, board):
    chat = opened("board", "chat", "notice_board", board)
    chat.send("ap", "hello", "k-1")
    assert Board.seen[-1][1] == {"board": "ap", "line": "AP: hello", "key": "k-1"}
    Board.answers = [(403, {})]
    with pytest.raises(AdapterError, match="answered 403"):
        chat.send("ap", "hello", "k-2")


def test_settings_of_a_plugins_driver_are_checked(installation, plugged):
    with pytest.raises(BadInputError, match="needs url"):
        put_connection(SYSTEM, "paper", "ledger", {}, None, driver="paper_book")
    with pytest.raises(BadInputError, match="unknown here: ulr"):
        put_connection(SYSTEM, "paper", "ledger", {"ulr": "x"}, None, driver="paper_book")


def test_nothing_is_asked_where_nothing_is_listed(installation):
    document = advanced(installation.arrive(bills.KRILL))
    assert document.state == State.CLEARED
    assert not PluginAnswer.objects.exists()
    assert Document.objects.count() == 1


def test_an_expression_that_no_pipeline_has_is_tried_with_their_functions(installation, house):
    from veridox.service.flow.trying import try_on

    document = advanced(installation.arrive(bills.KRILL))
    assert try_on(document, "fiscal_year(issue_date)").value == "2027"
    assert try_on(document, "fiscal_year(issue_date) > 3000").value == "no"


def test_a_driver_of_ours_keeps_its_name_and_the_service_begins(caplog):
    from veridox.pluginhost import Described

    (kind, name), ours = next(
        (key, each) for key, each in DRIVERS.items() if key[0] == "ledger"
    )  # fmt: skip
    plugin = Described(kind=kind, name=name, package="other", version="1",
                       declared={"settings": {"url": None}})  # fmt: skip
    add_drivers_of([plugin], lambda: pytest.fail("it is asked"))
    assert DRIVERS[kind, name] is ours
    assert f"plug-in {name} left out" in caplog.text
