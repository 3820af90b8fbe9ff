"""A pipeline with facts in memory, and what comes of bills, files and mails."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from email.message import EmailMessage
from pathlib import Path
from typing import Any

from veridox.core.facts import EntityRecord, MemoryKnown
from veridox.core.matching import EarlierDocument, OrderRecord, VendorRecord
from veridox.core.money import Money
from veridox.core.pipeline import Definition
from veridox.core.pipeline.sorting import READ_BY_PLUGINS
from veridox.pluginhost import PluginHost
from veridox.readerpool import ReaderPool
from veridox.testing.paper import invoice_pdf
from veridox.trials import Trial


@dataclass(frozen=True)
class TriedDocument:
    """What a pipeline would do with a document; `raw` is what `pipeline try --json` says."""

    raw: Mapping[str, Any]

    @property
    def state(self) -> str:
        """Where it would stand: `cleared`, `at_desk`, `aside`, ..."""
        return str(self.raw["state"])

    @property
    def queue(self) -> str:
        """In which it would wait."""
        return str(self.raw["queue"])

    @property
    def reasons(self) -> list[str]:
        """Why it would stop."""
        return list(self.raw["reasons"])

    @property
    def findings(self) -> list[dict[str, Any]]:
        """What checks, rules and plug-ins said."""
        return list(self.raw["reading"]["findings"])

    @property
    def codes(self) -> list[str]:
        """Codes of the findings."""
        return [str(each["code"]) for each in self.findings]

    def told_by(self, plugin: str) -> list[dict[str, Any]]:
        """What one plug-in said."""
        return [each for each in self.findings if each["about"] == f"plug-in {plugin}"]

    @property
    def bill(self) -> dict[str, Any]:
        """The bill as it would be posted. Raises LookupError where none would be."""
        if self.raw["bill"] is None:
            raise LookupError(f"nothing would be posted: {self.state} {self.reasons}")
        return dict(self.raw["bill"])

    @property
    def sent(self) -> list[dict[str, Any]]:
        """What would be told whom: `event`, `to`, `channel`, `subject`, `text`."""
        return [each for each in self.raw["sent"] if each["goes"]]

    @property
    def not_sent(self) -> list[dict[str, Any]]:
        """What would not, by its condition (`when`) or a `problem`."""
        return [each for each in self.raw["sent"] if not each["goes"]]

    def value(self, name: str) -> Any:
        """What was read for a field. Raises KeyError when nothing was."""
        return self.raw["reading"]["fields"][name]["value"]

    @property
    def steps(self) -> dict[str, list[str]]:
        """What each stage looked at."""
        return {step["stage"]: list(step["looked"]) for step in self.raw["steps"]}


@dataclass(frozen=True)
class TriedMail:
    """What a pipeline would do with a mail or a file."""

    raw: Mapping[str, Any]

    @property
    def documents(self) -> list[TriedDocument]:
        """Everything that was read from it."""
        return [TriedDocument(each) for each in self.raw["documents"]]

    @property
    def taken(self) -> bool:
        """Whether a source of the pipeline would take the mail."""
        return any(each["taken"] for each in self.raw["collect"])

    @property
    def files(self) -> dict[str, str]:
        """Files by name, with why they are not read; empty for those that are."""
        return {each["name"]: each["reason"] for each in self.raw["files"]}


@dataclass
class Kit:
    """Facts in memory around one pipeline.

    Attributes:
        definition: of the pipeline.
        pool, host: readers and plug-ins, in processes of their own.
        now: when everything comes in.
        parameters: what is said for the run.
    """

    definition: Definition
    pool: ReaderPool
    host: PluginHost | None = None
    now: datetime = field(default_factory=lambda: datetime(2026, 11, 20, 9, 0, tzinfo=UTC))
    parameters: Mapping[str, str] = field(default_factory=dict)
    known: MemoryKnown = field(default_factory=MemoryKnown)

    def vendor(self, code: str, name: str, **more: Any) -> None:
        """A vendor of the master data; more: see `VendorRecord`."""
        row = VendorRecord(code=code, name=name, **more)
        self.known.every_vendor = [*self.known.every_vendor, row]

    def entity(self, code: str, name: str, tax_id: str = "", **more: Any) -> None:
        """One of our companies; more: see `EntityRecord`."""
        row = EntityRecord(code=code, name=name, tax_id=tax_id, **more)
        self.known.every_entity = [*self.known.every_entity, row]

    def order(
        self, number: str, vendor: str, net_total: str, *, invoiced: str = "", **more: Any
    ) -> None:
        """An order; amounts as `1000.00 GBP`. More: `closed`, `entity`."""
        total = _money(net_total)
        billed = _money(invoiced) if invoiced else Money.of("0", total.currency)
        row = OrderRecord(number=number, vendor=vendor, net_total=total, invoiced=billed, **more)
        self.known.every_order = [*self.known.every_order, row]

    def billed_before(self, vendor: str, number: str, reference: str = "1") -> None:
        """An earlier bill of a vendor, posted."""
        row = EarlierDocument(reference=reference, number=number, issued=None, state="posted")
        self.known.before[vendor] = [*self.known.before.get(vendor, ()), row]

    def bill(self, **fields: Any) -> TriedMail:
        """A bill drawn as PDF (`invoice_pdf`), handed in as a file."""
        return self.file("bill.pdf", invoice_pdf(**fields))

    def file(self, name: str, content: bytes | Path) -> TriedMail:
        """A file, by bytes or path; a mail is taken apart."""
        given = content.read_bytes() if isinstance(content, Path) else content
        return TriedMail(self._trial().of(name, given))

    def mail(
        self,
        *,
        subject: str,
        sender: str = "Brinefold Feeds Ltd <accounts@brinefold.example>",
        to: str = "ap@merrowmere.example",
        text: str = "Please find our invoice attached.\n",
        files: Mapping[str, bytes] | None = None,
        headers: Mapping[str, str] | None = None,
    ) -> TriedMail:
        """A mail with files by name."""
        mail = EmailMessage()
        mail["From"], mail["To"], mail["Subject"] = sender, to, subject
        for name, value in (headers or {}).items():
            mail[name] = value
        mail.set_content(text)
        for name, content in (files or {}).items():
            kind = "pdf" if name.lower().endswith(".pdf") else "octet-stream"
            mail.add_attachment(content, maintype="application", subtype=kind, filename=name)
        return TriedMail(self._trial().of("mail.eml", mail.as_bytes()))

    def _trial(self) -> Trial:
        if self.host is not None:
            for each in self.host.of("reader"):
                READ_BY_PLUGINS.update(each.declared["suffixes"])
        ours: Sequence[EntityRecord] = self.known.every_entity
        return Trial(
            pool=self.pool, definition=self.definition, known=lambda _: self.known,
            entities=tuple((each.name, each.tax_id) for each in ours),
            parameters=self.parameters, now=self.now, host=self.host,
        )  # fmt: skip


def _money(text: str) -> Money:
    amount, _, currency = text.partition(" ")
    return Money.of(amount, currency)
