"""One mail or file through one pipeline, stage by stage; nothing is sent, moved or posted."""

import base64
import hashlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from decimal import Decimal
from functools import partial
from typing import Any

from veridox.core.facts import Known, MailFact
from veridox.core.filetypes import MAILS, XML
from veridox.core.language import Names
from veridox.core.matching import SenderFact
from veridox.core.pipeline import Collect, Definition, conditions, facts_of_content
from veridox.core.pipeline.naming import names_of_bytes, names_of_content
from veridox.core.pipeline.parameters import texts_of, values_of_texts
from veridox.core.pipeline.sorting import Plan, piece_of, plans_for
from veridox.core.pipeline.trying import Given, as_json, try_reading
from veridox.core.readers.mail.authentication import authentication_of
from veridox.core.readers.mail.content import MailContent, MailFile
from veridox.core.readers.mail.documents import body_file, body_is_document
from veridox.core.readers.sniff import sniff
from veridox.core.reading import FIELDS, Reading
from veridox.pluginhost import PluginHost, ask
from veridox.pluginhost.reading import read_by_plugin, reader_of
from veridox.readerpool import ReadAnswer, ReaderPool, ReaderStoppedError

DPI = 80
"""Of pages that are drawn beside."""
FLAGS = ("unread", "keyword")
"""Conditions on what only a server knows of a mail; they are taken as met."""


@dataclass(frozen=True, kw_only=True)
class Trial:
    """Tries one pipeline.

    Attributes:
        pool: reads mails and files in limited processes.
        definition: of the pipeline.
        known: who knows vendors, orders and earlier documents, for a reading.
        entities: names and tax ids of our own companies, for readers.
        until: place after which it ends; empty for the whole road.
        parameters: what is said for the run, as texts by name.
        values: known beforehand, by field.
        now: when the mail or file came in.
        host: runs plug-ins; None for none.
        pictures: pages of each file that are drawn beside, for a console.
        server: authserv-id whose Authentication-Results are trusted; empty for none.
    """

    pool: ReaderPool
    definition: Definition
    known: Callable[[Reading], Known]
    entities: tuple[tuple[str, str], ...] = ()
    until: str = ""
    parameters: Mapping[str, str] | None = None
    values: Mapping[str, object] | None = None
    now: datetime | None = None
    host: PluginHost | None = None
    pictures: int = 0
    server: str = ""

    def of(self, name: str, content: bytes) -> dict[str, Any]:
        """A file; a mail is taken apart. Shape: `mail`, `collect`, `files`, `documents`.

        Raises:
            ParameterError: a parameter of the run that is none, or that must be said.
            EditError: a value known beforehand cannot be used.
        """
        if sniff(content) in MAILS:
            return self.mail(name, content)
        names = names_of_bytes(name, sniff(content), len(content), 1)
        names["received"] = self._now.date()
        files = (_file_names(name, sniff(content), len(content), 1),)
        return {
            "mail": None,
            "collect": [],
            "files": [{"name": name, "read": True, "reason": ""}],
            "documents": self._documents(name, content, names, files),
        }

    @property
    def _now(self) -> datetime:
        return self.now or datetime.now(UTC)

    def mail(self, name: str, content: bytes) -> dict[str, Any]:
        """A mail with all of its files."""
        try:
            mail = self.pool.mail(content)
        except ReaderStoppedError as error:
            reason = f"the mail cannot be taken apart: {error}"
            return {"mail": None, "collect": [], "documents": [],
                    "files": [{"name": name, "read": False, "reason": reason}]}  # fmt: skip
        collect = next(
            (each for each in self.definition.collect if self._taken(each, mail)),
            next((each for each in self.definition.collect if each.mailbox), Collect()),
        )
        files, plans = _sorted(mail, collect)
        kept = [file for file, plan in zip(files, plans, strict=True) if not file.left_out]
        names_of_files = tuple(
            _file_names(each.name, each.media_type, len(each.content), each.position)
            for each in kept
        )
        documents: list[dict[str, Any]] = []
        for at, (file, plan) in enumerate(zip(files, plans, strict=True)):
            if plan.read:
                names = {**names_of_content(mail, file), "received": self._now.date()}
                beside = _structured(at, files, plans)
                fact = _mail_fact(mail, file, self.server)
                documents += self._documents(
                    file.name, file.content, names, names_of_files, beside, fact
                )
        return {
            "mail": _letter(mail),
            "collect": [self._collected(each, mail) for each in self.definition.collect
                        if each.mailbox],
            "files": [
                {"name": file.name, "read": plan.read, "reason": plan.reason}
                for file, plan in zip(files, plans, strict=True)
            ],
            "documents": documents,
        }  # fmt: skip

    def _taken(self, collect: Collect, mail: MailContent) -> bool:
        return bool(collect.mailbox) and bool(self._collected(collect, mail)["taken"])

    def _collected(self, collect: Collect, mail: MailContent) -> dict[str, Any]:
        """Whether a source would take it, condition by condition."""
        only = replace(collect.only, unread=False, keyword="")
        seen = list(conditions(only, facts_of_content(mail, self._now), self._now.date()))
        taken_as_met = [
            {"name": name, "met": True, "said": "taken as met: only the server knows"}
            for name in FLAGS
            if getattr(collect.only, name)
        ]
        return {
            "source": f"{collect.mailbox} {collect.folder}",
            "taken": all(each.met for each in seen),
            "conditions": taken_as_met
            + [{"name": each.name, "met": each.met, "said": each.said} for each in seen],
        }

    def _documents(
        self, name: str, content: bytes, names: Names, files: tuple[Names, ...],
        structured: bytes = b"", fact: MailFact | None = None,
    ) -> list[dict[str, Any]]:  # fmt: skip
        answer = self._read(name, content, structured)
        pages = self._pages(content, answer)
        text = "\n".join(str(page.get("text", "")) for page in answer.pages)
        fact = replace(fact or MailFact(), text=text)
        documents = []
        for reading in answer.readings or (Reading(),):
            own = tuple(
                each for each in answer.findings
                if len(answer.readings) < 2 or each.page in (None, *reading.source.pages)
            )  # fmt: skip
            given = Given(
                mail=names, files=files, around=self._around(), findings=own,
                known=self.values or {}, today=self._now.date(), fact=fact,
            )  # fmt: skip
            tried = try_reading(
                self.definition,
                reading,
                self.known(reading),
                given,
                self.until,
                ask=partial(ask, self.host) if self.host is not None else None,
            )
            documents.append({"file": name, "pages": pages, **as_json(tried)})
        return documents

    def _pages(self, content: bytes, answer: ReadAnswer) -> list[dict[str, Any]]:
        """The first pages as pictures, with their sizes in points."""
        found = []
        for page in answer.pages[: self.pictures]:
            upright = answer.pictures.get(page["number"])
            try:
                picture = (
                    self.pool.shown(upright, DPI) if upright
                    else self.pool.picture(content, page["number"], DPI)
                )  # fmt: skip
            except (ReaderStoppedError, LookupError):
                continue  # what has no picture is told by its findings
            found.append({
                "number": page["number"], "width": page["width"], "height": page["height"],
                "picture": base64.b64encode(picture).decode(),
            })  # fmt: skip
        return found

    def _around(self) -> Names:
        parameters = self.definition.run.parameters
        texts = texts_of(parameters, self.parameters or {})
        return {"pipeline": self.definition.name, **values_of_texts(parameters, texts)}

    def _read(self, name: str, content: bytes, structured: bytes) -> ReadAnswer:
        sha256 = hashlib.sha256(content).hexdigest()
        if self.host is not None and (reader := reader_of(self.host, name)):
            return read_by_plugin(
                self.host, reader, content, name=name, sha256=sha256, media_type=sniff(content)
            )
        declared = [
            each.field for each in self.definition.declared if each.field.name not in FIELDS
        ]
        return self.pool.read(
            content, sha256=sha256, name=name,
            buyers=self.entities, structured=structured, extra=declared,
        )  # fmt: skip


