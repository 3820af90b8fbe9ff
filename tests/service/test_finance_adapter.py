"""The finance system's adapter, request by request: what it sends, and what each answer means."""

import json

import httpx
import pytest

from veridox.core.money import Money
from veridox.core.posting import Bill, BillLine, Booked, Refusal
from veridox.service.adapters import webhook as chat
from veridox.service.adapters.finance import FinanceLedger, LedgerSettings
from veridox.service.adapters.webhook import ChatSettings
from veridox.service.errors import AdapterError, UnreachableError
from veridox.service.ports.ledger import NoAnswerError

BILL = Bill(
    vendor="V1", entity="trust", kind="bill", number="A-1", currency="GBP",
    gross_total=Money.of("120.00", "GBP"),
    lines=(BillLine(description="Salt", amount=Money.of("100.00", "GBP")),),
)  # fmt: skip
BOOKED = {"id": 7, "number": "BL-26-00007", "link": "http://f/7"}


class Finance:
    """Answers by path, and remembers what it was asked."""

    def __init__(self):
        self.answers, self.asked = {}, []

    def __call__(self, request):
        self.asked.append(request)
        answer = self.answers.get((request.method, request.url.path.removeprefix("/v1")))
        if isinstance(answer, Exception):
            raise answer
        return answer if answer is not None else httpx.Response(404, json={"errors": []})

    def says(self, method, path, status, body=None):
        self.answers[method, path] = httpx.Response(status, json=body)


@pytest.fixture
def finance():
    return Finance()


@pytest.fixture
def ledger(finance):
    settings = LedgerSettings(url="http://f/", timeout=3.0, late_window=9.0)
    return FinanceLedger(settings, "word", httpx.MockTransport(finance))


def test_a_bill_is_sent_with_its_reference_as_key_and_our_token(finance, ledger):
    finance.says("POST", "/bills", 201, BOOKED)
    booked = ledger.post("ref-1", BILL)
    assert booked == Booked(ledger_id="7", number="BL-26-00007", link="http://f/7")
    (asked,) = finance.asked
    assert asked.headers["Idempotency-Key"] == "ref-1"
    assert asked.headers["Authorization"] == "Bearer word"
    assert json.loads(asked.content) == {"external_reference": "ref-1", **BILL.to_json()}


def test_what_the_ledger_promises_is_known(ledger):
    assert (ledger.repeats_safely, ledger.late_window) == (True, 9.0)


@pytest.mark.parametrize("error", [
    httpx.ConnectError("refused"), httpx.ConnectTimeout("slow"), httpx.PoolTimeout("busy"),
])  # fmt: skip
def test_without_a_connection_nothing_was_sent(finance, ledger, error):
    finance.answers["POST", "/bills"] = error
    with pytest.raises(UnreachableError) as told:
        ledger.post("ref-1", BILL)
    assert not isinstance(told.value, NoAnswerError)


@pytest.mark.parametrize("error", [
    httpx.ReadTimeout("slow"), httpx.ReadError("broke"), httpx.RemoteProtocolError("gone"),
    httpx.WriteError("broke"),
])  # fmt: skip
def test_without_an_answer_it_may_be_booked(finance, ledger, error):
    finance.answers["POST", "/bills"] = error
    with pytest.raises(NoAnswerError):
        ledger.post("ref-1", BILL)


@pytest.mark.parametrize("status", [500, 502, 503])
def test_an_error_of_the_ledger_may_have_come_after_booking(finance, ledger, status):
    finance.says("POST", "/bills", status, {})
    with pytest.raises(NoAnswerError):
        ledger.post("ref-1", BILL)


@pytest.mark.parametrize(("status", "said"), [(401, "token"), (403, "token"), (429, "later")])
def test_what_says_nothing_of_the_bill_is_tried_again(finance, ledger, status, said):
    finance.says("POST", "/bills", status, {})
    finance.says("POST", "/bills/rehearse", status, {})
    for act in (lambda: ledger.post("ref-1", BILL), lambda: ledger.rehearse(BILL)):
        with pytest.raises(UnreachableError, match=said):
            act()


def test_a_refusal_quotes_the_ledger(finance, ledger):
    errors = {"errors": [{"field": "period", "message": "is closed"}]}
    finance.says("POST", "/bills", 422, errors)
    finance.says("POST", "/bills/rehearse", 422, errors)
    assert ledger.post("ref-1", BILL) == Refusal(reasons=("period: is closed",))
    assert ledger.rehearse(BILL) == Refusal(reasons=("period: is closed",))


def test_a_refusal_without_words_tells_its_status(finance, ledger):
    finance.says("POST", "/bills", 422, ["what"])
    assert ledger.post("ref-1", BILL) == Refusal(reasons=("HTTP 422",))


