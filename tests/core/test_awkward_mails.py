"""Each awkward mail gives what a person would find in it, and nothing goes missing."""

import base64
import zlib
from email.message import EmailMessage, Message
from email.mime.message import MIMEMessage
from email.mime.multipart import MIMEMultipart

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.awkward.mails import PDF, all_mails, file, head, zipped
from veridox.core.readers.limits import Limits
from veridox.core.readers.mail.bulk import Bulk
from veridox.core.readers.mail.content import Became, MailKind
from veridox.core.readers.mail.read import read_mail

MAILS = all_mails()


def test_there_are_enough_of_them():
    assert len(MAILS) >= 40


@pytest.mark.parametrize("name", MAILS)
def test_an_awkward_mail_gives_what_a_person_would_find(name):
    mail = MAILS[name]
    found = read_mail(mail.content)
    assert [each.name for each in found.files if not each.left_out] == list(mail.files)
    assert {each.name: each.left_out for each in found.files if each.left_out} == mail.left
    assert found.kind == mail.kind
    assert found.letter.sender_address == mail.sender
    if mail.subject is not None:
        assert found.letter.subject == mail.subject
    assert mail.text in found.text
    assert all(each.reason for each in found.files if each.left_out)
    accounted(found)


def accounted(found):
    """Every file stands in the list of parts, once, with the right end."""
    parts = {part.file: part for part in found.parts if part.file}
    assert set(parts) == {each.position for each in found.files}
    for each in found.files:
        part = parts[each.position]
        assert part.size == len(each.content)
        assert part.became == (Became.LEFT_OUT if each.left_out else Became.FILE)


def test_what_is_forwarded_speaks_for_its_inner_mail():
    found = read_mail(MAILS["forwarded twice"].content)
    assert found.sender_address == "bo@merrowmere.example"
    assert found.forwarded.sender_name == "Korallan Technik"
    assert found.forwarded.sent.isoformat() == "2026-04-14T07:12:00+00:00"
    assert found.files[0].letter == found.forwarded
    assert found.files[0].within == ("FW: Rechnung 88", "Rechnung 88")


def test_files_of_two_forwarded_mails_speak_each_for_their_own():
    found = read_mail(MAILS["two forwarded mails"].content)
    assert [each.letter.sender_address for each in found.files] == [
        "faktura@korallan.example", "a@ostrel.example",
    ]  # fmt: skip


def test_links_are_kept_for_those_who_must_fetch_the_bill():
    assert read_mail(MAILS["a link and no file"].content).links == (
        "https://brinefold.example/bills/4711",
    )


def test_why_a_picture_is_left_out_is_said_in_words():
    (logo,) = [
        each for each in read_mail(MAILS["logo in the signature"].content).files if each.left_out
    ]
    assert "shown within the text" in logo.reason
    assert "120 x 40 pixels" in logo.reason


def test_more_parts_than_allowed_are_told():
    found = read_mail(MAILS["several files"].content, Limits(mail_parts=3))
    assert "more than 3 parts" in found.defects[0]
    assert [each.name for each in found.files] == ["a.pdf"]


# -- any nesting ----------------------------------------------------------------------

contents = st.binary(max_size=60).map(lambda body: b"\x01leaf" + body)
leaves = contents.map(lambda body: ("leaf", body))
trees = st.recursive(
    leaves,
    lambda inner: st.tuples(
        st.sampled_from(["mixed", "alternative", "related", "signed", "message", "zip"]),
        st.lists(inner, min_size=1, max_size=4),
    ),
    max_leaves=25,
)


def leaves_of(tree):
    kind, inside = tree
    return [inside] if kind == "leaf" else [each for part in inside for each in leaves_of(part)]


def as_part(tree) -> Message:
    kind, inside = tree
    if kind == "leaf":
        return file(inside, f"{zlib.crc32(inside)}.bin", "application/octet-stream")
    if kind == "zip":
        return file(as_zip(inside), "z.zip", "application/zip")
    if kind == "message":
        message = MIMEMultipart("mixed")
        for part in inside:
            message.attach(as_part(part))
        return MIMEMessage(head(message))
    message = MIMEMultipart(kind)
    for part in inside:
        message.attach(as_part(part))
    return message


