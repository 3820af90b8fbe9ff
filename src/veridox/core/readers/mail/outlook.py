"""Mails saved as .msg: compound files of MAPI properties ([MS-OXMSG], [MS-OXPROPS])."""

import io
import struct
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta

import olefile
from compressed_rtf import decompress
from striprtf.striprtf import rtf_to_text

_SUBJECT, _BODY, _HTML, _RTF = "0037", "1000", "1013", "1009"
_SENDER_NAME, _SENDER, _SENDER_SMTP, _SENT_BY_SMTP = "0C1A", "0C1F", "5D01", "5D02"
_MESSAGE_ID, _HEADERS, _CLASS = "1035", "007D", "001A"
_NAME, _LONG_NAME, _DATA, _MIME, _CONTENT_ID = "3704", "3707", "3701", "370E", "3712"
_ADDRESS, _SMTP_ADDRESS = "3003", "39FE"
_SUBMITTED, _DELIVERED = 0x0039, 0x0E06
_EPOCH = datetime(1601, 1, 1, tzinfo=UTC)
_MAX_FILES = 500


@dataclass
class OutlookFile:
    """A file of a saved mail; `mail` when it is a mail itself."""

    name: str
    media_type: str
    content_id: str
    content: bytes = b""
    mail: "OutlookMail | None" = None


@dataclass
class OutlookMail:
    """A saved mail."""

    subject: str = ""
    sender_name: str = ""
    sender_address: str = ""
    recipients: list[str] = field(default_factory=list)
    message_id: str = ""
    headers: str = ""
    sent: datetime | None = None
    text: str = ""
    html: str = ""
    files: list[OutlookFile] = field(default_factory=list)


def read_outlook(content: bytes, depth: int) -> OutlookMail:
    """A saved mail with all that lies in it, down to `depth` mails within mails.

    Raises:
        ValueError: damaged, or no saved mail.
    """
    try:
        with olefile.OleFileIO(io.BytesIO(content)) as file:
            return _Storage(file, ()).mail(depth)
    except (OSError, struct.error, IndexError, KeyError, RecursionError, TypeError) as error:
        raise ValueError(f"no saved mail can be read from it ({type(error).__name__})") from error


def is_outlook(content: bytes) -> bool:
    """Whether a compound file is a saved mail."""
    try:
        with olefile.OleFileIO(io.BytesIO(content)) as file:
            return bool(file.exists("__properties_version1.0"))
    except (OSError, struct.error, IndexError, KeyError, TypeError, ValueError):
        return False


class _Storage:
    """The properties of one storage of the file."""

    def __init__(self, file: olefile.OleFileIO, path: tuple[str, ...]) -> None:
        self.file, self.path = file, path

    def _raw(self, name: str) -> bytes | None:
        path = [*self.path, name]
        if not self.file.exists(path) or self.file.get_type(path) != olefile.STGTY_STREAM:
            return None
        with self.file.openstream(path) as stream:
            found: bytes = stream.read()
            return found

    def text(self, tag: str) -> str:
        wide = self._raw(f"__substg1.0_{tag}001F")
        if wide is not None:
            return wide.decode("utf-16-le", "replace").rstrip("\x00")
        narrow = self._raw(f"__substg1.0_{tag}001E")
        return narrow.decode("cp1252", "replace").rstrip("\x00") if narrow is not None else ""

    def bytes(self, tag: str) -> bytes | None:
        return self._raw(f"__substg1.0_{tag}0102")

    def time(self, *tags: int, header: int) -> datetime | None:
        """Fixed-size properties stand together: eight bytes of tag and flags, eight of value."""
        raw = self._raw("__properties_version1.0") or b""
        for wanted in tags:
            for at in range(header, len(raw) - 15, 16):
                kind, number = struct.unpack_from("<HH", raw, at)
                if number == wanted and kind == 0x0040:
                    (ticks,) = struct.unpack_from("<Q", raw, at + 8)
                    try:
                        return _EPOCH + timedelta(microseconds=ticks // 10)
                    except OverflowError:
                        continue
        return None

    def children(self, prefix: str) -> list["_Storage"]:
        names = {
            entry[len(self.path)]
            for entry in self.file.listdir(streams=True, storages=True)
            if len(entry) > len(self.path)
            and tuple(entry[: len(self.path)]) == self.path
            and entry[len(self.path)].startswith(prefix)
        }
        return [_Storage(self.file, (*self.path, name)) for name in sorted(names)]

    def mail(self, depth: int) -> OutlookMail:
        if not self.file.exists([*self.path, "__properties_version1.0"]):
            raise ValueError("it holds no saved mail")
        html = self.bytes(_HTML)
        sender = self.text(_SENDER)
        found = OutlookMail(
            subject=self.text(_SUBJECT),
            sender_name=self.text(_SENDER_NAME),
            sender_address=(
                self.text(_SENDER_SMTP)
                or self.text(_SENT_BY_SMTP)
                or (sender if "@" in sender else "")
            ).lower(),
            recipients=[
                address.lower()
                for each in self.children("__recip_version1.0_")
                if "@" in (address := each.text(_SMTP_ADDRESS) or each.text(_ADDRESS))
            ],
            message_id=self.text(_MESSAGE_ID).strip("<> "),
            headers=self.text(_HEADERS),
            sent=self.time(_SUBMITTED, _DELIVERED, header=32 if not self.path else 24),
            text=self.text(_BODY),
            html=html.decode("utf-8", "replace") if html is not None else self.text(_HTML),
        )
        if not found.text and not found.html:
            found.text = self._rich_text()
        for storage in self.children("__attach_version1.0_")[:_MAX_FILES]:
            found.files.append(storage.attachment(depth))
        return found

    def _rich_text(self) -> str:
        raw = self.bytes(_RTF)
        if not raw:
            return ""
        try:
            rich = decompress(raw).decode("cp1252", "replace")
            return str(rtf_to_text(rich, errors="ignore"))  # type: ignore[no-untyped-call]
        except (ValueError, IndexError, TypeError, UnicodeError, KeyError):
            return ""

    def attachment(self, depth: int) -> OutlookFile:
        file = OutlookFile(
            name=self.text(_LONG_NAME) or self.text(_NAME),
            media_type=self.text(_MIME),
            content_id=self.text(_CONTENT_ID).strip("<> "),
        )
        content = self.bytes(_DATA)
        inner = [*self.path, f"__substg1.0_{_DATA}000D"]
        if content is not None:
            file.content = content
        elif self.file.exists(inner):
            if depth <= 1:
                raise ValueError("mails are nested too deeply in it")
            file.mail = _Storage(self.file, tuple(inner)).mail(depth - 1)
            file.name = file.name or file.mail.subject
        return file
