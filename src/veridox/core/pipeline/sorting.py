"""Which files of a mail are read, and which go with a bill. Pure: names and types in, plan out."""

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import PurePosixPath

from veridox.core.filetypes import NAMED, PDF, TIFF, XML, Beside, file_type
from veridox.core.readers.mail.content import MailFile

READ_BY_PLUGINS: set[str] = set()
"""Endings of names of files that plug-ins read; filled when a process begins."""
WITH_ITS_MAIL = "its mail is set aside"
"""Begins the reason of a file that would be read if it had come in another mail."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Piece:
    """What is known of a file before it is read.

    Attributes:
        left_out, reason: set when taking the mail apart set it aside.
        is_body: the mail's own text.
        in_text: the mail's text shows it (a picture between its lines).
        size: in bytes.
        within: archives and mails that it lay in.
    """

    name: str
    declared_type: str
    media_type: str
    left_out: str = ""
    reason: str = ""
    is_body: bool = False
    in_text: bool = False
    size: int = 0
    within: tuple[str, ...] = ()


def piece_of(file: MailFile, size: int, left_out: str = "", reason: str = "") -> Piece:
    """What is known of a file of a mail; `left_out` and `reason` where more is known of it."""
    return Piece(
        name=file.name,
        declared_type=file.declared_type,
        media_type=file.media_type,
        left_out=file.left_out or left_out,
        reason=file.reason or ("" if file.left_out else reason),
        in_text=file.inline or file.shown,
        size=size,
        within=file.within,
    )


@dataclass(frozen=True, kw_only=True, slots=True)
class Plan:
    """What becomes of a file.

    Attributes:
        read: whether it is read.
        reason: why not.
        goes_with: index of the file that it supports, or None.
    """

    read: bool
    reason: str = ""
    goes_with: int | None = None


def claims_pdf(piece: Piece) -> bool:
    """A PDF by content, or one that claims to be: a broken one is told to a person."""
    return PDF in (piece.media_type, piece.declared_type.lower()) or (
        piece.name.lower().endswith(".pdf")
    )


def plan_for(piece: Piece, types: tuple[str, ...]) -> Plan:
    """What becomes of one file by itself.

    Args:
        piece: the file.
        types: names of types that the pipeline reads; empty for the usual ones.
    """
    if piece.left_out:
        return Plan(read=False, reason=piece.reason)
    media = PDF if claims_pdf(piece) else piece.media_type
    if piece.is_body:
        return Plan(read=True)
    listed = {NAMED[name].media_type for name in types}
    if listed and media not in listed:
        return Plan(read=False, reason=f"the pipeline reads {', '.join(types)} only")
    if piece.name.lower().endswith(tuple(READ_BY_PLUGINS)):
        return Plan(read=True)
    kind = file_type(media)
    if not kind.name:
        return Plan(read=False, reason=f"{media} is not read; it is kept with its mail")
    if kind.listed and not listed:
        return Plan(read=False, reason=f"{media} is read when the pipeline lists it under files")
    return Plan(read=True)


def plans_for(pieces: Sequence[Piece], types: tuple[str, ...]) -> list[Plan]:
    """What becomes of the files of one mail, and which of them belong together."""
    plans = [plan_for(piece, types) for piece in pieces]
    bills = [at for at, plan in enumerate(plans) if plan.read and not pieces[at].is_body]
    best = min((_rank(pieces[at]) for at in bills), default=0)
    for at in bills:
        if _rank(pieces[at]) > best and not _is_listed(pieces[at], types):
            plans[at] = Plan(read=False, reason=_WHY_BESIDE[_rank(pieces[at])])
    bills = [at for at in bills if plans[at].read]
    return [
        plan if plan.read or pieces[at].left_out else _beside(at, plan, pieces, bills)
        for at, plan in enumerate(plans)
    ]


_WHY_BESIDE = {1: "beside a bill it supports it", 2: "a picture of the letter beside a bill"}
SMALL = 40_000
"""Bytes of a picture that is more likely a badge or a signature than a page."""


def _rank(piece: Piece) -> int:
    """How likely a file is the bill of its mail; what is less likely is so only when alone."""
    beside = file_type(piece.media_type).beside
    if claims_pdf(piece) or beside is Beside.BILL:
        return 0
    if beside is Beside.SUPPORTS:
        return 1
    small = piece.size <= SMALL and piece.media_type != TIFF
    return 2 if piece.in_text or small else 0


def _is_listed(piece: Piece, types: tuple[str, ...]) -> bool:
    return piece.media_type in {NAMED[name].media_type for name in types}


def _beside(at: int, plan: Plan, pieces: Sequence[Piece], bills: list[int]) -> Plan:
    """The bill that a kept file goes with: of the same name, else the one before it."""
    mine = pieces[at]
    near = [bill for bill in bills if pieces[bill].within == mine.within] or bills
    if not near:
        return plan
    same = [bill for bill in near if _stem(pieces[bill]) == _stem(mine)]
    before = [bill for bill in near if bill < at]
    bill = (same or before[-1:] or near)[0]
    if mine.media_type == XML and (same or len(near) == 1):
        reason = f"the structured form of {pieces[bill].name}"
    else:
        reason = f"goes with {pieces[bill].name}"
    return Plan(read=False, reason=reason, goes_with=bill)


def _stem(piece: Piece) -> str:
    return PurePosixPath(piece.name).stem.casefold()