def as_zip(trees):
    files = []
    for number, tree in enumerate(trees):
        kind, inside = tree
        if kind == "leaf":
            files.append((f"{number}.bin", inside))
        elif kind == "zip":
            files.append((f"{number}.zip", as_zip(inside)))
        else:
            message = MIMEMultipart("mixed")
            message.attach(as_part(tree))
            files.append((f"{number}.eml", head(message).as_bytes()))
    return zipped(*files)


@settings(max_examples=150)
@given(trees)
def test_in_any_nesting_every_leaf_is_an_item_or_left_out_and_its_bytes_are_kept(tree):
    message = MIMEMultipart("mixed")
    message.attach(as_part(tree))
    found = read_mail(head(message).as_bytes())
    assert sorted(each.content for each in found.files) == sorted(leaves_of(tree))
    assert {each.content for each in found.files if not each.left_out} == set(leaves_of(tree))
    accounted(found)
    assert not found.defects


@pytest.mark.parametrize("charset", [b"utf\x008", b'"\x00"', b"\x00"])
@pytest.mark.parametrize("words", [b"Caf\xe9 bill", b"plain words"])
def test_a_character_set_with_a_nul_in_its_name_stops_no_mail(charset, words):
    lines = [
        b"From: a@b.example", b"Subject: Bill", b"MIME-Version: 1.0",
        b"Content-Type: multipart/mixed; boundary=x", b"", b"--x",
        b"Content-Type: text/plain; charset=" + charset, b"", words, b"--x",
        b"Content-Type: application/pdf; name=a.pdf; charset=" + charset,
        b"Content-Transfer-Encoding: base64", b"", b"JVBERi0xLjQ=", b"--x--", b"",
    ]  # fmt: skip
    content = b"\r\n".join(lines)
    found = read_mail(content)
    accounted(found)
    assert found.letter.subject == "Bill"
    assert [file.content for file in found.files if file.media_type == "application/pdf"] == [
        b"%PDF-1.4"
    ]


@settings(max_examples=150)
@given(st.data())
def test_a_mail_with_bytes_changed_is_read_without_raising(data):
    content = bytearray(MAILS[data.draw(st.sampled_from(sorted(MAILS)))].content)
    for _ in range(data.draw(st.integers(1, 12))):
        at = data.draw(st.integers(0, len(content) - 1))
        content[at] = data.draw(st.integers(0, 255))
    cut = data.draw(st.integers(0, len(content)))
    found = read_mail(bytes(content if data.draw(st.booleans()) else content[:cut]))
    accounted(found)


def test_a_file_of_many_megabytes_keeps_its_bytes():
    message = EmailMessage()
    message["From"] = "bills@brinefold.example"
    big = PDF + bytes(range(256)) * 8_000
    message.set_content("big")
    message.add_attachment(big, maintype="application", subtype="pdf", filename="big.pdf")
    (only,) = read_mail(message.as_bytes()).files
    assert only.content == big
    assert base64.b64encode(only.content) == base64.b64encode(big)
    assert read_mail(message.as_bytes()).kind is MailKind.LETTER


@pytest.mark.parametrize("ending", [b"\r\n", b"\n"])
def test_a_large_body_is_set_apart_and_comes_back_whole(ending):
    big = bytes(range(256)) * 12_000
    message = mixed_of(("one.pdf", PDF + big), ("two.bin", b"small"), ("three.bin", big))
    content = message.as_bytes().replace(b"\n", ending)
    bulk = Bulk()
    lean = bulk.set_apart(content)
    assert len(bulk.bodies) == 2
    assert len(lean) < 10_000
    assert bulk.restored(lean) == content
    assert [each.content for each in read_mail(content).files] == [PDF + big, b"small", big]


def test_a_large_body_that_is_no_base64_stays_where_it_is():
    text = ("A" * 70 + "\n") * 20 + "ß" * 40 + ("B" * 70 + "\n") * 40_000
    content = b"Subject: x\n\n" + text.encode()
    assert Bulk().set_apart(content) == content


def mixed_of(*files):
    message = MIMEMultipart("mixed")
    for name, content in files:
        message.attach(file(content, name, "application/octet-stream"))
    return head(message)
