"""Bills for codes that neither the demo nor the made-up year has: one each, as facts.

They go through the very checks and readers that the service uses: what is told of them is no text
of this module.
"""

import io
from collections.abc import Iterator
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from pathlib import Path
from typing import Any

from reportlab.pdfgen.canvas import Canvas

from veridox.core.checks import run_checks
from veridox.core.coding import (
    Dimension,
    GlAccount,
    LedgerCodes,
    Proposal,
    Share,
    Source,
    TaxCode,
    code_line,
)
from veridox.core.einvoice.compare import confirmed
from veridox.core.einvoice.payment import with_payments
from veridox.core.facts import CheckSettings, EntityRecord, ExchangeRate, Facts
from veridox.core.findings import Finding
from veridox.core.language import Subject
from veridox.core.matching import AgreedRate, Terms, VendorRecord
from veridox.core.money import Money
from veridox.core.pages import Box, Page, QrCode
from veridox.core.pipeline import load
from veridox.core.pipeline.definition import Coding
from veridox.core.pipeline.stages.coding import coding_findings
from veridox.core.pipeline.stages.rules import ruled
from veridox.core.readers.files import read_pages
from veridox.core.readers.limits import Limits
from veridox.core.reading import Field, Kind, Origin, Reading

SALTGLASS = VendorRecord(code="V1002", name="Saltglass Systems Ltd", tax_id="GB220519011",
                         country="GB")  # fmt: skip
TRUST = EntityRecord(code="aquarium-trust", name="Merrowmere Aquarium Trust", country="GB",
                     currency="GBP", tax_id="GB740175356")  # fmt: skip
DAY = date(2026, 11, 5)


def _money(amount: str, currency: str = "GBP") -> Money:
    return Money.of(amount, currency)


def _facts(number: str, *, vendor: VendorRecord = SALTGLASS, settings: CheckSettings | None = None,
           more: dict[str, Any] | None = None, **fields: Any) -> Facts:  # fmt: skip
    values = {
        "number": number, "issue_date": DAY, "currency": "GBP", "seller.name": vendor.name,
        "seller.tax_id": vendor.tax_id, "buyer.name": TRUST.name, "buyer.tax_id": TRUST.tax_id,
        "net_total": _money("1184.40"), "tax_total": _money("236.88"),
        "gross_total": _money("1421.28"), **fields,
    }  # fmt: skip
    reading = Reading(
        kind=Kind.INVOICE, kind_confidence=1.0,
        fields={n: v if isinstance(v, Field) else Field(value=v, confidence=1.0)
                for n, v in values.items() if v is not None},
    )  # fmt: skip
    given = {"reading": reading, "entity": TRUST, "vendor": vendor, "arrived": DAY,
             "settings": settings or CheckSettings(), **(more or {})}  # fmt: skip
    return Facts(**given)


def _of_checks() -> Iterator[Facts]:
    yield _facts("SG/10501", more={"fresh": {"vendors": DAY - timedelta(days=60)}})
    early = replace(SALTGLASS, terms=Terms(days=30, discount_days=10, discount_percent=Decimal(2)))
    yield _facts("SG/10502", vendor=early, more={"arrived": DAY + timedelta(days=8)})
    yield _facts("SG/10503", settings=CheckSettings(particulars="full"))
    yield _facts("SG/10504", more={"same_total": 5})
    abroad = replace(SALTGLASS, country="DE", tax_id="DE811128135")
    yield _facts("SG/10505", vendor=abroad)
    rate = ExchangeRate(currency="EUR", into="GBP", rate=Decimal("0.856"), day=DAY,
                        source="Merrowmere treasury")  # fmt: skip
    yield _facts(
        "SG/10506", more={"exchange": rate, "rates": (rate,)}, currency="EUR",
        net_total=_money("1184.40", "EUR"), tax_total=_money("236.88", "EUR"),
        gross_total=_money("1421.28", "EUR"), tax_total_accounting=_money("230.00"),
    )  # fmt: skip
    yield _facts("SG/10507", currency=Field(value="GBP", origin=Origin.DERIVED, confidence=0.7))
    mended = Field(value=_money("236.88"), text="286.88", origin=Origin.MENDED, confidence=0.6)
    yield _facts("SG/10508", tax_total=mended)


PIPELINE = Path(__file__).parent.parent / "demo/pipelines/supplier-invoices.pipeline.yaml"
RULES = """check:
  rules:
    - {name: large, when: gross_total > 1000 GBP, say: "{{ gross_total }} is more than usual."}
    - {name: by contract, when: contract_number == "C-7", say: "It is of the contract C-7."}
"""


