"""Every part of a mail, down through mails, archives and wrappers, with what became of it."""

import email
import email.message
import email.policy
import hashlib
from collections.abc import Callable
from dataclasses import dataclass, field, replace

from veridox.core.filetypes import OUTLOOK, TNEF, ZIP, file_type
from veridox.core.readers.limits import Limits
from veridox.core.readers.mail.archives import zip_entries
from veridox.core.readers.mail.bulk import Bulk
from veridox.core.readers.mail.content import Became, LeftOut, Letter, MailFile, Part
from veridox.core.readers.mail.decoding import (
    address_of,
    bare_name,
    decoded,
    file_name,
    header_of,
    headers_named,
    part_bytes,
    part_text,
    sent_at,
    tame,
)
from veridox.core.readers.mail.html import content_ids_in, text_of
from veridox.core.readers.mail.outlook import OutlookMail, read_outlook
from veridox.core.readers.mail.pictures import NEEDED, signs_of_dress
from veridox.core.readers.mail.signed import EncipheredError, signed_content
from veridox.core.readers.mail.tnef import Tnef, read_tnef
from veridox.core.readers.sniff import sniff

MAX_TEXT = 100_000
"""Characters of a mail's own text that are kept."""
ADDRESS_HEADERS = ("to", "cc", "delivered-to", "x-original-to")
_SIGNATURES = {
    "application/pkcs7-signature": "a digital signature",
    "application/x-pkcs7-signature": "a digital signature",
    "application/pgp-signature": "a digital signature",
    "application/pgp-keys": "a public key",
    "text/vcard": "a visiting card",
    "text/x-vcard": "a visiting card",
    "text/directory": "a visiting card",
}
_REPORTS = ("message/delivery-status", "message/disposition-notification", "text/rfc822-headers")


@dataclass
class Words:
    """A mail's own words and headers while it is walked through."""

    plain: list[str] = field(default_factory=list)
    html: list[str] = field(default_factory=list)
    letter: Letter = field(default_factory=Letter)

    @property
    def text(self) -> str:
        """Plain text; made from the HTML where only that came."""
        plain = "\n".join(self.plain)
        return (plain if plain.strip() else text_of("\n".join(self.html)))[:MAX_TEXT]


@dataclass(frozen=True)
class _Spot:
    """Where the walk is."""

    path: str
    depth: int
    within: tuple[str, ...]
    mail: int

    def below(self, path: str, name: str = "") -> "_Spot":
        within = (*self.within, name) if name else self.within
        return replace(self, path=path, depth=self.depth - 1, within=within)


@dataclass
class _File:
    spot: _Spot
    file: MailFile


class _AsTheyStand(email.policy.Compat32):
    """Keeps broken headers, on which the newer policies raise, and bytes that are not ASCII."""

    def header_fetch_parse(self, name: str, value: str) -> str:
        """Raw bytes as UTF-8 or, failing that, as Windows-1252."""
        del name
        if value.isascii():
            return value
        return decoded(value.encode("utf-8", "surrogateescape"), "utf-8")


_POLICY = _AsTheyStand()


def parse(content: bytes, bulk: Bulk | None = None) -> email.message.Message:
    """A mail's structure; with `bulk`, its large bodies are set apart there."""
    lean = bulk.set_apart(content) if bulk else content
    return email.message_from_bytes(lean, policy=_POLICY)


def letter_of(message: email.message.Message) -> Letter:
    """What the headers say."""
    name, address = address_of(message, "from")
    recipients = [
        each for header in ADDRESS_HEADERS for each in _addresses(headers_named(message, header))
    ]
    return Letter(
        message_id=header_of(message, "message-id").strip("<> ")[:998],
        sender_name=name,
        sender_address=address,
        recipients=tuple(dict.fromkeys(recipients)),
        subject=header_of(message, "subject"),
        sent=sent_at(message),
    )


def _addresses(values: list[str]) -> list[str]:
    try:
        found = email.utils.getaddresses(values)
    except (ValueError, IndexError):
        return []
    return [address.lower() for _, address in found if "@" in address]


