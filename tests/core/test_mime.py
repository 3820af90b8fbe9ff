from email.message import EmailMessage

import pytest

from veridox.core.readers.limits import Limits
from veridox.core.readers.mail.read import read_mail
from veridox.core.readers.sniff import sniff


def mail(*files, subject="Invoice", **headers):
    message = EmailMessage()
    message["From"] = "Büro Nordriff <labor@nordriff.example>"
    message["To"] = "ap@merrowmere.example"
    message["Subject"] = subject
    for name, value in headers.items():
        message[name.replace("_", "-")] = value
    message.set_content("Guten Tag\n")
    for name, content, kind in files:
        maintype, subtype = kind.split("/")
        message.add_attachment(content, maintype=maintype, subtype=subtype, filename=name)
    return message.as_bytes()


def test_each_file_is_its_own_item_in_order_with_declared_and_sniffed_type():
    found = read_mail(
        mail(
            ("a.pdf", b"%PDF-1.4", "application/pdf"), ("b.pdf", b"\x89PNG\r\n\x1a\n", "image/png")
        )
    )
    assert [(f.position, f.name, f.declared_type, f.media_type) for f in found.files] == [
        (1, "a.pdf", "application/pdf", "application/pdf"),
        (2, "b.pdf", "image/png", "image/png"),
    ]
    assert found.text.strip() == "Guten Tag"
    assert found.sender_name == "Büro Nordriff"


def test_encoded_names_and_subjects_are_decoded():
    found = read_mail(
        mail(("Rechnung für März.pdf", b"%PDF", "application/pdf"), subject="Rechnung für März")
    )
    assert found.subject == "Rechnung für März"
    assert found.files[0].name == "Rechnung für März.pdf"


@pytest.mark.parametrize("name", ["../../etc/passwd", "C:\\temp\\x.pdf", "/abs/x.pdf"])
def test_a_name_never_keeps_a_path(name):
    (file,) = read_mail(mail((name, b"x", "application/pdf"))).files
    assert "/" not in file.name
    assert "\\" not in file.name


@pytest.mark.parametrize("content", [
    b"", b"\x00\xff\xfe", b"no headers at all", b"Subject: =?utf-8?b?broken",
    b"Content-Type: multipart/mixed\r\n\r\nno boundary",
    b"Date: not a date\r\nFrom: <<<>>>\r\n\r\nx",
    b"Content-Type: text/plain; charset=no-such\r\n\r\nx",
    b"Content-Transfer-Encoding: base64\r\nContent-Type: application/pdf\r\n\r\n!!!",
])  # fmt: skip
def test_a_broken_mail_is_read_as_far_as_it_goes(content):
    read_mail(content)


def test_parts_nested_without_end_are_cut_off_and_said():
    inner = b"Content-Type: text/plain\r\n\r\nx"
    for depth in range(60):
        edge = f"b{depth}".encode()
        inner = (
            b"Content-Type: multipart/mixed; boundary=" + edge + b"\r\n\r\n--" + edge + b"\r\n"
            + inner + b"\r\n--" + edge + b"--"
        )  # fmt: skip
    assert read_mail(inner, Limits(mail_depth=10)).defects


@pytest.mark.parametrize(("content", "kind"), [
    (b"", "inode/x-empty"),
    (b"junk before %PDF-1.7", "application/pdf"),
    (b"MZ\x90", "application/x-msdownload"),
    (b"<?xml version='1.0'?>", "application/xml"),
    (b"plain words", "text/plain"),
    (b"\x01\x02\x00", "application/octet-stream"),
])  # fmt: skip
def test_content_tells_what_a_file_is(content, kind):
    assert sniff(content) == kind
