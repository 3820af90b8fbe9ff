"""`veridox pipeline` without a service: check, schema, try; and what of it is no use."""

import json
import subprocess
from pathlib import Path

import pytest
from click.testing import CliRunner

from demo import samples
from veridox.cli.main import cli
from veridox.cli.pipeline_files import commit_of, pipeline_file

PIPELINE = Path("demo/pipelines/supplier-invoices.pipeline.yaml").absolute()
TEXT = PIPELINE.read_text()


def run(*arguments):
    return CliRunner().invoke(cli, ["pipeline", *(str(each) for each in arguments)])


@pytest.fixture(scope="module")
def sampled(tmp_path_factory):
    folder = tmp_path_factory.mktemp("samples")
    samples.write(folder)
    return folder


def written(tmp_path, text, name="a.pipeline.yaml"):
    path = tmp_path / name
    path.write_text(text)
    return path


def test_warnings_are_told_and_do_not_fail(tmp_path):
    done = run("check", written(tmp_path, TEXT.replace("risk > 10 %", "risk >= 0 %")))
    assert done.exit_code == 0
    assert ":29:12: warning: this condition always holds" in done.output
    assert "is good, 1 warning" in done.output


def test_problems_and_warnings_as_json(tmp_path):
    text = TEXT.replace("risk > 10 %", "risk >= 0 %").replace("mailbox:", "mailbx:")
    done = run("check", "--json", written(tmp_path, text))
    found = json.loads(done.stdout)
    assert done.exit_code == 1
    assert found["problems"][0]["hint"].startswith("did you mean mailbox")
    assert found["warnings"][0]["message"] == "this condition always holds"


def test_a_shared_part_is_read_beside_its_file_and_named_in_its_problems(tmp_path):
    path = written(tmp_path, TEXT.replace("title:", "shared:\n  - house\ntitle:"))
    assert "there is no shared part 'house'" in run("check", path).output
    written(tmp_path, "desk:\n  - {when: rsk > 1 %, queue: x}\n", "house.shared.yaml")
    done = run("check", path)
    assert f"{tmp_path / 'house.shared.yaml'}:2:12: unknown name 'rsk'" in done.output
    assert "    2 |   - {when: rsk > 1 %, queue: x}" in done.output


def test_values_of_the_environment_are_given_by_hand(tmp_path):
    text = TEXT.replace("ap-team@merrowmere.example", "=environment.TEAM")
    path = written(tmp_path, text)
    assert "list no value 'TEAM'" in run("check", path).output
    assert run("check", path, "--value", "TEAM=a@b.example").exit_code == 0
    assert "write it as NAME=VALUE" in run("check", path, "--value", "TEAM").output


@pytest.mark.parametrize(("content", "said"), [
    (b"x" * 5_000_000, "5,000,000 bytes; no pipeline is so long"),
    (b"pipeline: \xff\xfe", "not UTF-8 text (byte 10)"), (b"", "the file is empty"),
    (b"a: [" * 3000, "40 deep"), (b"pipeline:\n\tx: 1", "indent with blanks, not with tabs"),
])  # fmt: skip
def test_what_is_no_pipeline_is_told_at_once(tmp_path, content, said):
    path = tmp_path / "a.pipeline.yaml"
    path.write_bytes(content)
    done = run("check", path)
    assert done.exit_code == 1
    assert said in done.output
    assert "Traceback" not in done.output


def test_the_schema_is_json():
    assert json.loads(run("schema").stdout)["required"] == ["pipeline", "collect", "post"]


def test_a_mail_is_walked_through_offline(sampled):
    done = run("try", PIPELINE, "--mail", sampled / "03-does-not-add-up.eml",
               "--facts", sampled / "facts.yaml")  # fmt: skip
    assert done.exit_code == 0, done.output
    for line in (
        "collect ap-inbox INBOX", "  yes  subject: has 'invoice'", "  -> taken",
        "  sg-10442.pdf: read", "  vendor V1002 Saltglass Systems Ltd",
        "It would be: at desk, queue exceptions",
    ):  # fmt: skip
        assert line in done.output.splitlines()
    assert "60.00 GBP too high" in done.output


def test_what_would_be_posted_and_sent_is_shown_whole(sampled):
    done = run("try", PIPELINE, "--json", "--mail", sampled / "01-clean-english.eml",
               "--facts", sampled / "facts.yaml")  # fmt: skip
    (document,) = json.loads(done.stdout)["documents"]
    assert (document["state"], document["bill"]["number"]) == ("cleared", "BF-2026-0413")
    (sent,) = document["sent"]
    assert sent["to"] == "ap-team@merrowmere.example"
    assert "(the ledger's number)" in sent["text"]


def test_it_ends_where_it_is_told_to(sampled):
    mail = sampled / "01-clean-english.eml"
    done = run("try", PIPELINE, "--mail", mail, "--until", "read")
    assert "It would be" not in done.output
    assert "number\tBF-2026-0413" in done.output.replace("  number", "number")
    wrong = run("try", PIPELINE, "--mail", mail, "--until", "nowhere")
    assert "--until is one of read, end, check, wait, desk, post" in wrong.output


@pytest.mark.parametrize(("facts", "said"), [
    ("vendors: [{code: V1}]", "vendors[1] needs 'name'"),
    ("vendrs: []", "unknown key 'vendrs' did you mean vendors?"),
    ("orders: [{number: P, vendor: V, net_total: 5}]", "'5' is no amount"),
    ("vendors: [{code: V, name: N, blocked: maybe}]", "true or false, not 'maybe'"),
    ("- a", "hold lists under vendors"), ("a: [", "are not YAML"), ("vendors: x", "is a list"),
    ("vendors: [{code: V, name: N, taxid: x}]", "did you mean tax_id"),
])  # fmt: skip
def test_facts_that_are_none_are_told_with_their_row(tmp_path, sampled, facts, said):
    done = run("try", PIPELINE, "--mail", sampled / "01-clean-english.eml",
               "--facts", written(tmp_path, facts, "facts.yaml"))  # fmt: skip
    assert done.exit_code == 1
    assert said in done.output


@pytest.mark.parametrize(("more", "said"), [
    ([], "try it on one of"),
    (["--document", "3", "--facts", "F"], "--facts is for trying offline"),
    (["--from-mailbox", "ap-inbox"], "--pick lists them"),
])  # fmt: skip
def test_what_cannot_be_tried_is_told(tmp_path, more, said):
    facts = written(tmp_path, "vendors: []", "facts.yaml")
    done = run("try", PIPELINE, *(str(facts) if each == "F" else each for each in more))
    assert done.exit_code == 2
    assert said in done.output


def test_a_plugin_is_used_where_it_is_named(tmp_path):
    path = written(tmp_path, TEXT.replace("risk > 10 %", "fiscal_year(issue_date) == 2027"))
    assert run("check", path, "--plugin", "house-checks").exit_code == 0
    done = run("check", path, "--plugin", "no-such-package")
    assert "no package with plug-ins is installed under this name" in done.output


def test_the_commit_of_a_file_is_known(tmp_path):
    path = written(tmp_path, TEXT)
    assert commit_of(path) == ""

    def git(*arguments):
        subprocess.run(["git", "-C", str(tmp_path), *arguments], check=True, capture_output=True)

    git("init", "-q")
    git("add", "-A")
    git("-c", "user.email=a@b.example", "-c", "user.name=a", "commit", "-qm", "x")
    commit = pipeline_file(path).commit
    assert len(commit) == 12
    path.write_text(TEXT + "# more\n")
    assert pipeline_file(path).commit == f"{commit} and changes"
