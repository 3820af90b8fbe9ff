"""The command line against the running service."""

import json
import os
import subprocess
import sys
from dataclasses import replace
from decimal import Decimal

import pytest

from demo.drawing import LAYOUTS
from tests.conftest import mail_with
from tests.stack.running import until

pytestmark = pytest.mark.stack


@pytest.fixture
def veridox(running):
    def run(*arguments, code=0, given="", token=running.token):
        done = subprocess.run(
            [sys.executable, "-m", "veridox.cli.main", "--url", running.stack.url, *arguments],
            env={**os.environ, "VERIDOX_TOKEN": token},
            capture_output=True, text=True, input=given,
        )  # fmt: skip
        assert done.returncode == code, done.stderr + done.stdout
        assert "Traceback" not in done.stderr
        return done.stdout if code == 0 else done.stdout + done.stderr

    return run


@pytest.fixture
def waiting(running, fresh_bill):
    """A document at the desk whose total is 60.00 too high."""
    wrong = replace(fresh_bill, gross_slip=Decimal("60.00"))
    running.send(mail_with(wrong))
    return until(
        lambda: (d := running.document(wrong.number)) and d.state == "at_desk" and d, "the desk"
    )


def test_a_document_is_seen_corrected_and_posted_by_commands_alone(
    running, veridox, waiting, fresh_bill
):
    number = waiting.number
    assert number in veridox("desk", "list")
    shown = veridox("document", "show", str(waiting.id))
    assert "60.00 GBP too high" in shown
    assert "gross_total" in shown
    refused = veridox("document", "set", str(waiting.id), "gross_total=abc", code=1)
    assert "gross_total:" in refused
    veridox("document", "set", str(waiting.id), f"gross_total={fresh_bill.gross}", "--note", "slip")
    running.posted(number)
    history = veridox("document", "history", str(waiting.id))
    assert f"{fresh_bill.gross + 60} GBP -> {fresh_bill.gross} GBP" in history
    assert "document.posted" in history
    assert "\tdone\t" in veridox("mail", "list", "--search", number) or until(
        lambda: "\tdone\t" in veridox("mail", "list", "--search", number), "done"
    )


def test_why_a_document_waits_is_told_and_its_file_is_read_anew(running, veridox, waiting):
    number = str(waiting.id)
    told = veridox("document", "why", number)
    assert "60.00 GBP too high" in told
    assert "-> at desk, queue exceptions" in told
    after = veridox("document", "again", number, "--from", "read", "--newest", "--reason", "anew")
    assert f"document {number} is received" in after
    until(lambda: running.vx.documents.get(waiting.id).state == "at_desk", "the desk again")
    assert "read again" in str(running.vx.documents.history(waiting.id)["readings"])
    assert veridox("document", "why", number, "--all").count("-> at desk") == 2
    assert "document.read_again" in veridox("document", "history", number)


def test_what_is_posted_is_not_processed_again(running, veridox, fresh_bill):
    running.send(mail_with(fresh_bill))
    document = running.posted(fresh_bill.number)
    refused = veridox("document", "again", str(document.id), "--from", "check", code=1)
    assert f"stands in the ledger as {document.posting.number}" in refused


def test_a_rule_is_tried_on_a_document(veridox, waiting):
    source, number = "sum(line.amount for line in lines) == net_total", str(waiting.id)
    assert veridox("rule", "try", source, "--document", number).strip().endswith(": yes")
    wrong = veridox("rule", "try", "gross_totl > 1 GBP", "--document", number, code=1)
    assert "^ unknown name 'gross_totl' (did you mean gross_total?)" in wrong


def test_an_old_version_is_refused_with_a_clear_word(veridox, waiting):
    said = veridox("document", "set", str(waiting.id), "gross_total=1", "--version", "1", code=1)
    assert "changed since you looked" in said


