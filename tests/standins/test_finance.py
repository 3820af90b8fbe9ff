"""The finance stand-in as a system of its own: it must be strict, or our tests prove little."""

import contextlib
import hashlib
import re
import threading

import httpx
import pytest
import uvicorn

from demo.servers import free_port
from tests.stack.running import until
from veridox.standins.finance.app import create_app

TOKEN = "finance-word"
BILL = {
    "external_reference": "ref-1", "entity": "trust", "vendor": "V1", "kind": "bill",
    "number": "A-1", "issue_date": "2026-11-05", "currency": "GBP", "net_total": "100.00",
    "tax_total": "20.00", "gross_total": "120.00",
    "lines": [{"description": "Salt & <b>more</b>", "amount": "100.00"}],
}  # fmt: skip


@contextlib.contextmanager
def served(store, **more):
    """The finance system on loopback, and a client with its token."""
    port = free_port()
    app = create_app(store, TOKEN, **more)
    server = uvicorn.Server(uvicorn.Config(app, "127.0.0.1", port, log_level="critical"))
    thread = threading.Thread(target=server.run)
    thread.start()
    try:
        until(lambda: server.started, "the finance system")
        headers = {"Authorization": f"Bearer {TOKEN}"}
        with httpx.Client(base_url=f"http://127.0.0.1:{port}", headers=headers) as client:
            yield client
    finally:
        server.should_exit = True
        thread.join()


@pytest.fixture
def finance(tmp_path):
    with served(tmp_path / "books.sqlite") as client:
        client.post("/v1/masterdata", json={
            "entities": [["trust", "The Trust", "GBP"]],
            "vendors": [["V1", "Saltglass", "", False], ["V2", "Barred", "", True]],
            "orders": [["PO-1", "trust", "V1", "GBP", "100.00"]],
        })  # fmt: skip
        yield client


def book(finance, key="key-1", **changes):
    return finance.post("/v1/bills", json={**BILL, **changes}, headers={"Idempotency-Key": key})


def booked(finance):
    return finance.get("/v1/bills").json()["bills"]


@pytest.mark.parametrize("header", [{}, {"Authorization": "Bearer wrong"}])
def test_only_the_token_opens_it(finance, header):
    assert httpx.get(finance.base_url.join("/v1/bills"), headers=header).status_code == 401


def test_a_bill_is_booked_with_number_and_link(finance):
    answer = book(finance)
    assert answer.status_code == 201
    assert re.fullmatch(r"BL-\d\d-00001", answer.json()["number"])
    assert answer.json()["link"].endswith(f"/bills/{answer.json()['id']}")


def test_rehearsing_writes_nothing(finance):
    assert finance.post("/v1/bills/rehearse", json=BILL).status_code == 200
    assert booked(finance) == []


@pytest.mark.parametrize(("changes", "field"), [
    ({"vendor": "V9"}, "vendor"),
    ({"vendor": "V2"}, "vendor"),
    ({"entity": "nobody"}, "entity"),
    ({"number": ""}, "number"),
    ({"gross_total": "121.00"}, "gross_total"),
    ({"net_total": "x"}, "net_total"),
    ({"lines": []}, "lines"),
    ({"lines": [{"description": "x", "amount": "99.00"}]}, "lines"),
    ({"order_number": "PO-9"}, "order_number"),
])  # fmt: skip
def test_a_wrong_bill_is_refused_by_field_in_rehearsal_and_in_earnest(finance, changes, field):
    for answer in (finance.post("/v1/bills/rehearse", json={**BILL, **changes}),
                   book(finance, **changes)):  # fmt: skip
        assert answer.status_code == 422
        assert field in [error["field"] for error in answer.json()["errors"]]
    assert booked(finance) == []


def test_an_order_of_another_vendor_is_refused(finance):
    finance.post("/v1/masterdata", json={"vendors": [["V3", "Other", "", False]]})
    answer = book(finance, vendor="V3", order_number="PO-1")
    assert answer.json()["errors"][0]["field"] == "order_number"


def test_the_same_key_books_once_and_answers_alike(finance):
    first, second = book(finance), book(finance)
    assert first.json()["number"] == second.json()["number"]
    assert len(booked(finance)) == 1


