"""How lists and records look, from answers of a service that is not there."""

import httpx
import pytest
from click.testing import CliRunner

from tests.client.test_resources import ROW
from veridox.cli import session
from veridox.cli.main import cli
from veridox.client import Veridox

EVENT = {
    "at": "2026-11-23T08:00:00Z", "actor": "person:ada", "act": "document.discarded",
    "subject": "document", "subject_id": "3", "details": {"reason": "sent twice"},
}  # fmt: skip
FIELD = {
    "text": "12,50",
    "page": 1,
    "box": None,
    "confidence": 0.9996,
    "origin": "ocr",
    "others": [],
}
READING = {
    "document": {"kind": "invoice", "language": "de"},
    "fields": {"gross_total": {**FIELD, "value": {"amount": "12.50", "currency": "EUR"}}},
    "lines": [{"quantity": {**FIELD, "value": "2"}}],
}
DETAIL = {
    **ROW, "message": None, "entity": None, "end_reason": "", "reading": READING,
    "posting": {"id": "p", "state": "posted", "number": "BL-1", "link": "http://f/1",
                "problem": ""},
}  # fmt: skip


@pytest.fixture
def veridox(monkeypatch):
    """Runs a command against answers by path."""
    answers = {}

    def answer(request):
        path = request.url.path.removeprefix("/api/v1")
        if path not in answers:
            return httpx.Response(404, json={"detail": f"nothing at {path}"})
        return httpx.Response(200, json=answers[path])

    transport = httpx.MockTransport(answer)
    monkeypatch.setattr(
        session, "Veridox", lambda url, token: Veridox(url, token=token, transport=transport)
    )

    def run(*arguments, **given):
        answers.update({path.replace("__", "/"): data for path, data in given.items()})
        return CliRunner().invoke(cli, list(arguments))

    run.answers = answers
    return run


def page(*rows):
    return {"results": list(rows), "next": None}


def rows_of(output):
    return [line.split("\t") for line in output.splitlines()]


def test_a_waiting_document_shows_its_reason(veridox):
    veridox.answers["/documents"] = page({**ROW, "posting": None})
    (_, row) = rows_of(veridox("document", "list").output)
    assert row == ["3", "at_desk", "invoice", "A-1", "Salt Ltd", "12.50 GBP", "", "why"]


def test_a_posted_document_shows_the_ledgers_number(veridox):
    veridox.answers["/documents"] = page({**DETAIL, "state": "posted", "reasons": []})
    assert rows_of(veridox("document", "list").output)[1][-1] == "BL-1"


def test_a_held_up_document_shows_what_holds_it_up(veridox):
    posting = {**DETAIL["posting"], "number": "", "state": "unsure", "problem": "no answer"}
    veridox.answers["/documents"] = page({**ROW, "state": "cleared", "posting": posting})
    assert rows_of(veridox("document", "list").output)[1][-1] == "no answer"


def test_a_document_without_a_number_shows_its_file(veridox):
    veridox.answers["/desk"] = page({**ROW, "number": "", "posting": None})
    assert rows_of(veridox("desk", "list").output)[1][3] == "(a.pdf)"


def test_a_limit_stops_the_list(veridox):
    veridox.answers["/documents"] = page(*({**ROW, "id": n, "posting": None} for n in range(5)))
    assert len(rows_of(veridox("document", "list", "--limit", "2").output)) == 3


def test_one_document_shows_findings_values_and_lines(veridox):
    veridox.answers["/documents/3"] = DETAIL
    said = veridox("document", "show", "3").output
    for part in ("block: m [total.sum]", "gross_total\t12.50 EUR\t1\t99.9 %\tocr\t12,50",
                 "line\tquantity", "BL-1", "http://f/1"):  # fmt: skip
        assert part in said
    assert "held up by" not in said


def test_a_story_shows_who_did_what_and_why(veridox):
    veridox.answers["/documents/3/history"] = {"events": [EVENT], "readings": []}
    said = veridox("document", "history", "3").output
    assert "person:ada\tdocument.discarded\treason: sent twice" in said


@pytest.mark.parametrize(("good", "code", "said"), [
    (True, 0, "nothing was changed"), (False, 1, "the trail does not hold"),
])  # fmt: skip
def test_the_trails_verdict_is_told_and_is_the_exit_code(veridox, good, code, said):
    problems = [] if good else ["entry 2 was changed after it was written"]
    veridox.answers["/reports/runs"] = {
        "id": 4, "state": "done", "problem": "", "done": 9, "total": 9,
        "result": {"entries": 9, "head": "abc", "good": good, "problems": problems, "compared": []},
    }  # fmt: skip
    done = veridox("trail", "verify")
    assert done.exit_code == code
    assert said in done.output
    assert all(problem in done.output for problem in problems)


def test_a_failed_step_of_a_connection_is_the_exit_code(veridox):
    veridox.answers["/connections/books/test"] = {
        "name": "books", "good": False,
        "steps": [{"name": "reach", "good": True, "detail": "x"},
                  {"name": "sign in", "good": False, "detail": "HTTP 401"}],
    }  # fmt: skip
    done = veridox("connection", "test", "books")
    assert done.exit_code == 1
    assert "FAILED  sign in: HTTP 401" in done.output


def test_a_mail_shows_its_files_and_what_became_of_them(veridox):
    veridox.answers["/messages/7"] = {
        "id": 7, "sender_name": "Salt", "sender_address": "a@salt.example",
        "recipients": ["ap@m.example"],
        "subject": "Invoice\x1b[2J", "received_at": "2026-11-23T08:00:00Z", "taken_at": None,
        "mailbox": "ap", "folder": "Done", "repeat_of": None, "message_id": "x", "defects": [],
        "text": "hello", "forwarded": None, "kind": "letter", "kind_reason": "", "outcome": "done",
        "aside_reason": "", "handed_in_by": "", "links": [],
        "parts": [{"path": "2.1", "media_type": "image/png", "size": 7, "became": "left out"}],
        "files": [{"id": 9, "name": "a.png", "media_type": "image/png", "outcome": "left out",
                   "within": ["bills.zip"], "documents": [], "reason": "small"}],
    }  # fmt: skip
    said = veridox("mail", "show", "7").output
    assert "9\ta.png in bills.zip\timage/png\tleft out\t\tsmall" in said
    assert "2.1" not in said
    assert "2.1\timage/png\t7\tleft out" in veridox("mail", "show", "7", "--parts").output
    assert "\x1b" not in said
    assert "taken in" not in said


def test_an_assignment_without_a_sign_is_wrong_usage(veridox):
    done = veridox("document", "set", "3", "gross_total")
    assert done.exit_code == 2
    assert "write FIELD=VALUE" in done.output