def _of_rules() -> Iterator[Finding]:
    given = _facts("SG/10509")
    definition = load(PIPELINE.read_text(encoding="utf-8").replace("check:\n", RULES, 1))
    yield from ruled(definition.rules, Subject(facts=given), given.reading)


def _of_coding() -> Iterator[Finding]:
    """A line that is coded with a closed account, another rate's tax code, shares that fail."""
    given = _facts("SG/10511")
    codes = LedgerCodes(
        accounts={"6410": GlAccount(code="6410", name="Print and signs", closed=True)},
        tax_codes=(TaxCode(code="GB05", rate=Decimal(5)),),
    )
    amount = _money("1184.40")
    said = {
        Dimension.GL_ACCOUNT: "6410",
        Dimension.COST_CENTRE: "CC-99",
        Dimension.TAX_CODE: "GB05",
    }
    shares = (Share(percent=Decimal(60)), Share(percent=Decimal(30)))
    rows = ({"amount": Field(value=amount), "tax_rate": Field(value=Decimal(20))},)
    facts = replace(given, codes=codes, reading=replace(given.reading, lines=rows))
    guess = Proposal(
        source=Source.HISTORY, codes={Dimension.GL_ACCOUNT: "6410"},
        chances={Dimension.GL_ACCOUNT: 0.75}, why={Dimension.GL_ACCOUNT: "1 line like it"},
    )  # fmt: skip
    for proposal in (Proposal(source=Source.RULE, codes=said, shares=shares), guess, None):
        line = code_line(1, "Reef salt", amount, [proposal] if proposal else [])
        yield from coding_findings(Coding(need=frozenset({Dimension.GL_ACCOUNT})), facts, (line,))


def _of_cards() -> Iterator[Facts]:
    """Charges below the card, and in another unit."""
    given = _facts("SG/10512")
    rate = AgreedRate(card="2026", currency="GBP", wording="Pallet*", unit="pallet",
                      price=Decimal("19.50"))  # fmt: skip
    for unit, amount in (("pallet", "18.00"), ("box", "19.50")):
        row = {"description": Field(value="Pallet in store"), "quantity": Field(value=Decimal(1)),
               "unit": Field(value=unit), "amount": Field(value=_money(amount))}  # fmt: skip
        reading = replace(given.reading, lines=(row,))
        yield replace(given, reading=reading, agreed=(rate,), order=None, pairs=())


def _of_files() -> Iterator[tuple[str, Finding]]:
    out = io.BytesIO()
    canvas = Canvas(out)
    for _ in range(3):
        canvas.drawString(60, 700, "A page of many")
        canvas.showPage()
    canvas.save()
    locked = io.BytesIO()
    canvas = Canvas(locked, encrypt="a word")
    canvas.drawString(60, 700, "Invoice")
    canvas.save()
    files = {"empty.pdf": b"", "long.pdf": out.getvalue(), "locked.pdf": locked.getvalue()}
    for name, content in files.items():
        for finding in read_pages(content, Limits(pages=2)).findings:
            yield name, finding


def _of_structured() -> Iterator[Finding]:
    stated = _facts("SG/10510").reading
    printed = Field(value=_money("1481.28"), confidence=1.0, page=1, box=Box(400, 600, 460, 612))
    yield from confirmed(stated, stated.with_fields({"gross_total": printed}))[1]
    code = QrCode(text="BCD\n002\n1\nSCT\n\nSaltglass Systems Ltd\nGB11MRWK99000050600007\n"
                  "EUR1421.28", box=Box(60, 600, 160, 700))  # fmt: skip
    page = Page(number=1, width=595, height=842, words=(), codes=(code,))
    account = Field(value="GB71MRWK99000010201531", confidence=1.0)
    euros = {name: _money(f"{stated.money(name).amount}", "EUR")  # type: ignore[union-attr]
             for name in ("net_total", "tax_total", "gross_total")}  # fmt: skip
    of_print = stated.with_fields({n: Field(value=v, confidence=1.0) for n, v in euros.items()})
    yield from with_payments(of_print.with_fields({"account": account}), (page,))[1]


def every() -> Iterator[tuple[str, Finding]]:
    """Each finding with what it is of."""
    for facts in _of_checks():
        for finding in run_checks(facts):
            yield str(facts.reading.text("number")), finding
    for finding in _of_rules():
        yield "SG/10509", finding
    yield from _of_files()
    for finding in _of_structured():
        yield "SG/10510", finding
    for finding in _of_coding():
        yield "SG/10511", finding
    for facts in _of_cards():
        for finding in run_checks(facts):
            yield "SG/10512", finding
