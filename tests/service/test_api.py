"""REST as its callers meet it: who may, what comes back, what is refused and how."""

import csv
import io
import json

import pytest
from django.test import Client

from demo import bills
from demo.drawing import LAYOUTS
from demo.merrowmere import orders_csv
from tests.service.caller import V1, Caller
from tests.service.conftest import PIPELINE, SYSTEM
from veridox.service.connections.models import Connection
from veridox.service.documents.models import Document
from veridox.service.intake.models import File
from veridox.service.masterdata.models import Order, Vendor
from veridox.service.people.actions.tokens import revoke_token
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.trail.models import Entry


@pytest.fixture
def slip(installation):
    return installation.checked(bills.SALT_SLIP, "band")


# -- who may


@pytest.mark.parametrize("path", [
    "/documents", "/files", "/messages", "/desk", "/vendors", "/orders", "/entities",
    "/pipelines", "/connections", "/trail", "/trail/head", "/tokens",
])  # fmt: skip
def test_nothing_is_shown_to_nobody(db, path):
    answer = Client().get(V1 + path)
    assert answer.status_code == 401
    assert answer["Content-Type"] == "application/problem+json"
    assert answer["WWW-Authenticate"].startswith("Bearer")


def test_a_revoked_or_expired_token_opens_nothing(works, clerk):
    assert works.get("/documents").status_code == 200
    revoke_token(SYSTEM, works.token.pk, None)
    assert works.get("/documents").status_code == 401
    from datetime import timedelta

    from django.utils import timezone

    other = Caller(clerk, "read")
    other.token.expires_at = timezone.now() - timedelta(seconds=1)
    other.token.save()
    assert other.get("/documents").status_code == 401


def test_a_token_is_stored_only_as_a_digest(works):
    assert works.text not in str(works.token.__dict__)
    assert works.text not in str(list(Entry.objects.values()))


def test_a_reading_token_cannot_act(reads, slip):
    answer = reads.send("post", f"/documents/{slip.pk}/discard", {"reason": "x"}, If_Match='"2"')
    assert answer.status_code == 403
    slip.refresh_from_db()
    assert slip.state == "at_desk"


def test_a_clerk_cannot_set_up_the_service(works):
    for path, data in (("/pipelines", {"text": PIPELINE}), ("/connections", {})):
        assert works.send("post", path, data).status_code == 403
    assert works.upload("/vendors/import", b"code,name\nV9,X\n").status_code == 403


def test_nobody_gives_away_rights_they_do_not_have(works):
    answer = works.send("post", "/tokens", {"name": "more", "scopes": ["admin"]})
    assert answer.status_code == 403


# -- documents


def test_a_document_comes_with_reading_findings_and_etag(works, slip):
    answer = works.get(f"/documents/{slip.pk}")
    assert answer["ETag"] == '"2"'
    data = answer.json()
    assert data["reading"]["fields"]["gross_total"]["value"] == {
        "amount": "1481.28", "currency": "GBP",
    }  # fmt: skip
    assert data["findings"][0]["difference"] == "+60.00"
    assert list(data["reading"]["fields"])[:2] == ["number", "issue_date"]
    assert data["pipeline_version"] == 1


def test_an_edit_without_a_version_is_refused(works, slip):
    answer = works.send("patch", f"/documents/{slip.pk}/fields", {"fields": {}})
    assert answer.status_code == 428


def test_an_edit_on_an_old_version_is_refused_and_says_the_newest(works, slip):
    path = f"/documents/{slip.pk}/fields"
    first = works.send("patch", path, {"fields": {"due_date": "2026-12-31"}}, If_Match='"2"')
    assert first.status_code == 200
    second = works.send("patch", path, {"fields": {"due_date": "2027-01-31"}}, If_Match='"2"')
    assert second.status_code == 412
    assert second.json()["current_version"] == int(first["ETag"].strip('"'))
    third = works.send(
        "patch", path, {"fields": {"due_date": "2027-01-31"}}, If_Match=first["ETag"]
    )
    assert third.status_code == 200