@pytest.mark.parametrize(("reference", "ours"), [("ref-1", True), ("other", False), (None, False)])
def test_a_bill_that_stands_there_is_ours_only_with_our_reference(finance, ledger, reference, ours):
    existing = {**BOOKED, "external_reference": reference}
    errors = [{"field": "number", "message": "stands"}]
    finance.says("POST", "/bills", 409, {"errors": errors, "existing": existing})
    answer = ledger.post("ref-1", BILL)
    if ours:
        assert answer == Booked(ledger_id="7", number="BL-26-00007", link="http://f/7")
    else:
        assert answer == Refusal(reasons=("number: stands",), in_ledger="BL-26-00007")


def test_a_rehearsal_books_nothing_and_carries_no_reference(finance, ledger):
    finance.says("POST", "/bills/rehearse", 200, {"would": "book"})
    assert ledger.rehearse(BILL) is None
    assert json.loads(finance.asked[0].content)["external_reference"] == ""


@pytest.mark.parametrize(("rows", "found"), [([], None), ([BOOKED], "BL-26-00007")])
def test_a_bill_is_looked_for_by_our_reference(finance, ledger, rows, found):
    finance.says("GET", "/bills", 200, {"bills": rows})
    booked = ledger.find("ref-1")
    assert (booked.number if booked else None) == found
    assert finance.asked[0].url.params["external_reference"] == "ref-1"


@pytest.mark.parametrize("answer", [httpx.ReadTimeout("slow"), httpx.Response(500, json={})])
def test_a_look_that_fails_is_made_again_later(finance, ledger, answer):
    finance.answers["GET", "/bills"] = answer
    with pytest.raises(UnreachableError):
        ledger.find("ref-1")


def test_a_file_is_attached_under_its_hash(finance, ledger):
    finance.says("PUT", "/bills/7/attachments/abc", 201, {})
    ledger.attach("7", "a b.pdf", b"content", "abc")
    (asked,) = finance.asked
    assert asked.url.params["name"] == "a b.pdf"
    assert asked.content == b"content"
    assert asked.headers["Content-Type"] == "application/octet-stream"


def test_an_attachment_that_is_refused_is_told(finance, ledger):
    errors = {"errors": [{"field": "sha256", "message": "does not fit"}]}
    finance.says("PUT", "/bills/7/attachments/abc", 422, errors)
    with pytest.raises(AdapterError, match="does not fit") as told:
        ledger.attach("7", "a.pdf", b"x", "abc")
    assert not isinstance(told.value, UnreachableError)


def test_a_bill_is_read_back_with_its_lines_in_order(finance, ledger):
    finance.says("GET", "/bills/7", 200, {
        "gross_total": "120.00", "lines": [{"amount": "60.00"}, {"amount": "40.00"}],
        "attachments": [{"sha256": "abc"}, {"sha256": "def"}],
    })  # fmt: skip
    standing = ledger.read_back("7")
    assert standing.gross_total == "120.00"
    assert standing.lines == ("60.00", "40.00")
    assert standing.attachments == ("abc", "def")


@pytest.mark.parametrize(("health", "me", "good"), [
    (200, {"name": "ap", "rights": ["bills.write"]}, [True, True, True]),
    (200, {"name": "ap", "rights": ["bills.read"]}, [True, True, False]),
    (200, None, [True, False]), (500, None, [False]),
])  # fmt: skip
def test_a_connection_is_tried_step_by_step(finance, ledger, health, me, good):
    finance.says("GET", "/health", health, {})
    finance.says("GET", "/me", 200 if me else 401, me or {})
    assert [step.good for step in ledger.test()] == good


# -- chat


@pytest.fixture
def posted(monkeypatch):
    """What the chat system was asked, and the status that it answers with."""
    asked, status = [], [200]

    def post(url, **options):
        asked.append((url, options))
        if isinstance(status[0], Exception):
            raise status[0]
        return httpx.Response(status[0])

    monkeypatch.setattr(chat.httpx, "post", post)
    return asked, status


def test_a_chat_message_names_its_channel_and_carries_a_key(posted):
    asked, _ = posted
    chat.WebhookChat(ChatSettings(url="http://c"), "word").send("ap", "Look", "key-1")
    ((url, options),) = asked
    assert (url, options["json"]) == ("http://c", {"channel": "ap", "text": "Look"})
    assert options["headers"] == {"Authorization": "Bearer word", "Idempotency-Key": "key-1"}


@pytest.mark.parametrize(("status", "again"), [
    (500, True), (503, True), (429, True), (httpx.ConnectError("x"), True), (400, False),
    (404, False), (302, False),
])  # fmt: skip
def test_what_may_pass_is_told_again_and_what_was_refused_is_not(posted, status, again):
    posted[1][0] = status
    with pytest.raises(AdapterError) as told:
        chat.WebhookChat(ChatSettings(url="http://c"), "").send("ap", "Look", "k")
    assert isinstance(told.value, UnreachableError) is again
