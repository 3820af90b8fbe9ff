"""Each resource of the client sends what the service expects."""

import json

import httpx
import pytest

from veridox.client import ProblemError, Veridox
from veridox.client.signin import signed_in

ROW = {
    "id": 3, "version": 2, "state": "at_desk", "kind": "invoice", "number": "A-1",
    "seller_name": "Salt", "vendor": "V1", "vendor_name": "Salt Ltd", "order": None, "orders": [],
    "currency": "GBP", "gross_total": "12.50", "queue": "exceptions", "reasons": ["why"],
    "findings": [{"code": "total.sum", "weight": "block", "fields": ["gross_total"], "page": 1,
                  "box": None, "expected": "1", "found": "2", "difference": "+1",
                  "message": "m", "hint": None}],
    "posting": {"id": "p", "state": "unsure", "number": "", "link": "", "problem": "none"},
    "file": 9, "file_name": "a.pdf", "pipeline": "p", "pipeline_version": 1,
    "received_at": "2026-11-23T08:00:00Z", "reading": {"fields": {}, "document": {}},
}  # fmt: skip
FILE = {
    "id": 9, "name": "a.pdf", "state": "read", "reason": "", "media_type": "application/pdf",
    "sha256": "x", "findings": [], "documents": [3],
}  # fmt: skip


class Service:
    """Answers by path and remembers what was sent."""

    def __init__(self):
        self.seen = []

    def __call__(self, request):
        self.seen.append(request)
        path = request.url.path.removeprefix("/api/v1")
        if path == "/files" and request.method == "POST":
            return httpx.Response(201, json=FILE)
        if path.startswith("/files/"):
            return httpx.Response(200, json=FILE)
        if path in ("/documents", "/desk"):
            return httpx.Response(200, json={"results": [ROW], "next": None})
        if path.endswith("/import"):
            return httpx.Response(200, json={"imported": 6})
        if path.startswith("/documents/"):
            return httpx.Response(200, json=ROW)
        return httpx.Response(200, json={"results": [], "next": None})

    @property
    def last(self):
        return self.seen[-1]


@pytest.fixture
def service():
    return Service()


@pytest.fixture
def vx(service):
    with Veridox("http://x", token="word", transport=httpx.MockTransport(service)) as client:
        yield client


def test_every_request_carries_the_token(vx, service):
    list(vx.documents.list())
    assert service.last.headers["Authorization"] == "Bearer word"


def test_reads_carry_no_idempotency_key(vx, service):
    list(vx.documents.list())
    assert "Idempotency-Key" not in service.last.headers


def test_filters_that_are_not_set_are_left_out(vx, service):
    list(vx.documents.list(state="posted", vendor=None))
    assert dict(service.last.url.params) == {"state": "posted"}


def test_a_document_is_typed(vx):
    document = vx.documents.get(3)
    assert str(document.gross_total) == "12.50"
    assert document.findings[0].difference == "+1"
    assert document.received_at.tzinfo is not None


@pytest.mark.parametrize(("act", "path"), [
    (lambda vx, d: vx.documents.post(d, "because"), "post"),
    (lambda vx, d: vx.documents.discard(d, "because"), "discard"),
])  # fmt: skip
def test_acts_carry_the_version_seen_and_the_reason(vx, service, act, path):
    act(vx, vx.documents.get(3))
    assert service.last.url.path == f"/api/v1/documents/3/{path}"
    assert service.last.headers["If-Match"] == '"2"'
    assert json.loads(service.last.content) == {"reason": "because"}


def test_a_correction_carries_changes_note_and_version(vx, service):
    vx.documents.correct(vx.documents.get(3), {"fields": {"number": "B"}}, "typo")
    assert service.last.method == "PATCH"
    assert json.loads(service.last.content) == {"fields": {"number": "B"}, "note": "typo"}
    assert service.last.headers["If-Match"] == '"2"'


def test_an_upload_sends_name_bytes_and_pipeline(vx, service, tmp_path):
    path = tmp_path / "bill.pdf"
    path.write_bytes(b"%PDF-bytes")
    file = vx.files.upload(path, pipeline="p")
    assert file.document_ids == (3,)
    assert b'filename="bill.pdf"' in service.last.content
    assert b"%PDF-bytes" in service.last.content


def test_waiting_returns_the_documents(vx):
    assert [document.id for document in vx.files.wait(9).documents] == [3]


def test_an_import_says_how_many(vx):
    assert vx.vendors.import_table(b"code,name\n")["imported"] == 6


def test_signing_in_sends_the_token_against_forgery_and_signs_out_again():
    seen = []

    def answer(request):
        seen.append((request.method, request.url.path, request.headers.get("X-CSRFToken")))
        body = {"username": "ada", "csrf": f"c{len(seen)}", "token": "vdx_1"}
        return httpx.Response(200, json=body)

    with signed_in("http://x", "ada", "w", httpx.MockTransport(answer)) as browser:
        assert browser.post("/tokens", {})["token"] == "vdx_1"
    assert seen == [
        ("GET", "/api/v1/session", None),
        ("POST", "/api/v1/session", "c1"),
        ("POST", "/api/v1/tokens", "c2"),
        ("DELETE", "/api/v1/session", "c2"),
    ]


def test_a_wrong_password_is_a_problem():
    def answer(request):
        if request.method == "GET":
            return httpx.Response(200, json={"csrf": "c"})
        return httpx.Response(401, json={"detail": "Name or password is not right."})

    with (
        pytest.raises(ProblemError, match="not right"),
        signed_in("http://x", "ada", "w", httpx.MockTransport(answer)),
    ):
        pass
