"""Commands that look at what went out, what came in, and who a bill is from."""

import json

import pytest

from tests.cli.test_records_on_screen import DETAIL, veridox  # noqa: F401 - a fixture
from veridox.cli.typed import typed_changes

RUN = {"id": 4, "state": "done", "problem": "", "done": 9, "total": 9}
ACCOUNTED = {
    "mailbox": "", "since": "2026-11-21", "until": "2026-11-28", "good": True, "problems": [],
    "counted_at": "2026-11-28T12:00:00Z", "totals": {"taken in": 9, "lost": 0},
    "refused_before": [{"mailbox": "ap", "folder": "INBOX", "condition": "subject", "count": 5}],
}  # fmt: skip
ROW = {
    "id": 1, "source": "directory post", "folder": "", "sender": "", "subject": "a.pdf",
    "received_at": "2026-11-28T12:00:00Z", "stands": "lost", "outcome": "", "message": None,
    "file": 3, "why": "its original is missing from the store",
}  # fmt: skip


@pytest.mark.parametrize(("good", "code", "said"), [
    (True, 0, "Everything is accounted for."), (False, 1, "NOT everything is accounted for."),
])  # fmt: skip
def test_the_report_of_everything_is_told_and_is_the_exit_code(veridox, good, code, said):  # noqa: F811
    totals = {"taken in": 9, "lost": 0 if good else 1}
    veridox.answers["/reports/runs"] = {**RUN, "result": {**ACCOUNTED, "good": good,
                                                          "totals": totals}}  # fmt: skip
    veridox.answers["/reports/runs/4/rows"] = {"results": [ROW], "next": None}
    done = veridox("report", "accounted")
    assert done.exit_code == code
    assert said in done.output
    assert "Everything that came in" in done.output
    assert "besides 5 of ap, INBOX, that did not meet subject" in done.output
    assert ("its original is missing" in done.output) is not good


def test_a_report_that_failed_says_why(veridox):  # noqa: F811
    veridox.answers["/reports/runs"] = {**RUN, "state": "failed", "problem": "nobody answers"}
    done = veridox("report", "accounted", "ap-inbox")
    assert done.exit_code == 1
    assert "nobody answers" in str(done.exception)


def test_a_head_is_kept_and_handed_in_again(veridox, tmp_path):  # noqa: F811
    head = {"number": 9, "seal": "s", "mark": "m", "at": "2026-11-28T12:00:00+00:00"}
    veridox.answers["/trail/head"] = head
    file = tmp_path / "head.json"
    assert "keep it on another machine" in veridox("trail", "head", str(file)).output
    assert json.loads(file.read_text()) == head
    result = {"entries": 9, "head": "s", "good": True, "problems": [], "compared": [9]}
    veridox.answers["/reports/runs"] = {**RUN, "result": result}
    assert "entries 9" in veridox("trail", "verify", "--head", str(file)).output
    file.write_text("no head")
    refused = veridox("trail", "verify", "--head", str(file))
    assert refused.exit_code == 2
    assert "is no head" in refused.output


def test_without_a_head_it_is_said_that_a_cut_would_not_show(veridox):  # noqa: F811
    result = {"entries": 9, "head": "s", "good": True, "problems": [], "compared": []}
    veridox.answers["/reports/runs"] = {**RUN, "result": result}
    assert "a cut at the end would not show" in veridox("trail", "verify").output


def test_refused_letters_are_listed_with_what_the_server_said(veridox):  # noqa: F811
    veridox.answers["/notices"] = {"results": [{
        "id": 13, "prepared_at": "2026-11-28T12:00:00Z", "event": "returned", "state": "failed",
        "recipient": "a@b.example", "channel": "", "subject": "Please correct", "text": "",
        "document": 3, "problem": "550 no such mailbox",
    }], "next": None}  # fmt: skip
    said = veridox("notice", "list", "--state", "failed").output
    for part in ("13", "letter", "a@b.example", "550 no such mailbox"):
        assert part in said


@pytest.mark.parametrize(("held", "code"), [(None, 0), ("2026-11-28T12:00:00Z", 1)])
def test_a_held_installation_is_told_and_is_the_exit_code(veridox, held, code):  # noqa: F811
    veridox.answers["/service"] = {
        "held_since": held, "held_reason": "restored elsewhere" if held else "", "troubles": [],
    }  # fmt: skip
    veridox.answers["/health"] = {"good": not held, "parts": {"database": "good"}}
    done = veridox("service", "status")
    assert done.exit_code == code
    assert ("HELD since" in done.output) is bool(held)


def test_an_import_tells_what_somebody_should_look_at(veridox, tmp_path):  # noqa: F811
    table = tmp_path / "v.csv"
    table.write_text("code,name\nV1,x\n")
    veridox.answers["/vendors/import"] = {
        "imported": 0, "rows": 2, "new": 1, "changed": 1, "same": 0, "preview": True,
        "held": 0, "aside": [], "form": "CSV, UTF-8", "more_changes": 0, "load": 4,
        "sha256": "ab" * 32,
        "changes": [{"line": 2, "key": "V1", "column": "blocked", "before": "yes", "after": "no",
                     "told": "unblocked"}],
    }  # fmt: skip
    said = veridox("vendor", "import", str(table), "--preview").output
    assert "would import 2 vendors: 1 new, 1 changed, 0 as before" in said
    assert "unblocked" in said
    assert "nothing was kept" in said


@pytest.mark.parametrize(("given", "parts"), [
    (["gross_total=1.234"], ["1,234 EUR or 1.234", "more decimals than EUR"]),
    (["gross_total=12.345,678"], ["12345.678 has 3 decimals", "EUR have 2"]),
    (["issue_date=31.02.2026", "grss_total=1", "net_total=abc"],
     ["issue_date:", "grss_total: unknown field; did you mean gross_total?", "net_total:"]),
    (["lines[9].amount=1.00", "lines[1].ordr_number=PO-1", "lines[1].amount=abc"],
     ["lines[9].amount: there is no line 9; there are", "lines[1].amount:",
      "lines[1].ordr_number: unknown cell; did you mean order_number?"]),
])  # fmt: skip
def test_all_mistakes_of_a_correction_are_told_at_once_and_nothing_is_sent(veridox, given, parts):  # noqa: F811
    fields = DETAIL["reading"]["fields"]
    currency = {**fields["gross_total"], "value": "EUR", "text": "EUR"}
    reading = {**DETAIL["reading"], "fields": {**fields, "currency": currency}}
    veridox.answers["/documents/3"] = {**DETAIL, "reading": reading}
    done = veridox("document", "set", "3", *given)
    assert done.exit_code == 1
    assert "nothing was changed" in done.output
    assert all(part in done.output for part in parts), done.output


def test_a_cell_of_a_line_is_set_and_all_others_stay():
    line = {"description": {"value": "Squid"}, "quantity": {"value": "4"},
            "amount": {"value": {"amount": "155.00", "currency": "GBP"}}}  # fmt: skip
    given = {"lines[2].order_number": "PO-26-0104", "lines[1].quantity": "", "number": "X-1",
             "lines[2].amount": "1,200.50 GBP"}  # fmt: skip
    found = typed_changes(given, {"fields": {}, "lines": [line, line]})
    assert found == {
        "fields": {"number": "X-1"},
        "lines": [
            {"was": 1, "description": "Squid", "amount": {"amount": "155.00", "currency": "GBP"}},
            {"was": 2, "description": "Squid", "quantity": "4", "order_number": "PO-26-0104",
             "amount": {"amount": "1200.50", "currency": "GBP"}},
        ],
    }  # fmt: skip
