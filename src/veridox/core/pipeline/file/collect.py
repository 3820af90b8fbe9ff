"""The part of a pipeline file that says what is collected."""

import re
from datetime import date, timedelta
from pathlib import PurePosixPath
from typing import cast

import yaml

from veridox.core.pipeline.definition import Collect, Folders
from veridox.core.pipeline.file import nodes
from veridox.core.pipeline.file.nodes import Problems, Section
from veridox.core.pipeline.wanted import Wanted


def collect_of(part: Section) -> Collect:
    """One item of `collect`; problems are noted."""
    return _directory(part) if "watch" in part.entries else _mailbox(part)


def _mailbox(part: Section) -> Collect:
    if "mailbox" not in part.entries:
        part.problems.add(part.node, part.path, f"{part.path} needs 'mailbox'",
                          "or 'watch', for a directory")  # fmt: skip
    folder = part.get("folder", nodes.text) or "INBOX"
    folders = _folders(part)
    if folder in (folders.done, folders.people, folders.failed):
        message = f"mails would be moved into {folder!r}, which is watched itself"
        part.problems.add(part.node, part.path, message)
    return Collect(
        mailbox=part.get("mailbox", nodes.slug) or "",
        folder=folder,
        only=_only(part),
        files=part.all_chosen("files"),
        body=part.chosen("body") or "never",
        afterwards=folders,
    )


def _directory(part: Section) -> Collect:
    for key in ("mailbox", "folder", "only", "body"):
        if key in part.entries:
            message = f"a watched directory has no {key!r}"
            part.problems.add(part.entries[key], part.child(key), message)
    return Collect(
        watch=part.get("watch", _below) or "",
        files=part.all_chosen("files"),
        afterwards=_folders(part),
    )


def _folders(part: Section) -> Folders:
    after = part.section("afterwards")
    usual = Folders()
    if after is None:
        return usual
    return Folders(
        done=after.get("done", nodes.text) or usual.done,
        people=after.get("people", nodes.text) or usual.people,
        failed=after.get("failed", nodes.text) or usual.failed,
        keyword=after.get("keyword", _keyword) or "",
    )


def _only(part: Section) -> Wanted:
    only = part.section("only")
    if only is None:
        return Wanted()
    unread, files = only.get("unread", nodes.truth), only.get("with_files", nodes.truth)
    # The type checker joins the two kinds of answer to `object`.
    since = cast("date | timedelta | None", only.get("since", _since))
    before = only.get("before", _day)
    if isinstance(since, date) and before is not None and since >= before:
        only.problems.add(only.entries["since"], only.child("since"),
                          f"no day is from {since} on and before {before}")  # fmt: skip
    return Wanted(
        unread=unread is not False,
        with_files=files is not False,
        senders=only.get("senders", nodes.some_texts) or (),
        recipients=only.get("recipients", nodes.some_texts) or (),
        subject=only.get("subject", nodes.some_texts) or (),
        text=only.get("text", nodes.some_texts) or (),
        keyword=only.get("keyword", _keyword) or "",
        since=since,
        before=before,
        file_names=only.get("file_names", nodes.some_texts) or (),
        at_most=only.get("at_most", _count) or Wanted().at_most,
    )


def _keyword(node: yaml.Node, path: str, problems: Problems) -> str | None:
    value = nodes.text(node, path, problems)
    # An atom of IMAP (RFC 3501, 9); system flags begin with a backslash.
    if value is not None and not re.fullmatch(r"[A-Za-z0-9$_.:+-]{1,60}", value):
        problems.add(node, path, f"{value!r} is no keyword: letters, digits and $ _ . : + -")
        return None
    return value


def _day(node: yaml.Node, path: str, problems: Problems) -> date | None:
    value = nodes.text(node, path, problems)
    try:
        return None if value is None else date.fromisoformat(value)
    except ValueError:
        problems.add(node, path, f"{value!r} is no day", "write it as 2026-03-31")
        return None


def _since(node: yaml.Node, path: str, problems: Problems) -> date | timedelta | None:
    value = nodes.text(node, path, problems)
    if value is not None and (match := re.fullmatch(r"(\d{1,4}) (day|week)s?", value)):
        return timedelta(days=int(match[1]) * (7 if match[2] == "week" else 1))
    try:
        return None if value is None else date.fromisoformat(value)
    except ValueError:
        hint = "write it as 90 days, 6 weeks or 2026-03-31"
        problems.add(node, path, f"{value!r} is neither a day nor a length of time", hint)
        return None


def _count(node: yaml.Node, path: str, problems: Problems) -> int | None:
    value = nodes.text(node, path, problems)
    if value is not None and not (re.fullmatch(r"\d{1,6}", value) and int(value) > 0):
        problems.add(node, path, f"{value!r} is not a number from 1 on")
        return None
    return int(value) if value else None


def _below(node: yaml.Node, path: str, problems: Problems) -> str | None:
    value = nodes.text(node, path, problems)
    if value is None:
        return None
    parts = PurePosixPath(value).parts
    if value.startswith("/") or ".." in parts or "\\" in value:
        hint = "name it relative to the folder for drops, as in drop/uk"
        problems.add(node, path, f"{value!r} leads out of the folder for drops", hint)
        return None
    return str(PurePosixPath(value))
