"""Bytes to pages and mails to files. To be run in limited reader processes only."""

from veridox.core.readers.files import FilePages, read_pages
from veridox.core.readers.limits import Limits
from veridox.core.readers.mail import MailContent, MailFile, read_mail
from veridox.core.readers.pdf import page_picture
from veridox.core.readers.sniff import sniff

__all__ = [
    "FilePages",
    "Limits",
    "MailContent",
    "MailFile",
    "page_picture",
    "read_mail",
    "read_pages",
    "sniff",
]
