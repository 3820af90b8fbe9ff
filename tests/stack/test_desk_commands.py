"""The desk's acts, people and exports by the command line, against the running service."""

import json
from datetime import timedelta

import pytest
from django.utils import timezone

from tests.stack.running import until
from tests.stack.test_command_line import veridox, waiting  # noqa: F401 - fixtures

pytestmark = pytest.mark.stack


def test_taking_giving_and_who_has_it(running, veridox, waiting):  # noqa: F811
    number = str(waiting.id)
    veridox("person", "create", "nils", "--name", "Nils Ost", given="a long enough word\n")
    assert "is with ada" in veridox("desk", "take", number)
    assert "is with nils" in veridox("desk", "take", number, "--for", "nils", "--over")
    refused = veridox("document", "set", number, "gross_total=735.12", code=1)
    assert "nils works on document" in refused
    assert waiting.number in veridox("desk", "list", "--taken-by", "nils")
    assert "nils works on 1" in veridox("desk", "waiting")
    veridox("desk", "take", number, "--over")
    assert "is free" in veridox("desk", "release", number)
    listed = veridox("person", "list")
    assert "Nils Ost" in listed
    assert "may not sign in" in veridox("person", "change", "nils", "--inactive")
    assert "at least 10" in veridox("person", "create", "emil", given="short\n", code=1)


def test_holding_commenting_and_what_comes_back(veridox, waiting):  # noqa: F811
    number, day = str(waiting.id), (timezone.localdate() + timedelta(days=2)).isoformat()
    said = veridox("desk", "hold", number, "--until", day, "--reason", "credit note")
    assert f"on hold until {day}" in said
    assert waiting.number in veridox("desk", "list", "--held")
    assert waiting.number not in veridox("desk", "list")
    assert "back in the list" in veridox("desk", "hold", number, "--end")
    veridox("desk", "comment", number, "asked by phone")
    assert "asked by phone" in veridox("document", "history", number)
    veridox("desk", "discard", number, "--reason", "by mistake")
    assert "at_desk" in veridox("desk", "reopen", number)
    assert "either --until" in veridox("desk", "hold", number, code=2)


def test_a_return_shows_its_letter_first(running, veridox, waiting, tmp_path):  # noqa: F811
    number = str(waiting.id)
    shown = veridox("desk", "return", number, "--show")
    assert shown.startswith("To: office@quillfin.example\nSubject: Please correct invoice")
    assert "60.00 GBP too high" in shown
    letter = tmp_path / "letter.txt"
    letter.write_text("Dear Quillfin, the sum is wrong.")
    said = veridox("desk", "return", number, "--to", "ap-team@merrowmere.example",
                   "--text-file", str(letter))  # fmt: skip
    assert "is on its way to ap-team@merrowmere.example" in said
    until(lambda: running.mails("INBOX", f"correct invoice {waiting.number}", "ap-team"), "mail")


def test_lists_become_files(veridox, waiting, tmp_path):  # noqa: F811
    table, book, trail = (tmp_path / name for name in ("d.csv", "d.xlsx", "t.csv"))
    veridox("document", "export", str(table), "--search", waiting.number)
    head, *rows = table.read_text("utf-8-sig").splitlines()
    assert head.startswith("Document,State,Queue")
    assert len(rows) == 1
    veridox("document", "export", str(book), "--columns", "number,gross_total")
    assert book.read_bytes()[:2] == b"PK"
    veridox("trail", "export", str(trail), "--act", "document.checked")
    assert "document.checked" in trail.read_text("utf-8-sig")
    assert "ends in .csv or .xlsx" in veridox("document", "export", "x.pdf", code=2)
    assert json.loads(veridox("desk", "waiting", "--json"))["count"] >= 1
