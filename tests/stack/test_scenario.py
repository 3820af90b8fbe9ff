"""The Merrowmere scenario: ten mails, fourteen files, each ends as it should."""

import pytest

from demo.mails import MAILS, send
from tests.stack.running import until

pytestmark = pytest.mark.stack


def test_the_scenario_has_the_size_it_promises():
    assert len(MAILS) == 10
    assert sum(len(mail.files) for mail in MAILS) == 14
    assert all(len(mail.expect) == len(mail.files) for mail in MAILS)


@pytest.fixture(scope="module")
def story(running):
    """All mails sent; what became of each file, by mail."""
    for mail in MAILS:
        if mail.name == "sent twice":
            running.posted("BF-2026-0413")
        send(mail.message(), running.stack.ports.smtp)
    return {mail.name: until(lambda m=mail: outcome(running, m), mail.name) for mail in MAILS}


def outcome(running, mail):
    """States of a mail's files in order, once the mail lies where it belongs."""
    found = [
        m for m in running.vx.messages.list(search=mail.subject) if m["subject"] == mail.subject
    ]
    if not found or found[0]["place"] == "arrived":
        return None
    states = []
    for file in running.vx.messages.get(found[0]["id"])["files"]:
        documents = [running.vx.documents.get(each) for each in file["documents"]]
        states.append(documents[0].state if documents else f"file {file['state']}")
    return tuple(states), found[0]["folder"]


@pytest.mark.parametrize("mail", MAILS, ids=lambda mail: mail.name)
def test_each_file_of_each_mail_ends_as_expected(story, mail):
    states, folder = story[mail.name]
    assert states == mail.expect
    assert folder == ("With people" if "at_desk" in states else "Done")


REASONS = {
    "does not add up": "total.sum",
    "unknown vendor": "vendor.unknown",
    "another vendor's order": "order.vendor",
    "sent twice": "duplicate.exact",
}


@pytest.mark.parametrize(("name", "code"), REASONS.items())
def test_what_waits_waits_for_its_own_reason(running, story, name, code):
    (mail,) = [mail for mail in MAILS if mail.name == name]
    (message,) = [m for m in running.vx.messages.list(search=mail.subject)
                  if m["subject"] == mail.subject]  # fmt: skip
    (file,) = running.vx.messages.get(message["id"])["files"]
    document = running.vx.documents.get(file["documents"][0])
    assert document.findings[0].code == code


def test_every_file_of_the_scenario_is_accounted_for(running, story):
    states = [state for states, _ in story.values() for state in states]
    assert (states.count("posted"), states.count("at_desk")) == (7, 5)
    assert (states.count("aside"), states.count("file aside")) == (1, 1)