@pytest.mark.parametrize("version", ["2", 'W/"2"', '"two"', "*"])
def test_an_if_match_that_is_none_of_ours_is_refused(works, slip, version):
    answer = works.send("patch", f"/documents/{slip.pk}/fields", {"fields": {}}, If_Match=version)
    assert answer.status_code == 400


def test_the_same_write_sent_twice_is_done_once_and_answered_alike(works, slip):
    path = f"/documents/{slip.pk}/discard"
    headers = {"If_Match": '"2"', "Idempotency_Key": "k1"}
    first = works.send("post", path, {"reason": "twice"}, **headers)
    second = works.send("post", path, {"reason": "twice"}, **headers)
    assert first.status_code == second.status_code == 200
    assert first.json() == second.json()
    assert Entry.objects.filter(act="document.discarded").count() == 1
    other = works.send("post", path, {"reason": "another"}, **headers)
    assert other.status_code == 422


def test_a_refused_write_leaves_its_key_usable(works, slip):
    path = f"/documents/{slip.pk}/discard"
    headers = {"If_Match": '"2"', "Idempotency_Key": "k2"}
    assert works.send("post", path, {"reason": ""}, **headers).status_code == 400
    assert works.send("post", path, {"reason": "now with one"}, **headers).status_code == 200


def test_a_document_that_is_not_there_is_a_problem_document(works):
    for path in ("/documents/999", "/documents/999/history", "/documents/999/pages/1"):
        answer = works.get(path)
        assert answer.status_code == 404
        assert "999" in answer.json()["detail"]


def test_a_page_is_drawn_and_one_that_is_not_there_is_told(works, slip):
    answer = works.get(f"/documents/{slip.pk}/pages/1", dpi=60)
    assert answer["Content-Type"] == "image/png"
    assert answer.content.startswith(b"\x89PNG")
    assert works.get(f"/documents/{slip.pk}/pages/7").status_code == 404
    assert works.get(f"/documents/{slip.pk}/pages/1", dpi=9000).status_code == 400


def test_an_original_is_given_as_a_download_only(works, slip):
    answer = works.get(f"/files/{slip.file_id}/content")
    assert answer.content == LAYOUTS["band"](bills.SALT_SLIP)
    assert answer["Content-Disposition"].startswith("attachment")
    assert answer["X-Content-Type-Options"] == "nosniff"


def test_lists_come_in_pages_that_lose_and_double_nothing(works, installation):
    # Some have no number and no date: nulls must not confuse the pages.
    for index in range(5):
        document = installation.arrive_bytes(b"")
        if index % 2:
            document.gross_total, document.currency = index, "GBP"
            document.save()
    for ordering in ("id", "-id", "gross_total", "-gross_total", "-received_at"):
        seen, cursor = [], None
        while True:
            params = {"limit": 2, "ordering": ordering} | ({"cursor": cursor} if cursor else {})
            answer = works.get("/documents", **params).json()
            seen += [row["id"] for row in answer["results"]]
            cursor = answer["next"]
            if cursor is None:
                break
        assert sorted(seen) == sorted(Document.objects.values_list("pk", flat=True)), ordering


@pytest.mark.parametrize("params", [
    {"cursor": "nonsense"}, {"limit": "0"}, {"limit": "x"}, {"ordering": "secret"},
])  # fmt: skip
def test_a_list_asked_for_wrongly_says_what_is_wrong(works, params):
    assert works.get("/documents", **params).status_code == 400


def test_documents_are_found_by_number_vendor_order_and_finding(works, slip, installation):
    installation.checked(bills.KRILL)
    for params in ({"search": "SG/10442"}, {"search": "saltglass"}, {"finding": "total.sum"},
                   {"order": "PO-26-0102"}, {"state": "at_desk"}):  # fmt: skip
        rows = works.get("/documents", **params).json()["results"]
        assert [row["id"] for row in rows] == [slip.pk], params


def test_the_desk_lists_only_what_waits(works, slip, installation):
    installation.checked(bills.KRILL)
    rows = works.get("/desk").json()["results"]
    assert [row["id"] for row in rows] == [slip.pk]


# -- files