def test_posting_needs_a_reason_and_discarding_ends_it(veridox, waiting):
    assert "give a reason" in veridox("desk", "post", str(waiting.id), code=1)
    said = veridox("desk", "discard", str(waiting.id), "--reason", "sent in error")
    assert "is discarded" in said
    assert "sent in error" in veridox("document", "show", str(waiting.id))


def test_an_upload_waits_for_its_posting(veridox, fresh_bill, tmp_path):
    path = tmp_path / "bill.pdf"
    path.write_bytes(LAYOUTS["letterhead"](fresh_bill))
    said = veridox("document", "upload", str(path), "--pipeline", "supplier-invoices", "--wait")
    assert "posted" in said
    assert "BL-" in said


def test_a_folder_is_uploaded_whole_whatever_is_in_it(veridox, fresh_bill, tmp_path):
    (tmp_path / "a-good.pdf").write_bytes(LAYOUTS["band"](fresh_bill))
    (tmp_path / "b-empty.pdf").write_bytes(b"")
    (tmp_path / "c-cut.pdf").write_bytes(LAYOUTS["band"](fresh_bill)[:600])
    (tmp_path / "d-note.txt").write_text("hello")
    said = veridox("document", "upload", str(tmp_path), "--pipeline", "supplier-invoices", "--wait")
    for part in ("posted", "0 bytes", "damaged or cut off", "text/plain"):
        assert part in said


def test_lists_speak_json(veridox):
    for command in (["vendor", "list"], ["order", "list"], ["entity", "list"],
                    ["pipeline", "list"], ["connection", "list"], ["token", "list"],
                    ["mail", "list"], ["document", "list"], ["trail", "show"]):  # fmt: skip
        assert isinstance(json.loads(veridox(*command, "--json")), list), command


def test_a_connection_is_tried_step_by_step(veridox):
    said = veridox("connection", "test", "ap-inbox")
    assert "certificate checked" in said
    assert "IDLE" in said


def test_a_wrong_password_is_told_at_its_step(veridox, running):
    port = str(running.stack.ports.imap)
    ca = str(running.stack.dovecot.ca_file)
    veridox(
        "connection", "add", "wrong-word", "mailbox", "host=127.0.0.1", f"port={port}",
        "user=ap", f"ca_file={ca}", "--secret", given="not the password\n",
    )  # fmt: skip
    said = veridox("connection", "test", "wrong-word", code=1)
    assert "FAILED  sign in" in said
    assert "not the password" not in said


def test_an_untrusted_certificate_is_refused(veridox, running):
    port = str(running.stack.ports.imap)
    veridox("connection", "add", "no-ca", "mailbox", "host=127.0.0.1", f"port={port}", "user=ap",
            "--secret", given="x\n")  # fmt: skip
    assert "certificate" in veridox("connection", "test", "no-ca", code=1)


def test_a_token_is_made_used_and_revoked(veridox, running):
    made = json.loads(veridox("token", "create", "short", "--scope", "read", "--json"))
    env = {**os.environ, "VERIDOX_TOKEN": made["token"]}
    command = [sys.executable, "-m", "veridox.cli.main", "--url", running.stack.url]
    listing = [*command, "vendor", "list"]
    assert subprocess.run(listing, env=env, capture_output=True).returncode == 0
    veridox("token", "revoke", str(made["id"]))
    after = subprocess.run(listing, env=env, capture_output=True, text=True)
    assert after.returncode == 1
    assert "expired or revoked" in after.stderr


def test_the_first_token_is_made_with_name_and_password(veridox, running):
    password = running.stack.secret("admin")
    said = veridox("token", "create", "first", "--person", "ada", given=password + "\n")
    assert said.startswith("vdx_")
    refused = veridox("token", "create", "x", "--person", "ada", given="wrong\n", code=1)
    assert "not right" in refused


def test_the_trail_is_verified(veridox):
    assert "nothing was changed" in veridox("trail", "verify")
