"""Conditions on mails: what is taken, what is not, and which condition says so."""

from datetime import UTC, date, datetime, timedelta

import pytest

from tests.core.test_pipeline_files import TEXT, problems
from veridox.core.pipeline import MailFacts, Wanted, conditions, load, unmet

TODAY = date(2026, 11, 23)


def facts(**changes):
    usual = {
        "read": False,
        "keywords": frozenset(),
        "received_at": datetime(2026, 11, 20, 23, 30, tzinfo=UTC),
        "people": (("Brinefold Feeds", "accounts@brinefold.example"),),
        "recipients": (("", "ap@merrowmere.example"), ("Bo", "bo@merrowmere.example")),
        "subject": "Rechnung über Fußböden",
        "files": ("Rechnung-88.PDF",),
        "text": lambda: "Please pay within 30 days",
    }
    return MailFacts(**{**usual, **changes})


@pytest.mark.parametrize(("wanted", "changes", "decides"), [
    ({}, {}, None),
    ({}, {"read": True}, "unread"),
    ({"unread": False}, {"read": True}, None),
    ({}, {"files": ()}, "with_files"),
    ({"with_files": False}, {"files": ()}, None),
    ({"senders": ("brinefold",)}, {}, None),
    ({"senders": ("BRINEFOLD Feeds",)}, {}, None),
    ({"senders": ("*@brinefold.example",)}, {}, None),
    ({"senders": ("*@brinefold",)}, {}, "senders"),
    ({"senders": ("ostrel", "saltglass")}, {}, "senders"),
    ({"recipients": ("bo@",)}, {}, None),
    ({"recipients": ("anna@",)}, {}, "recipients"),
    ({"subject": ("invoice", "rechnung")}, {}, None),
    ({"subject": ("FUßBÖDEN",)}, {}, None),
    ({"subject": ("fussböden",)}, {}, "subject"),  # servers do not take ß for ss, nor do we
    ({"text": ("PAY WITHIN",)}, {}, None),
    ({"text": ("reminder",)}, {}, "text"),
    ({"keyword": "ToPay"}, {}, "keyword"),
    ({"keyword": "ToPay"}, {"keywords": frozenset({"topay"})}, None),
    ({"since": timedelta(days=3)}, {}, None),
    ({"since": timedelta(days=2)}, {}, "since"),
    ({"since": date(2026, 11, 20)}, {}, None),
    ({"before": date(2026, 11, 21)}, {}, None),
    ({"before": date(2026, 11, 20)}, {}, "before"),
    ({"file_names": ("rechnung-*.pdf",)}, {}, None),
    ({"file_names": ("*.xml", "inv*")}, {}, "file_names"),
])  # fmt: skip
def test_the_condition_that_decides_is_named(wanted, changes, decides):
    found = unmet(Wanted(**wanted), facts(**changes), TODAY)
    assert (found.name if found else None) == decides


def test_only_marks_can_change_later():
    wanted = Wanted(keyword="ToPay", subject=("invoice",))
    lasting = {each.name: each.lasting for each in conditions(wanted, facts(), TODAY)}
    assert lasting == {"unread": False, "keyword": False, "subject": True, "with_files": True}


def test_the_text_is_fetched_only_when_it_alone_decides():
    def never():
        raise AssertionError("the text was fetched")

    wanted = Wanted(text=("pay",), subject=("nothing like it",))
    assert unmet(wanted, facts(text=never), TODAY).name == "subject"
    assert unmet(Wanted(), facts(text=never), TODAY) is None


ONLY = (
    "only: {unread: true, with_files: true, subject: [invoice, credit note, Rechnung, Gutschrift]}"
)


def test_all_conditions_can_be_written_in_a_pipeline():
    text = TEXT.replace(ONLY, """only:
      unread: false
      with_files: false
      senders: ["*@brinefold.example"]
      recipients: ap@merrowmere.example
      subject: [invoice]
      text: [please]
      keyword: $ToPay
      since: 6 weeks
      before: 2026-12-01
      file_names: ["*.pdf"]
      at_most: 20
    files: [pdf, xml]
    body: without files""")  # fmt: skip
    (collect,) = load(text).collect
    assert collect.only == Wanted(
        unread=False, with_files=False, senders=("*@brinefold.example",),
        recipients=("ap@merrowmere.example",), subject=("invoice",), text=("please",),
        keyword="$ToPay", since=timedelta(days=42), before=date(2026, 12, 1),
        file_names=("*.pdf",), at_most=20,
    )  # fmt: skip
    assert (collect.files, collect.body) == (("pdf", "xml"), "without files")


@pytest.mark.parametrize(("written", "said"), [
    ("only: {keyword: to pay}", "'to pay' is no keyword"),
    ("only: {since: yesterday}", "neither a day nor a length of time"),
    ("only: {before: 31.03.2026}", "is no day"),
    ("only: {at_most: 0}", "is not a number from 1 on"),
    ("only: {sender: x}", "unknown key 'sender'"),
    ("files: [pdf, exe]", "'exe' is not a type of file"),
    ("body: sometimes", "'sometimes' is not known"),
])  # fmt: skip
def test_each_slip_in_the_conditions_is_told(written, said):
    found = [each.message for each in problems(TEXT.replace(ONLY, written))]
    assert any(said in each for each in found), found


@pytest.mark.parametrize("where", ["/etc", "../outside", "a/../../b", "a\\b"])
def test_a_watched_directory_lies_below_the_folder_for_drops(where):
    text = TEXT.replace("  - mailbox: ap-inbox\n    folder: INBOX\n", f"  - watch: '{where}'\n")
    text = text.replace(f"    {ONLY}\n", "")
    assert any("leads out" in each.message for each in problems(text))


def test_a_watched_directory_has_no_conditions_on_mails():
    text = TEXT.replace("  - mailbox: ap-inbox\n    folder: INBOX\n", "  - watch: post\n")
    assert any("has no 'only'" in each.message for each in problems(text))


def test_a_notice_can_have_a_condition_and_go_to_the_chat():
    text = (
        TEXT[: TEXT.index("tell:")]
        + """tell:
  - on: taken in
    when: sender.address matches "*@brinefold.example" and message.headers["X-Topic"] == "bills"
    chat: {channel: ap, text: "{{ subject }}"}
"""
    )
    (tell,) = load(text).tell
    assert (tell.on, tell.channel, tell.text.source) == ("taken in", "ap", "{{ subject }}")
    assert tell.when is not None


@pytest.mark.parametrize(("written", "said"), [
    ("chat: {channel: ap, text: '{{ subject'}", "cannot be filled in"),
    ("when: sendr.address == 'x'\n    chat: {channel: ap, text: x}", "unknown name 'sendr.add"),
    ("when: message.headers == 'x'\n    chat: {channel: ap, text: x}", "say which header"),
    ("mail: {to: a@b.example, template: posted}\n    chat: {channel: ap, text: x}", "two for both"),
])  # fmt: skip
def test_each_slip_in_a_notice_is_told(written, said):
    text = TEXT[: TEXT.index("tell:")] + f"tell:\n  - on: taken in\n    {written}\n"
    assert any(said in each.message for each in problems(text)), problems(text)