def test_an_upload_is_stored_and_read_later(works):
    answer = works.upload("/files", LAYOUTS["band"](bills.KRILL), "../krill.pdf",
                          pipeline="supplier-invoices")  # fmt: skip
    assert answer.status_code == 201
    file = File.objects.get(pk=answer.json()["id"])
    assert (file.name, file.state, file.uploaded_by) == ("krill.pdf", "received", "person:cleo")


def test_what_is_no_pdf_is_kept_and_said_so(works):
    answer = works.upload("/files", b"hello", "note.txt", pipeline="supplier-invoices")
    assert answer.json()["state"] == "aside"
    assert "text/plain" in answer.json()["reason"]


def test_an_upload_without_a_file_names_the_field(works):
    answer = works.client.post(V1 + "/files", {"pipeline": "supplier-invoices"})
    assert answer.status_code == 400
    assert answer.json()["errors"][0]["path"] == "file"


# -- pipelines


def test_a_bad_pipeline_file_comes_back_with_line_and_column(rules):
    answer = rules.send("post", "/pipelines", {"text": PIPELINE.replace("collect:", "colect:")})
    assert answer.status_code == 422
    errors = answer.json()["errors"]
    assert any(error["hint"] == "did you mean collect?" and error["line"] == 6 for error in errors)
    assert PipelineVersion.objects.count() == 1


def test_published_versions_are_kept_and_the_same_text_makes_none(rules):
    assert rules.send("post", "/pipelines", {"text": PIPELINE}).json()["number"] == 1
    changed = PIPELINE.replace("percent: 2,", "percent: 1,")
    assert rules.send("post", "/pipelines", {"text": changed}).json()["number"] == 2
    versions = rules.get("/pipelines/supplier-invoices/versions").json()["results"]
    assert [version["number"] for version in versions] == [2, 1]
    assert rules.get("/pipelines/supplier-invoices/versions/1").json()["text"] == PIPELINE


def test_a_pipeline_that_names_what_is_not_set_up_is_refused(rules):
    text = PIPELINE.replace("main-books", "other-books").replace("[aquarium-trust", "[nobody")
    answer = rules.send("post", "/pipelines", {"text": text})
    assert answer.status_code == 400
    assert "no ledger connection 'other-books'" in answer.json()["detail"]
    assert "no entity 'nobody'" in answer.json()["detail"]


# -- connections


def test_a_secret_goes_in_and_never_comes_out(rules):
    data = {"name": "second", "kind": "mailbox", "secret": "hunter-two-words",
            "settings": {"host": "127.0.0.1", "user": "ap"}}  # fmt: skip
    answer = rules.send("post", "/connections", data)
    assert answer.json()["has_secret"] is True
    everything = answer.content + rules.get("/connections").content + rules.get("/trail").content
    assert b"hunter" not in everything
    assert b"hunter" not in bytes(Connection.objects.get(name="second").secret)


@pytest.mark.parametrize(("kind", "given", "said"), [
    ("mailbox", {"host": "x"}, "needs"),
    ("mailbox", {"host": "x", "user": "y", "sekurity": "tls"}, "unknown here"),
    ("mailbox", {"host": "x", "user": "y", "security": "none"}, "security is one of"),
    ("outbox", {"host": "mail.example", "sender": "a@b.example", "security": "none"}, "loopback"),
    ("mailbox", {"host": "x", "user": "y", "port": "many"}, "must be a int"),
    ("ledger", {"url": "ftp://x"}, "https://"),
])  # fmt: skip
def test_a_connection_set_up_wrongly_is_told_at_once(rules, kind, given, said):
    answer = rules.send("post", "/connections", {"name": "x", "kind": kind, "settings": given})
    assert answer.status_code == 400
    assert said in answer.json()["detail"]


# -- master data


def test_a_table_with_mistakes_imports_nothing_and_names_each(rules):
    table = (
        "number,entity,vendor,currency,line,quantity,unit_price\n"
        "PO-9,aquarium-trust,V1001,GBP,1,ten,1.00\n"
        "PO-9,aquarium-trust,V9999,GBX,2,1,1.00\n"
    )
    answer = rules.upload("/orders/import", table.encode())
    assert answer.status_code == 400
    paths = {error["path"] for error in answer.json()["errors"]}
    assert {"row 2, quantity", "row 3, currency"} <= paths
    assert not Order.objects.filter(number="PO-9").exists()


