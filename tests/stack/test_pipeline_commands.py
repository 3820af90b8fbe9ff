"""Pipelines by the command line, against the running service: from the file to the last run."""

import json
import re
from functools import partial

import pytest

from demo.drawing import LAYOUTS
from demo.stack import POST
from tests.conftest import mail_with
from tests.stack.test_command_line import veridox, waiting  # noqa: F401 - fixtures
from veridox.client.signin import signed_in

pytestmark = pytest.mark.stack
PASSWORD = "a word long enough"
TEXT = """pipeline: {name}
title: What the post room hands on
run:
  every: 1 day
  parameters:
    ceiling: {{type: money, default: 900 GBP, help: posted unseen up to this}}
collect:
  - mailbox: post-room
    folder: Post/{name}
    only: {{subject: [handed on]}}
desk:
  - {{when: blocked, queue: exceptions}}
  - {{when: risk > {risk} %, queue: unsure}}
  - {{when: gross_total > run.ceiling, queue: large, because: More than is posted unseen.}}
post: {{ledger: main-books}}
"""


@pytest.fixture
def name(running, request):
    """A pipeline's name of this test's own, with the folder that it collects from."""
    found = re.sub(r"[^a-z]+", "-", request.node.name)[-40:].strip("-")
    with running.mailbox(POST) as box:
        box.create(f"Post/{found}")
    yield found
    running.vx.pipelines.remove(found, "the test is over")


@pytest.fixture
def file(tmp_path, name):
    path = tmp_path / f"{name}.pipeline.yaml"

    def written(risk=5, **changes):
        text = TEXT.format(name=name, risk=risk)
        for before, after in changes.items():
            text = text.replace(before, after)
        path.write_text(text)
        return str(path)

    return written


@pytest.fixture
def second(running, veridox):  # noqa: F811
    """Runs commands as another person."""
    if "frieda" not in veridox("person", "list"):
        veridox("person", "create", "frieda", "--name", "Frieda Lind", "--role", "admin",
                given=f"{PASSWORD}\n")  # fmt: skip
    with signed_in(running.stack.url, "frieda", PASSWORD) as browser:
        wanted = {"name": "second", "scopes": ["read", "work", "admin"]}
        token = browser.post("/tokens", wanted)["token"]

    return partial(veridox, token=token)


def test_from_a_file_to_versions_that_differ(veridox, name, file):  # noqa: F811
    first = file(risk=5)
    assert f"{first}: {name} is good" in veridox("pipeline", "check", first, "--here")
    assert f"{name} is published as version 1" in veridox("pipeline", "publish", first)
    # What is the same is no new version; what is stricter runs at once.
    again = json.loads(veridox("pipeline", "publish", first, "--json"))
    assert again["number"] == 1
    said = veridox("pipeline", "publish", file(risk=3))
    assert "desk: risk > 5 %, queue unsure -> nothing" in said
    assert "desk: nothing -> risk > 3 %, queue unsure" in said
    assert f"{name} is published as version 2" in said
    shown = veridox("pipeline", "show", name)
    assert shown == TEXT.format(name=name, risk=3)
    assert "risk > 5 %" in veridox("pipeline", "show", name, "--version", "1")
    compared = veridox("pipeline", "compare", name, "1", "2")
    assert compared.startswith(f"{name}, version 1 -> 2")
    lines = veridox("pipeline", "compare", name, "1", "2", "--lines").splitlines()
    assert [each for each in lines if each[:1] in "+-" and "risk" in each] == [
        "-  - {when: risk > 5 %, queue: unsure}", "+  - {when: risk > 3 %, queue: unsure}",
    ]  # fmt: skip
    assert "They mean the same." in veridox("pipeline", "compare", name, "2", "2")
    listed = next(
        line for line in veridox("pipeline", "list").splitlines() if line.startswith(f"{name}\t")
    )
    assert listed.split("\t")[1:5] == ["2", "running", "nothing", "What the post room hands on"]
    assert "no version 9" in veridox("pipeline", "show", name, "--version", "9", code=1)


def test_what_loosens_waits_for_somebody_else(veridox, second, name, file):  # noqa: F811
    veridox("pipeline", "publish", file(risk=3))
    said = veridox("pipeline", "publish", file(risk=8))
    assert f"{name} version 2 loosens something: it waits for a second person" in said
    assert "version 2 waits for a second person" in veridox("pipeline", "list")
    assert "risk > 3 %" in veridox("pipeline", "show", name)
    refused = veridox("pipeline", "accept", name, "2", code=1)
    assert "loosens what ada published; somebody else looks at it" in refused
    assert f"{name} version 2 is refused" in second("pipeline", "refuse", name, "2",
                                                    "--reason", "too much unseen")  # fmt: skip
    veridox("pipeline", "publish", file(risk=6))
    told = second("pipeline", "accept", name, "3")
    assert f"{name} runs version 3" in told
    assert "loosens:" in told
    rows = {
        line.split("\t")[0]: line.split("\t")
        for line in veridox("pipeline", "versions", name).splitlines()
    }
    assert (rows["2"][1], rows["3"][1]) == ("refused", "published")
    assert "frieda" in rows["2"][-1]
    assert "ada" in rows["3"][3]
    assert "it waits for nobody" in second("pipeline", "accept", name, "3", code=1)


