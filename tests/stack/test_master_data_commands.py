"""Master data by command: previews, files that are another, who may let what hold, syncs."""

import json

import pytest

from tests.stack.test_command_line import veridox  # noqa: F401 - a fixture

pytestmark = pytest.mark.stack
HEAD = "code,name,country,email\n"


@pytest.fixture
def second(running, veridox):  # noqa: F811
    """The token of another administrator."""
    password = running.stack.secret("eva")
    made = veridox(
        "token", "create", "evas", "--person", "eva", "--scope", "read", "--scope", "accept",
        "--json", given=password + "\n",
    )  # fmt: skip
    return json.loads(made)["token"]


def test_a_preview_is_of_one_file_and_keeps_nothing(running, veridox, tmp_path):  # noqa: F811
    table = tmp_path / "v.csv"
    table.write_text(HEAD + "V8101,Ebbstone Marine Ltd,GB,bills@ebbstone.example\n")
    said = veridox("vendor", "import", str(table), "--preview")
    assert "would import 1 vendors: 1 new, 0 changed, 0 as before" in said
    sha256 = said.rsplit("--expects ", 1)[1].strip()
    assert "V8101" not in veridox("vendor", "list")
    table.write_text(HEAD + "V8101,Ebbstone Maritime Ltd,GB,bills@ebbstone.example\n")
    refused = veridox("vendor", "import", str(table), "--expects", sha256, code=1)
    assert "is not the file that was looked at" in refused
    assert "V8101" not in veridox("vendor", "list")


def test_mistakes_are_told_by_row_and_written_to_a_file(veridox, tmp_path):  # noqa: F811
    table, fates = tmp_path / "v.csv", tmp_path / "fates.csv"
    table.write_text(HEAD + "V8111,Good Ltd,GB,\nV8112,Bad Ltd,Atlantis,\n,Nameless,GB,\n")
    said = veridox("vendor", "import", str(table), "--problems", str(fates), code=1)
    assert "row 3, country" in said
    assert "row 4, code" in said
    rows = fates.read_text("utf-8-sig").splitlines()
    assert len(rows) == 4
    assert "V8111" in rows[1]
    assert rows[2].startswith("3,V8112,wrong,country") or "country is longer" in rows[2]
    assert "V8111" not in veridox("vendor", "list")


def test_what_is_held_is_let_hold_by_somebody_else(veridox, second, tmp_path):  # noqa: F811
    table = tmp_path / "v.csv"
    table.write_text(HEAD + "V8121,Ottermoor Ltd,GB,old@ottermoor.example\n")
    assert "1 with a part that waits for a second person" in veridox("vendor", "import", str(table))
    table.write_text(HEAD + "V8121,Ottermoor Ltd,GB,new@ottermoor.example\n")
    veridox("vendor", "import", str(table))
    (held,) = json.loads(veridox("vendor", "held", "--vendor", "V8121", "--json"))
    assert (held["before"], held["after"]) == ("", "new@ottermoor.example")  # not the old one
    own = veridox("vendor", "accept", str(held["id"]), code=1)
    assert "a second person accepts it" in own
    assert json.loads(veridox("vendor", "show", "V8121", "--json"))["email"] == ""
    said = veridox("vendor", "accept", str(held["id"]), "--reason", "called them", token=second)
    assert "1 change holds now" in said
    shown = json.loads(veridox("vendor", "show", "V8121", "--json"))
    assert shown["email"] == "new@ottermoor.example"


def test_headings_of_ones_own_are_saved_and_used(veridox, tmp_path):  # noqa: F811
    table = tmp_path / "v.csv"
    table.write_text("Supplier no.;Name 1;Land\nV8131;Tidegate Ltd;GB\n")
    veridox("mapping", "save", "house", "vendors", "--column", "Supplier no.=code",
            "--column", "Name 1=name", "--column", "Land=country")  # fmt: skip
    assert "Supplier no. = code" in veridox("mapping", "list")
    veridox("vendor", "import", str(table), "--mapping", "house")
    assert "Tidegate Ltd" in veridox("vendor", "show", "V8131")
    veridox("mapping", "forget", "house")
    assert "house" not in veridox("mapping", "list")


def test_a_sync_tells_what_changed_and_how_fresh_it_is(veridox):  # noqa: F811
    said = veridox("vendor", "sync", "main-books", "--whole")
    assert "23" in said
    standing = json.loads(veridox("load", "standing", "--json"))
    assert {row["what"] for row in standing} == {
        "entities", "vendors", "orders", "receipts", "items", "gl-accounts",
        "cost-centres", "tax-codes", "projects", "cards", "rates", "books",
    }  # fmt: skip
    assert all(row["fresh"] for row in standing)
    newest = json.loads(veridox("load", "list", "--what", "vendors", "--limit", "1", "--json"))[0]
    assert (newest["how"], newest["state"], newest["changed"]) == ("sync", "done", 0)
    assert "no ledger" in veridox("vendor", "sync", "nowhere", code=1)