class Walk:
    """Walks through one mail and keeps what it finds.

    Attributes:
        mails: the mail itself first, then the mails within it.
        parts: every part in order.
        defects: what was not as it should be, in words.
    """

    def __init__(self, limits: Limits) -> None:
        self.limits = limits
        self.mails: list[Words] = []
        self.parts: list[Part] = []
        self.defects: list[str] = []
        self.bulk = Bulk()
        self._files: list[_File] = []

    def _bytes(self, part: email.message.Message) -> bytes:
        tame(part)
        payload = part.get_payload()
        apart = self.bulk.decoded(payload) if isinstance(payload, str) else None
        return part_bytes(part) if apart is None else apart

    # -- mails -----------------------------------------------------------

    def message(self, message: email.message.Message, spot: _Spot | None = None) -> None:
        """Walk through a mail, the outermost when no spot is given."""
        self.mails.append(Words(letter=letter_of(message)))
        here = spot or _Spot("", self.limits.mail_depth, (), 0)
        self._part(message, replace(here, mail=len(self.mails) - 1))

    def outlook(self, mail: OutlookMail, spot: _Spot | None = None) -> None:
        """Walk through a saved mail."""
        words = Words(
            plain=[mail.text] if mail.text else [],
            html=[mail.html] if mail.html else [],
            letter=Letter(
                message_id=mail.message_id[:998],
                sender_name=mail.sender_name[:2000],
                sender_address=mail.sender_address[:320],
                recipients=tuple(dict.fromkeys(mail.recipients)),
                subject=mail.subject[:2000],
                sent=mail.sent,
            ),
        )
        self.mails.append(words)
        here = replace(spot or _Spot("", self.limits.mail_depth, (), 0), mail=len(self.mails) - 1)
        for kind, text in ((Became.TEXT, mail.text), (Became.HTML, mail.html)):
            if text:
                media = "text/html" if kind is Became.HTML else "text/plain"
                self._note(f"{here.path}/{kind.value}".strip("/"), media, len(text), kind)
        for number, file in enumerate(mail.files, start=1):
            below = here.below(f"{here.path}/{number}".strip("/"))
            if file.mail is not None:
                self._note(below.path, "message/rfc822", 0, Became.OPENED)
                within = (*here.within, bare_name(file.name) or "mail")
                self.outlook(file.mail, replace(below, within=within))
            else:
                declared = file.media_type.lower() or "application/octet-stream"
                self._content(
                    file.content, declared, bare_name(file.name), below,
                    content_id=file.content_id, inline=bool(file.content_id),
                )  # fmt: skip

    # -- parts -----------------------------------------------------------

    def _part(self, part: email.message.Message, spot: _Spot) -> None:
        if len(self.parts) >= self.limits.mail_parts:
            if len(self.parts) == self.limits.mail_parts:
                self.defects.append(
                    f"more than {self.limits.mail_parts} parts; the rest was left out"
                )
                self._note(spot.path, part.get_content_type(), 0, Became.LEFT_OUT)
            return
        kind = part.get_content_type()
        tame(part)
        payload = part.get_payload()
        if kind == "message/rfc822" or (kind in ("message/global", "message/news")):
            self._inner(part, spot)
        elif part.is_multipart() and isinstance(payload, list) and kind not in _REPORTS:
            if spot.depth <= 0:
                self._too_deep(part, spot)
                return
            self._note(spot.path or "0", kind, 0, Became.OPENED)
            for number, each in enumerate(payload, start=1):
                self._part(each, spot.below(f"{spot.path}.{number}".strip(".")))
        else:
            self._leaf(part, kind, spot)

    def _inner(self, part: email.message.Message, spot: _Spot) -> None:
        if spot.depth <= 0:
            self._too_deep(part, spot)
            return
        payload = part.get_payload()
        inner = next(iter(payload), None) if isinstance(payload, list) else None
        encoding = str(part.get("content-transfer-encoding", "")).strip().lower()
        if not isinstance(inner, email.message.Message):
            inner = parse(self._bytes(part), self.bulk)
        elif encoding == "base64" and not inner.keys():
            # Against RFC 2046, 5.2.1, but some programs do it.
            inner.add_header("Content-Transfer-Encoding", "base64")
            inner = parse(self._bytes(inner), self.bulk)
        name = file_name(part) or header_of(inner, "subject") or "mail"
        self._note(spot.path or "0", "message/rfc822", 0, Became.OPENED)
        self.message(inner, spot.below(f"{spot.path}.1".strip("."), name))

    def _too_deep(self, part: email.message.Message, spot: _Spot) -> None:
        self.defects.append("parts are nested too deeply; the innermost were left out")
        content = self.bulk.restored(part.as_bytes(policy=_POLICY))
        self._keep(
            content, part.get_content_type(), file_name(part), spot,
            left_out=LeftOut.LIMIT, reason="nested too deeply to be opened",
        )  # fmt: skip

    def _leaf(self, part: email.message.Message, kind: str, spot: _Spot) -> None:
        if kind in _REPORTS:
            size = len(part.as_bytes(policy=_POLICY))
            self._note(spot.path or "0", kind, size, Became.REPORT)
            return
        content = self._bytes(part)
        name = file_name(part)
        disposition = str(part.get("content-disposition", "")).split(";")[0].strip().lower()
        # A multipart without any boundary is words that somebody mislabelled.
        words_alone = kind in ("text/plain", "text/html") or kind.startswith("multipart/")
        if words_alone and not name and disposition != "attachment":
            words = self.mails[spot.mail]
            text = part_text(part, content)
            html = kind == "text/html"
            (words.html if html else words.plain).append(text[: 10 * MAX_TEXT])
            became = Became.HTML if html else Became.TEXT
            self._note(spot.path or "1", kind, len(content), became)
            return
        self._content(
            content, kind, name, spot,
            content_id=str(part.get("content-id", "")).strip("<> \r\n\t")[:255],
            inline=disposition == "inline"
            or (bool(part.get("content-id")) and disposition != "attachment"),
        )  # fmt: skip

    # -- content that may hold other things --------------------------------

    def _content(
        self, content: bytes, declared: str, name: str, spot: _Spot,
        *, content_id: str = "", inline: bool = False,
    ) -> None:  # fmt: skip
        """Open what can be opened; keep what cannot, with the reason, and all other files."""
        media = sniff(content)
        if declared == "text/calendar" or media == "text/calendar":
            self._keep(
                content, declared, name, spot, left_out=LeftOut.CALENDAR, reason="an appointment"
            )
            return
        if declared in _SIGNATURES:
            reason = _SIGNATURES[declared]
            self._keep(content, declared, name, spot, left_out=LeftOut.SIGNATURE, reason=reason)
            return
        opener = self._opener(media, declared, name)
        if opener is None:
            self._keep(content, declared, name, spot, content_id=content_id, inline=inline)
            return
        if spot.depth <= 0:
            reason = "nested too deeply to be opened"
            self.defects.append(f"{name or media}: {reason}")
            self._keep(content, declared, name, spot, left_out=LeftOut.LIMIT, reason=reason)
            return
        mark = (len(self.mails), len(self.parts), len(self._files))
        self._note(spot.path or "1", declared, 0, Became.OPENED)
        try:
            opener(content, name, spot)
        except EncipheredError as error:
            self._back(mark)
            self._keep(content, declared, name, spot, left_out=LeftOut.LOCKED, reason=str(error))
        except ValueError as error:
            self._back(mark)
            self._keep(content, declared, name, spot, left_out=LeftOut.DAMAGED, reason=str(error))

    def _back(self, mark: tuple[int, int, int]) -> None:
        """What came out of a container before it proved to be damaged counts for nothing."""
        mails, parts, files = mark
        del self.mails[mails:], self.parts[parts:], self._files[files:]

    def _opener(
        self, media: str, declared: str, name: str
    ) -> Callable[[bytes, str, _Spot], None] | None:
        if media == ZIP:
            return self._zip
        if media == TNEF:
            return self._tnef
        if media == OUTLOOK:
            return self._saved
        if media == "message/rfc822" or (
            name.lower().endswith(".eml") and media in ("text/plain", "text/html")
        ):
            return self._text_mail
        if declared in ("application/pkcs7-mime", "application/x-pkcs7-mime"):
            return self._signed
        return None

    def _zip(self, content: bytes, name: str, spot: _Spot) -> None:
        entries = list(zip_entries(content, self.limits))
        for number, entry in enumerate(entries, start=1):
            below = spot.below(f"{spot.path or 1}/{number}", name or "archive.zip")
            if entry.left_out:
                self._keep(
                    entry.content, "application/octet-stream", entry.name, below,
                    left_out=entry.left_out, reason=entry.reason,
                )  # fmt: skip
                if entry.left_out != LeftOut.SYSTEM:
                    self.defects.append(f"{name or 'archive'}: {entry.name}: {entry.reason}")
            else:
                self._content(entry.content, "application/octet-stream", entry.name, below)

    def _tnef(self, content: bytes, name: str, spot: _Spot) -> None:
        self._from_tnef(read_tnef(content), name or "winmail.dat", spot)

    def _from_tnef(self, found: Tnef, name: str, spot: _Spot) -> None:
        words = self.mails[spot.mail]
        if found.text and not words.plain and not words.html:
            words.plain.append(found.text)
        for number, file in enumerate(found.files, start=1):
            below = spot.below(f"{spot.path or 1}/{number}", name)
            if file.nested and below.depth > 0:
                self._note(below.path, TNEF, 0, Became.OPENED)
                self._from_tnef(read_tnef(file.content), file.name or "mail", below)
            else:
                declared = file.media_type.lower() or "application/octet-stream"
                self._content(file.content, declared, bare_name(file.name), below)

    def _saved(self, content: bytes, name: str, spot: _Spot) -> None:
        mail = read_outlook(content, spot.depth)
        self.outlook(mail, spot.below(f"{spot.path or 1}/1", name or mail.subject or "mail"))

    def _text_mail(self, content: bytes, name: str, spot: _Spot) -> None:
        inner = parse(content, self.bulk)
        if not inner.keys():
            raise ValueError("it has no headers, so it is no mail")
        shown = name or header_of(inner, "subject") or "mail"
        self.message(inner, spot.below(f"{spot.path or 1}/1", shown))

    def _signed(self, content: bytes, name: str, spot: _Spot) -> None:
        del name
        inner = parse(signed_content(content), self.bulk)
        self._part(inner, spot.below(f"{spot.path or 1}.1"))

    # -- what is kept ------------------------------------------------------

    def _note(self, path: str, media_type: str, size: int, became: Became, file: int = 0) -> None:
        self.parts.append(
            Part(path=path, media_type=media_type, size=size, became=became, file=file)
        )

    def _keep(
        self, content: bytes, declared: str, name: str, spot: _Spot,
        *, content_id: str = "", inline: bool = False, left_out: str = "", reason: str = "",
    ) -> None:  # fmt: skip
        position = len(self._files) + 1
        media = sniff(content)
        file = MailFile(
            position=position,
            name=name or f"file-{position}{file_type(media).ending}",
            declared_type=declared[:255],
            media_type=media,
            content=content,
            content_id=content_id,
            inline=inline,
            within=spot.within,
            left_out=left_out,
            reason=reason,
        )
        self._files.append(_File(spot, file))
        became = Became.LEFT_OUT if left_out else Became.FILE
        self._note(spot.path or "1", declared, len(content), became, position)

    def files(self) -> tuple[tuple[MailFile, ...], list[int]]:
        """All files, and for each the mail that it came in.

        Only now is known what the text shows: pictures of its dress and what
        came twice are left out here.
        """
        shown = [content_ids_in("\n".join(words.html)) for words in self.mails]
        letters = [replace(words.letter, text=words.text) for words in self.mails]
        seen: dict[str, MailFile] = {}
        files: list[MailFile] = []
        for each in self._files:
            file, mail = each.file, each.spot.mail
            file = replace(
                file,
                shown=bool(file.content_id) and file.content_id in shown[mail],
                letter=letters[mail] if mail else None,
            )
            if not file.left_out:
                file = _judged(file, seen)
            files.append(file)
        left = {file.position for file in files if file.left_out}
        self.parts = [
            replace(part, became=Became.LEFT_OUT) if part.file in left else part
            for part in self.parts
        ]
        return tuple(files), [each.spot.mail for each in self._files]


def _judged(file: MailFile, seen: dict[str, MailFile]) -> MailFile:
    signs = signs_of_dress(
        file.name, file.media_type, file.content, shown=file.shown, inline=file.inline
    )
    if len(signs) >= NEEDED:
        return replace(file, left_out=LeftOut.DRESS, reason="; ".join(signs))
    digest = hashlib.sha256(file.content).hexdigest()
    first = seen.setdefault(digest, file)
    if first is not file:
        return replace(file, left_out=LeftOut.REPEAT, reason=f"the same content as {first.name}")
    return file