def test_an_older_version_comes_back_as_the_newest(veridox, second, name, file):  # noqa: F811
    for risk in (8, 3):
        veridox("pipeline", "publish", file(risk=risk))
    brought = veridox("pipeline", "bring-back", name, "1")
    assert f"{name} version 3 is as version 1: it loosens something and waits" in brought
    second("pipeline", "accept", name, "3")
    assert "risk > 8 %" in veridox("pipeline", "show", name)
    assert "published (as 1)" in veridox("pipeline", "versions", name)
    assert "is the one that runs" in veridox("pipeline", "bring-back", name, "3", code=1)


def test_it_is_paused_copied_and_removed(veridox, name, file):  # noqa: F811
    veridox("pipeline", "publish", file())
    assert veridox("pipeline", "pause", name, "--reason", "the post room moves").strip() == (
        f"{name} is paused"
    )
    assert f"{name}\t1\tpaused" in veridox("pipeline", "list")
    assert f"{name} runs" in veridox("pipeline", "resume", name)
    copied = veridox("pipeline", "copy", name, f"{name}-b")
    assert f"{name}-b is a copy of {name}, paused" in copied
    assert f"{name}-b\t1\tpaused" in veridox("pipeline", "list")
    assert veridox("pipeline", "show", f"{name}-b").startswith(f"pipeline: {name}-b\n")
    asked = veridox("pipeline", "remove", f"{name}-b", given="n\n", code=1)
    assert "Remove it?" in asked
    assert f"{name}-b is removed" in veridox("pipeline", "remove", f"{name}-b", "--yes")
    assert f"{name}-b\t" not in veridox("pipeline", "list")
    assert f"{name}-b" in veridox("pipeline", "pause", f"{name}-b", code=1)


def test_a_run_takes_what_lies_there_with_what_is_said_for_it(
    running, veridox, name, file, fresh_bill  # noqa: F811
):  # fmt: skip
    veridox("pipeline", "publish", file())
    mail = mail_with(fresh_bill, subject=f"handed on {fresh_bill.number}")
    with running.mailbox(POST) as box:
        box.append(f"Post/{name}", None, None, mail.as_bytes())
    wrong = veridox("pipeline", "run", name, "--parameter", "celing=1 GBP", code=1)
    assert "ceiling" in wrong  # the nearest name
    assert "no money" in veridox("pipeline", "run", name, "--parameter", "ceiling=much", code=1)
    ended = veridox("pipeline", "run", name, "--parameter", "ceiling=1.00 GBP", "--wait", "60")
    assert re.match(rf"run \d+ of {name} has ended: ", ended), ended
    document = running.document(fresh_bill.number)
    assert (document.state, document.queue) == ("at_desk", "large")
    row = next(iter(veridox("pipeline", "runs", name).splitlines()[1:])).split("\t")
    assert row[1:3] == ["1", "asked"]
    assert row[5] == "ceiling 1.00 GBP"
    (found,) = json.loads(veridox("pipeline", "runs", name, "--json"))
    assert found["counts"]["with_people"] == 1
    # A document that is there is tried with another file, and nothing of it moves.
    tried = json.loads(veridox(
        "pipeline", "try", file(), "--document", str(document.id), "--json",
        "--parameter", "ceiling=5000.00 GBP",
    ))  # fmt: skip
    assert tried["documents"][0]["state"] == "cleared", tried["documents"][0]["reasons"]
    again = json.loads(veridox("pipeline", "try", file(), "--document", str(document.id), "--json"))
    assert again["documents"][0]["queue"] == "large"  # by what was said for its run
    wrong = veridox("pipeline", "try", file(), "--document", str(document.id),
                    "--parameter", "celing=1.00 GBP", code=1)  # fmt: skip
    assert "ceiling" in wrong
    assert running.document(fresh_bill.number).queue == "large"


def test_a_file_is_tried_with_what_the_service_knows(
    veridox, name, file, fresh_bill, tmp_path  # noqa: F811
):  # fmt: skip
    veridox("pipeline", "publish", file())
    paper = tmp_path / "bill.pdf"
    paper.write_bytes(LAYOUTS["letterhead"](fresh_bill))
    offline = json.loads(veridox("pipeline", "try", file(), "--file", str(paper), "--json"))
    assert offline["documents"][0]["state"] == "at_desk"  # nobody here knows any vendor
    found = json.loads(veridox("pipeline", "try", file(), "--file", str(paper), "--with-service",
                               "--rehearse", "--json"))  # fmt: skip
    (document,) = found["documents"]
    assert document["state"] == "cleared"
    assert document["bill"]["number"] == fresh_bill.number
    assert "would book" in document["rehearsal"]
    read = veridox("pipeline", "try", file(), "--file", str(paper), "--until", "read")
    assert "It would be" not in read
    wrong = veridox("pipeline", "try", file(), "--file", str(paper), "--with-service",
                    "--until", "chek", code=1)  # fmt: skip
    assert "'chek' is none; use read, " in wrong


def test_names_that_are_none_are_told_with_the_nearest(veridox, name, file):  # noqa: F811
    veridox("pipeline", "publish", file())
    for command in (("show",), ("versions",), ("pause",), ("runs",), ("compare",), ("run",)):
        said = veridox("pipeline", *command, name[:-1], code=1)
        assert name[:-1] in said
    bad = veridox("pipeline", "publish", file(**{"queue: unsure": "que: unsure"}), code=1)
    assert "queue" in bad
    assert f"{name}\t1\t" in veridox("pipeline", "list")
