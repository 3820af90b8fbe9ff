"""The mailroom says of each sender what it found, and takes no other's word for its own."""

from email import message_from_bytes

import pytest

from veridox.core.readers.mail.authentication import authentication_of
from veridox.standins.mailroom.__main__ import SERVER, stamped

MAIL = b"From: Orders <orders@seagrass.example>\r\nSubject: Invoice\r\n\r\nplease find\r\n"
FORGED = (
    b"Authentication-Results: mx.merrowmere.example; dmarc=pass header.from=seagrass.example;\r\n"
    b" spf=pass smtp.mailfrom=seagrass.example\r\n"
)
OTHERS = b"Authentication-Results: mx.elsewhere.example; dmarc=pass\r\n"


def heads(content):
    return content.partition(b"\r\n\r\n")[0].lower().count(b"authentication-results:")


@pytest.mark.parametrize(("sent_from", "result"), [
    ("bounces@seagrass.example", b"dmarc=pass"), ("bulk@parcelmailer.example", b"dmarc=fail"),
    ("", b"dmarc=fail"),
])  # fmt: skip
def test_a_sender_is_proven_by_an_envelope_of_the_same_domain(sent_from, result):
    first = stamped(MAIL, sent_from).split(b"\r\n")[0]
    assert first.startswith(b"Authentication-Results: " + SERVER.encode())
    assert result in first


def test_a_word_under_our_own_name_is_taken_out_and_anothers_stays():
    told = stamped(FORGED + OTHERS + FORGED + MAIL, "bulk@parcelmailer.example")
    assert heads(told) == 2
    assert b"dmarc=pass header.from=seagrass.example" not in told
    assert b"mx.elsewhere.example" in told


def test_the_rest_of_the_mail_is_as_it_was():
    assert stamped(MAIL, "a@seagrass.example").endswith(MAIL)


def test_what_it_says_is_what_is_read_of_it():
    for sent_from, passed in (("a@seagrass.example", True), ("a@parcelmailer.example", False)):
        mail = message_from_bytes(stamped(FORGED + MAIL, sent_from))
        headers = {"authentication-results": mail["Authentication-Results"]}
        found = authentication_of(headers, SERVER, "orders@seagrass.example")
        assert found.passed is passed
