import json

import pytest

from veridox.cli.documents import brief
from veridox.cli.output import moment, print_json, print_table, sure
from veridox.cli.records import plain


def test_foreign_text_cannot_steer_the_terminal(capsys):
    print_table(("name",), [("\x1b[2Jgone\x07\r\nnext",)])
    out = capsys.readouterr().out
    assert "\x1b" not in out
    assert out.count("\n") == 2


def test_piped_tables_are_tab_separated_and_empty_cells_stay_empty(capsys):
    assert print_table(("a", "b"), [(1, None), ("x", "y")]) == 2
    assert capsys.readouterr().out == "a\tb\n1\t\nx\ty\n"


def test_json_keeps_umlauts(capsys):
    print_json({"name": "Prüfung"})
    out = capsys.readouterr().out
    assert "Prüfung" in out
    assert json.loads(out) == {"name": "Prüfung"}


@pytest.mark.parametrize(("confidence", "shown"), [
    (1.0, "100.0 %"), (0.9999, "99.9 %"), (0.9504, "95.0 %"), (0.0, "0.0 %"),
])  # fmt: skip
def test_nothing_looks_surer_than_it_is(confidence, shown):
    assert sure(confidence) == shown


@pytest.mark.parametrize(("text", "shown"), [
    ("1148.4000", "1,148.40"), ("0.333000", "0.333"), ("12", "12.00"),
])  # fmt: skip
def test_amounts_are_shown_with_what_digits_they_have(text, shown):
    assert plain(text) == shown


def test_a_moment_that_is_not_there_is_blank():
    assert moment(None) == ""
    assert moment("2026-11-23T08:00:00Z").startswith("2026-11-23")


def test_details_are_brief_and_show_changes_as_old_and_new():
    said = brief({
        "note": "slip", "empty": "", "findings": ["total.sum (block)"],
        "changes": {"gross_total": [{"amount": "2.00", "currency": "GBP"},
                                    {"amount": "1.00", "currency": "GBP"}],
                    "due_date": [None, "2026-12-05"]},
    })  # fmt: skip
    assert said == (
        "changes: gross_total 2.00 GBP -> 1.00 GBP; due_date nothing -> 2026-12-05; "
        "note: slip; findings: total.sum (block)"
    )
