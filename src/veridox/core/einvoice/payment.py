"""Payment codes on paper: EPC069-12 (SEPA credit transfer) and the Swiss QR-bill."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal, InvalidOperation

from veridox.core.findings import Finding, Weight
from veridox.core.money import Money
from veridox.core.pages import Box, Page
from veridox.core.reading import Field, Kind, Origin, Reading

SURE = 0.999
"""A QR code carries its own check: it is read right or not at all."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Payment:
    """What a code asks for.

    Attributes:
        account: IBAN without spaces.
        payee: its holder.
        amount: None when the payer is to fill it in.
        reference: for the payee, empty for none.
        page, box: where the code stands.
    """

    account: str
    payee: str
    amount: Money | None
    reference: str
    page: int
    box: Box


def payments(pages: Sequence[Page]) -> list[Payment]:
    """The payment codes of these pages; other codes are left alone."""
    found = []
    for page in pages:
        for code in page.codes:
            lines = [line.strip() for line in code.text.splitlines()]
            parsed = _epc(lines) or _swiss(lines)
            if parsed is not None:
                account, payee, amount, reference = parsed
                found.append(
                    Payment(
                        account=account, payee=payee, amount=amount, reference=reference,
                        page=page.number, box=code.box,
                    )
                )  # fmt: skip
    return found


_Parsed = tuple[str, str, Money | None, str]


def _epc(lines: list[str]) -> _Parsed | None:
    """EPC069-12: BCD, version, character set, SCT, BIC, name, IBAN, EUR and amount, purpose,
    structured reference, text."""
    if len(lines) < 7 or lines[0] != "BCD" or lines[3] != "SCT":
        return None
    lines += [""] * (11 - len(lines))
    amount = _money(lines[7][3:], lines[7][:3]) if lines[7] else None
    return _bare(lines[6]), lines[5], amount, lines[9] or lines[10]


def _swiss(lines: list[str]) -> _Parsed | None:
    """Swiss Implementation Guidelines QR-bill: SPC, version, coding, IBAN, creditor (7 lines),
    final creditor (7), amount, currency, debtor (7), kind of reference, reference."""
    if len(lines) < 28 or lines[0] != "SPC":
        return None
    amount = _money(lines[18], lines[19]) if lines[18] else None
    return _bare(lines[3]), lines[5], amount, lines[28] if len(lines) > 28 else ""


def _bare(account: str) -> str:
    return "".join(account.split()).upper()


def _money(amount: str, currency: str) -> Money | None:
    try:
        return Money(amount=Decimal(amount), currency=currency)
    except (InvalidOperation, ValueError):
        return None


def with_payments(reading: Reading, pages: Sequence[Page]) -> tuple[Reading, tuple[Finding, ...]]:
    """The reading with the account of its payment code, and where code and print differ."""
    asked = payments(pages)
    if len(asked) != 1 or reading.kind not in (Kind.INVOICE, Kind.CREDIT_NOTE):
        return reading, ()  # several codes: which one holds is for a person to see
    (payment,) = asked
    findings = []
    printed = reading.fields.get("account")
    if printed is None:
        account = Field(
            value=payment.account, text=payment.account, page=payment.page, box=payment.box,
            confidence=SURE, origin=Origin.CODE,
        )  # fmt: skip
        reading = reading.with_fields({"account": account})
    elif _bare(str(printed.value)) != payment.account:
        findings.append(
            _finding(payment, "account", Weight.BLOCK, str(printed.value), payment.account)
        )
    elif printed.origin in (Origin.TEXT, Origin.OCR):
        sure = replace(printed, confidence=max(printed.confidence, SURE))
        reading = reading.with_fields({"account": sure})
    due = reading.money("amount_due") or reading.money("gross_total")
    if payment.amount is not None and due is not None and due.rounded() != payment.amount.rounded():
        findings.append(
            _finding(payment, "gross_total", Weight.WARN, str(due), str(payment.amount))
        )
    return reading, tuple(findings)


def _finding(payment: Payment, name: str, weight: Weight, printed: str, coded: str) -> Finding:
    what = "account" if name == "account" else "amount"
    message = f"The payment code asks for {what} {coded}, printed is {printed}."
    return Finding(
        code="payment.code_differs",
        weight=weight,
        fields=(name,),
        page=payment.page,
        box=payment.box,
        expected=printed,
        found=coded,
        message=message,
        letter=message,
        hint="Compare with the vendor's master data; ask the vendor before anything is paid.",
    )
