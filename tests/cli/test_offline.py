"""Commands that need no service."""

import csv
import io
import json
import subprocess
import sys
from pathlib import Path

import pytest
from click.testing import CliRunner

from demo import bills
from demo.drawing import LAYOUTS
from veridox.cli.main import cli

PIPELINE = Path("demo/pipelines/supplier-invoices.pipeline.yaml")


def run(*arguments):
    return CliRunner().invoke(cli, [str(each) for each in arguments])


@pytest.fixture
def krill(tmp_path):
    path = tmp_path / "krill.pdf"
    path.write_bytes(LAYOUTS["letterhead"](bills.KRILL))
    return path


@pytest.fixture
def slip(tmp_path):
    path = tmp_path / "slip.pdf"
    path.write_bytes(LAYOUTS["band"](bills.SALT_SLIP))
    return path


def test_a_pdf_is_read_as_a_table(krill):
    done = run("read", krill)
    assert done.exit_code == 0
    assert "gross_total\t1220.40 GBP" in done.output
    assert "Frozen krill, 2 kg block" in done.output


def test_json_is_one_list_for_all_files(krill, slip):
    done = run("read", "--json", krill, slip)
    documents = json.loads(done.stdout)
    assert [each["fields"]["number"]["value"] for each in documents] == [
        "BF-2026-0413", "SG/10442",
    ]  # fmt: skip
    assert documents[1]["findings"][0]["code"] == "total.sum"


def test_what_does_not_add_up_is_told_and_exits_with_one(slip):
    done = run("read", slip)
    assert done.exit_code == 1
    assert "60.00 GBP too high" in done.output


def test_a_broken_file_is_told_and_the_others_are_read(krill, tmp_path):
    (tmp_path / "cut.pdf").write_bytes(krill.read_bytes()[:500])
    (tmp_path / "empty.pdf").write_bytes(b"")
    done = run("read", tmp_path)
    assert done.exit_code == 1
    assert "damaged or cut off" in done.output
    assert "0 bytes" in done.output
    assert "BF-2026-0413" in done.output


def test_csv_cells_cannot_become_formulas(krill):
    rows = list(csv.DictReader(io.StringIO(run("read", "--csv", krill).stdout)))
    assert {row["field"] for row in rows} >= {"number", "gross_total"}
    assert all(row["value"][:1] not in "=+-@" for row in rows)


def test_text_and_words_of_the_pages(krill):
    assert "Brinefold Feeds Ltd" in run("read", "--text", krill).stdout
    assert any(
        line.endswith("\tBF-2026-0413")
        for line in run("read", "--words", krill).stdout.splitlines()
    )


def test_a_picture_shows_what_was_read(krill, tmp_path):
    picture = tmp_path / "seen.png"
    assert run("read", krill, "--picture", picture).exit_code == 0
    assert picture.read_bytes().startswith(b"\x89PNG")


def test_a_good_pipeline_is_good():
    done = run("pipeline", "check", PIPELINE)
    assert (done.exit_code, done.output.strip().endswith("is good")) == (0, True)


def test_each_problem_of_a_pipeline_is_told_as_file_line_column(tmp_path):
    path = tmp_path / "bad.pipeline.yaml"
    path.write_text(PIPELINE.read_text().replace("mailbox:", "mailbx:"))
    done = run("pipeline", "check", path)
    assert done.exit_code == 1
    assert f"{path}:7:5: unknown key 'mailbx' (did you mean mailbox?)" in done.output


@pytest.mark.parametrize("arguments", [
    ("read",), ("read", "/no/such/file.pdf"), ("nonsense",), ("document", "show", "x"),
    ("desk", "discard", "3"),
])  # fmt: skip
def test_wrong_usage_exits_with_two(arguments):
    done = subprocess.run(
        [sys.executable, "-m", "veridox.cli.main", *arguments], capture_output=True, text=True
    )
    assert done.returncode == 2
    assert done.stderr
    assert "Traceback" not in done.stderr


def test_a_service_that_cannot_be_reached_exits_with_three():
    done = subprocess.run(
        [sys.executable, "-m", "veridox.cli.main", "--url", "http://127.0.0.1:9", "mail", "list"],
        capture_output=True, text=True,
    )  # fmt: skip
    assert done.returncode == 3
    assert "Is the service running?" in done.stderr