def test_the_same_number_under_another_key_is_a_conflict_that_shows_what_stands(finance):
    book(finance)
    answer = book(finance, key="key-2", external_reference="ref-2")
    assert answer.status_code == 409
    assert answer.json()["existing"]["external_reference"] == "ref-1"
    assert len(booked(finance)) == 1


def test_a_credit_of_the_same_number_is_another_record(finance):
    book(finance)
    answer = book(finance, key="key-2", external_reference="ref-2", kind="credit")
    assert answer.status_code == 201
    assert answer.json()["number"].startswith("CR-")


def test_a_bill_is_found_by_its_reference_only(finance):
    book(finance)
    assert len(finance.get("/v1/bills?external_reference=ref-1").json()["bills"]) == 1
    assert finance.get("/v1/bills?external_reference=ref-2").json()["bills"] == []


def test_an_attachment_must_fit_its_hash_and_is_kept_once(finance):
    bill = book(finance).json()["id"]
    content = b"%PDF"
    digest = hashlib.sha256(content).hexdigest()
    for _ in range(2):
        path = f"/v1/bills/{bill}/attachments/{digest}"
        assert finance.put(path, params={"name": "a.pdf"}, content=content).status_code == 201
    wrong = f"/v1/bills/{bill}/attachments/{'0' * 64}"
    assert finance.put(wrong, params={"name": "a.pdf"}, content=content).status_code == 422
    (kept,) = finance.get(f"/v1/bills/{bill}").json()["attachments"]
    assert (kept["sha256"], kept["size"]) == (digest, 4)
    assert finance.get(f"/bills/{bill}/attachments/{digest}").content == content


def test_the_screens_show_what_was_booked_and_escape_it(finance):
    bill = book(finance).json()
    assert "Nothing is booked" not in finance.get("/").text
    screen = finance.get(f"/bills/{bill['id']}").text
    assert "&lt;b&gt;more" in screen
    assert "120.00" in screen
    assert finance.get("/bills/99").status_code == 404


def fault(finance, name, times=1):
    finance.put("/faults", json={"fault": name, "times": times, "seconds": 0.05})


def test_an_error_books_nothing_and_counts_down(finance):
    fault(finance, "error")
    assert book(finance).status_code == 500
    assert booked(finance) == []
    assert book(finance).status_code == 201


def test_a_dropped_answer_is_booked_all_the_same(finance):
    fault(finance, "drop")
    with pytest.raises(httpx.RemoteProtocolError):
        book(finance)
    assert len(booked(finance)) == 1


def test_its_books_survive_a_restart(tmp_path):
    store = tmp_path / "books.sqlite"
    data = {"entities": [["trust", "T", "GBP"]], "vendors": [["V1", "S", "", False]]}
    with served(store) as first:
        first.post("/v1/masterdata", json=data)
        book(first)
    with served(store) as second:
        assert len(booked(second)) == 1
        assert book(second).json()["id"] == 1


def test_its_interface_is_described(finance):
    paths = finance.get("/v1/openapi.json").json()["paths"]
    assert {"/v1/bills", "/v1/bills/rehearse", "/v1/vendors", "/v1/orders"} <= set(paths)


def test_a_mode_that_keeps_no_promise_books_whatever_comes(tmp_path):
    """Without it a proof that nothing is booked twice could not fail."""
    with served(tmp_path / "lenient.sqlite", accepts_doubles=True) as client:
        client.post("/v1/masterdata", json={
            "entities": [["trust", "The Trust", "GBP"]], "vendors": [["V1", "S", "", False]],
        })  # fmt: skip
        for _ in range(2):
            assert book(client).status_code == 201
        assert len(booked(client)) == 2


def test_nothing_is_booked_into_a_closed_period(finance):
    trust = {"code": "trust", "name": "The Trust", "currency": "GBP",
             "closed": ["2026-11-01 to 2026-11-30"]}  # fmt: skip
    finance.post("/v1/masterdata", json={"lists": {"entities": [trust]}})
    refused = book(finance)
    assert refused.status_code == 422
    assert [error["field"] for error in refused.json()["errors"]] == ["posting_date"]
    moved = book(finance, posting_date="2026-12-01")
    assert (moved.status_code, moved.json()["posting_date"]) == (201, "2026-12-01")
