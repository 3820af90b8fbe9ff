"""The client library against a transport that answers as the service would."""

import json
from datetime import date
from decimal import Decimal

import httpx
import pytest

from veridox.client import (
    ChangedMeanwhileError,
    Money,
    NotReachableError,
    ProblemError,
    Veridox,
    WaitedTooLongError,
)
from veridox.client import transport as transport_module
from veridox.client.readings import AbsentFieldError, reading_of


@pytest.fixture(autouse=True)
def _no_pauses(monkeypatch):
    monkeypatch.setattr(transport_module, "FIRST_PAUSE", 0.0)


def client(handler):
    return Veridox("http://x", token="t", transport=httpx.MockTransport(handler))


def problem(status, **members):
    return httpx.Response(status, json={"status": status, **members})


def test_reads_and_writes_are_repeated_with_the_same_key_until_they_are_answered():
    keys = []

    def answer(request):
        keys.append(request.headers.get("Idempotency-Key"))
        if len(keys) < 3:
            raise httpx.ConnectError("down")
        return httpx.Response(201, json={"name": "x"})

    with client(answer) as vx:
        vx.connections.create({"name": "x"})
    assert len(set(keys)) == 1
    assert keys[0]


def test_a_service_that_never_answers_is_told_with_its_address():
    def down(request):
        raise httpx.ConnectError("refused")

    with client(down) as vx, pytest.raises(NotReachableError, match="http://x"):
        vx.health()


def test_a_problem_says_each_thing_with_its_place():
    def answer(request):
        errors = [{"line": 3, "column": 5, "message": "unknown key", "hint": "did you mean x?"}]
        return problem(422, detail="1 problem(s)", errors=errors)

    with client(answer) as vx, pytest.raises(ProblemError) as refused:
        vx.pipelines.publish("")
    assert refused.value.status == 422
    assert "3:5: unknown key (did you mean x?)" in str(refused.value)


def test_a_change_by_somebody_else_has_an_exception_of_its_own():
    with (
        client(lambda request: problem(412, detail="changed")) as vx,
        pytest.raises(ChangedMeanwhileError),
    ):
        vx.documents.get(1)


def test_an_answer_that_is_no_json_is_still_a_clear_error():
    with (
        client(lambda request: httpx.Response(500, text="<html>")) as vx,
        pytest.raises(ProblemError, match="HTTP 500"),
    ):
        vx.health()


def test_lists_follow_the_cursor():
    def answer(request):
        cursor = request.url.params.get("cursor")
        rows, following = ([1, 2], "c") if cursor is None else ([3], None)
        results = [{"id": each} for each in rows]
        return httpx.Response(200, json={"results": results, "next": following})

    with client(answer) as vx:
        assert [row["id"] for row in vx.vendors.list(search=None)] == [1, 2, 3]


FIELD = {"text": "", "page": 1, "box": [1, 2, 3, 4], "confidence": 0.9, "origin": "text"}


def test_values_are_typed_and_exact():
    reading = reading_of({
        "document": {"kind": "invoice", "language": "en"},
        "fields": {
            "gross_total": {**FIELD, "value": {"amount": "0.10", "currency": "GBP"}},
            "issue_date": {**FIELD, "value": "2026-03-31"},
            "seller.name": {**FIELD, "value": "Saltglass"},
        },
        "lines": [{"quantity": {**FIELD, "value": "1.5"}}],
    })  # fmt: skip
    assert reading.gross_total.value == Money(amount=Decimal("0.10"), currency="GBP")
    assert reading.issue_date.value == date(2026, 3, 31)
    assert reading["seller.name"].value == "Saltglass"
    assert reading.lines[0]["quantity"].value == Decimal("1.5")
    assert reading.get("due_date") is None
    with pytest.raises(AbsentFieldError, match="not stated"):
        reading.due_date  # noqa: B018


def test_waiting_ends_with_a_clear_error():
    file = {"id": 1, "name": "x", "state": "received", "reason": "", "media_type": "",
            "sha256": "", "findings": [], "documents": []}  # fmt: skip

    with (
        client(lambda request: httpx.Response(200, content=json.dumps(file))) as vx,
        pytest.raises(WaitedTooLongError, match="file 1 is received"),
    ):
        vx.files.wait(1, timeout=0.05)
