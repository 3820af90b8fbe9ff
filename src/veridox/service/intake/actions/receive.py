"""Take in files: stored already, now known, and to be read or set aside."""

from collections.abc import Mapping
from typing import Any

from django.db import transaction

from veridox.core.findings import Finding, Weight
from veridox.core.pipeline.sorting import WITH_ITS_MAIL, Piece, Plan, plan_for
from veridox.core.readers.mail.content import LeftOut, Letter, MailFile
from veridox.service.accounts.actors import Actor
from veridox.service.errors import NotThereError, WrongStateError
from veridox.service.intake.actions.reading import defer_reading
from veridox.service.intake.models import File, FileState, Message
from veridox.service.intake.taken import Kept
from veridox.service.pipelines.actions.runs import joined
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.trail.record import record
from veridox.service.work import defer

_STUCK: dict[str, str] = {
    LeftOut.LOCKED: "file.password",
    LeftOut.LIMIT: "file.limit",
    LeftOut.DAMAGED: "file.broken",
}


def mail_file(
    message: Message,
    file: MailFile,
    kept: Kept,
    plan: Plan,
    *,
    left_out: str = "",
    is_body: bool = False,
) -> File:
    """A mail's file as it is to be stored: read, or set aside.

    Args:
        message: its mail, which may not be stored yet.
        file, kept: what taking the mail apart told of it, and how the store has it.
        plan: what becomes of it.
        left_out: why it is not read, where that is known already.
        is_body: the mail's own text.
    """
    aside = message.is_aside and plan.read
    return File(
        message=message,
        pipeline_version=message.pipeline_version,
        run=message.run,
        position=file.position,
        name=file.name,
        declared_type=file.declared_type,
        media_type=file.media_type,
        inline=file.inline,
        shown=file.shown,
        content_id=file.content_id,
        left_out=left_out,
        within=list(file.within),
        letter=letter_to_json(file.letter) if file.letter else None,
        is_body=is_body,
        size=kept.size,
        sha256=kept.sha256,
        state=FileState.RECEIVED if plan.read and not aside else FileState.ASIDE,
        reason=f"{WITH_ITS_MAIL}: {message.kind}" if aside else plan.reason,
        findings=[finding.to_json() for finding in _findings_on(file)],
    )


def _findings_on(file: MailFile) -> list[Finding]:
    """What a person must know of a file that could not be opened."""
    code = _STUCK.get(file.left_out)
    if code is None:
        return []
    hint = "Ask the sender for it without a password." if code == "file.password" else ""
    message = f"{file.name} could not be opened: {file.reason}."
    hint = hint or "Look at the original mail, or ask the sender for it again."
    return [Finding(code=code, weight=Weight.BLOCK, message=message, hint=hint)]


def letter_to_json(letter: Letter) -> dict[str, Any]:
    """A letter as it is stored."""
    return {
        "message_id": letter.message_id,
        "sender_name": letter.sender_name,
        "sender_address": letter.sender_address,
        "recipients": list(letter.recipients),
        "subject": letter.subject,
        "sent": letter.sent.isoformat() if letter.sent else None,
        "text": letter.text[:20_000],
    }


@transaction.atomic
def upload(
    actor: Actor,
    version: PipelineVersion,
    *,
    name: str,
    declared_type: str,
    media_type: str,
    sha256: str,
    size: int,
    known: Mapping[str, Any] | None = None,
    types: tuple[str, ...] = (),
    dropped_as: str | None = None,
) -> File:
    """A file handed in by a person or program, or dropped; its bytes are stored already.

    Args:
        actor, version: who, and the pipeline that takes it.
        name, declared_type, media_type, sha256, size: of the file.
        known: values of fields that are known beforehand, by name.
        types: types that are read, see `plan_for`.
        dropped_as: which file of a watched directory it was; a second one is refused
            by the database.
    """
    plan = plan_for(Piece(name=name, declared_type=declared_type, media_type=media_type), types)
    file = File.objects.create(
        uploaded_by=actor.name,
        pipeline_version=version,
        run=joined(version),
        name=name,
        declared_type=declared_type,
        media_type=media_type,
        size=size,
        sha256=sha256,
        known=dict(known or {}),
        dropped_as=dropped_as,
        state=FileState.RECEIVED if plan.read else FileState.ASIDE,
        reason=plan.reason,
    )
    if plan.read:
        defer_reading([file])
    details = {"name": name, "sha256": sha256, "size": size, "state": file.state}
    if known:
        details["known"] = dict(known)
    record(actor, "file.uploaded", "file", file.pk, details)
    return file


def mark_dropped(
    message: Message, version: PipelineVersion, name: str, sha256: str, size: int, key: str
) -> None:
    """Remember that a dropped file became a mail; within the caller's transaction."""
    File.objects.create(
        message=message,
        pipeline_version=version,
        position=0,
        name=name,
        media_type="message/rfc822",
        size=size,
        sha256=sha256,
        left_out="opened",
        dropped_as=key,
        state=FileState.ASIDE,
        reason="the mail as it was dropped; its files stand beside it",
    )


def _locked(file_id: int) -> File:
    file = File.objects.select_for_update(of=("self",)).filter(pk=file_id).first()
    if file is None:
        raise NotThereError(f"there is no file {file_id}")
    return file


@transaction.atomic
def take_in(actor: Actor, file_id: int) -> File:
    """Read a file that was left out or set aside, or that failed. Raises WrongStateError."""
    file = _locked(file_id)
    if file.state not in (FileState.ASIDE, FileState.FAILED):
        raise WrongStateError(f"{file.name} is {file.state}: it is read, or will be")
    before = file.reason
    file.state, file.left_out, file.reason, file.goes_with = FileState.RECEIVED, "", "", None
    file.save(update_fields=["state", "left_out", "reason", "goes_with"])
    defer_reading([file])
    record(actor, "file.taken_in", "file", file.pk, {"name": file.name, "was": before})
    return file


@transaction.atomic
def leave_out(actor: Actor, file_id: int, reason: str) -> File:
    """Say that a file which could not be opened need not be looked at any more."""
    file = _locked(file_id)
    if file.state != FileState.ASIDE:
        raise WrongStateError(f"{file.name} is {file.state}; only files set aside are left out")
    file.left_out, file.reason = "person", f"{reason} ({actor.name.partition(':')[2]})"
    file.save(update_fields=["left_out", "reason"])
    record(actor, "file.left_out", "file", file.pk, {"name": file.name, "reason": reason})
    if file.message_id:
        defer("settle", message_id=file.message_id)
    return file