def _sorted(mail: MailContent, collect: Collect) -> tuple[list[MailFile], list[Plan]]:
    """The files of a mail with what becomes of each, its own text last where it is a document."""
    files = list(mail.files)
    plans = plans_for([piece_of(file, len(file.content)) for file in files], collect.files)
    if body_is_document(mail, collect.body):
        files.append(body_file(mail))
        plans.append(Plan(read=True))
    return files, plans


def _structured(at: int, files: Sequence[MailFile], plans: Sequence[Plan]) -> bytes:
    """The XML that goes with a file, where there is exactly one."""
    beside = [
        file.content for file, plan in zip(files, plans, strict=True)
        if plan.goes_with == at and file.media_type == XML
    ]  # fmt: skip
    return beside[0] if len(beside) == 1 else b""


def _file_names(name: str, media_type: str, size: int, position: int) -> Names:
    return {"name": name, "type": media_type, "size": Decimal(size), "position": Decimal(position)}


def _mail_fact(mail: MailContent, file: MailFile, server: str) -> MailFact:
    """What the mail of a file tells the checks; of a forwarded one, of the inner mail."""
    inner = file.letter or mail.forwarded
    if inner is not None:
        sender = SenderFact(address=inner.sender_address, forwarded=True)
    else:
        found = authentication_of(mail.headers, server, mail.sender_address)
        sender = SenderFact(address=mail.sender_address, passed=found.passed,
                            failed=found.failed, said=found.said)  # fmt: skip
    return MailFact(sender=sender if sender.address else None, recipients=tuple(mail.recipients))


def _letter(mail: MailContent) -> dict[str, Any]:
    letter = mail.letter
    return {
        "kind": mail.kind.value,
        "sender": letter.sender_address,
        "sender_name": letter.sender_name,
        "recipients": list(letter.recipients),
        "subject": letter.subject,
    }