@pytest.mark.parametrize(("content", "said"), [
    (b"", "is empty"), (b"code;name\n", "no rows"), (b"\xff\xfe", "is empty"),
    (b"code;id\n1;2\n", "missing columns: name"), (b"\0\x81\0", "neither a CSV"),
    (b"code,name,colour\nV1,x,red\n", "unknown columns: colour"),
])  # fmt: skip
def test_what_is_no_table_is_refused_with_a_reason(rules, content, said):
    answer = rules.upload("/vendors/import", content or b"\n")
    assert answer.status_code == 400
    assert said in answer.json()["detail"]


def test_an_import_updates_what_is_there(rules):
    rules.upload("/vendors/import", b"code;name;blocked\nV1001;Brinefold Feeds Limited;yes\n")
    vendor = Vendor.objects.get(code="V1001")
    assert (vendor.name, vendor.blocked) == ("Brinefold Feeds Limited", True)
    assert Vendor.objects.count() == 6


def test_orders_imported_again_keep_their_lines_once(rules):
    rules.upload("/orders/import", orders_csv().encode())
    order = Order.objects.get(number="PO-26-0101")
    assert order.lines.count() == 3
    assert order.net_total == 1017


def test_an_import_leaves_lines_alone_that_are_the_same_and_counts_each_order_once(rules):
    table = orders_csv()
    before = list(Order.objects.get(number="PO-26-0101").lines.values_list("pk", flat=True))
    seen = rules.upload("/orders/import", table.encode()).json()
    assert (seen["changed"], seen["same"], seen["changes"]) == (0, seen["rows"], [])
    head, *rows = csv.reader(table.splitlines())
    first = next(row for row in rows if row[0] == "PO-26-0101")
    first[head.index("quantity")] += "1"
    file = io.StringIO()
    csv.writer(file).writerows([head, *rows])
    seen = rules.upload("/orders/import", file.getvalue().encode()).json()
    assert (seen["changed"], seen["same"]) == (1, seen["rows"] - 1)
    assert {change["column"] for change in seen["changes"]} == {"line 1 quantity"}
    after = list(Order.objects.get(number="PO-26-0101").lines.values_list("pk", flat=True))
    assert after == before  # a line stays the row it is
    untouched = rules.upload("/orders/import", file.getvalue().encode())
    assert untouched.json()["changed"] == 0
    assert after == list(Order.objects.get(number="PO-26-0101").lines.values_list("pk", flat=True))


# -- the console's session


def test_signing_in_needs_the_csrf_token_and_the_right_password(clerk):
    browser = Client(enforce_csrf_checks=True)
    csrf = browser.get(V1 + "/session").json()["csrf"]

    def enter(password, token=csrf):
        return browser.post(
            V1 + "/session", json.dumps({"username": "cleo", "password": password}),
            content_type="application/json", headers={"X-CSRFToken": token},
        )  # fmt: skip

    assert enter("a long enough word", token="").status_code == 403
    assert enter("wrong").status_code in (401, 403)
    answer = enter("a long enough word")
    assert (answer.status_code, answer.json()["username"]) == (200, "cleo")
    assert browser.get(V1 + "/documents").status_code == 200
    assert browser.delete(V1 + "/session").status_code == 403
    token = answer.json()["csrf"]
    assert browser.delete(V1 + "/session", headers={"X-CSRFToken": token}).status_code == 204
    assert browser.get(V1 + "/documents").status_code == 401


def test_every_answer_carries_a_policy_without_inline_scripts(db):
    answer = Client().get("/")
    assert "script-src 'self'" in answer["Content-Security-Policy"]
    assert "unsafe" not in answer["Content-Security-Policy"]
    assert answer["X-Frame-Options"] == "DENY"


def test_the_reference_names_no_other_host(db):
    page = Client().get(V1 + "/docs").content.decode()
    assert "://" not in page.replace("http://testserver", "")
