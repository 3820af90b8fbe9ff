"""Bills on paper for tests: plain, and easy to read."""

from collections.abc import Sequence
from decimal import Decimal
from html import escape
from typing import Any, Final

_LABELS: Final = {
    "number": "Invoice number", "issue_date": "Invoice date", "due_date": "Due date",
    "order_number": "Purchase order", "contract_number": "Contract no",
}  # fmt: skip


def invoice_pdf(
    *,
    lines: Sequence[tuple[str, str]],
    tax_rate: str = "0",
    tax_total: str = "",
    gross_total: str = "",
    exemption_reason: str = "Zero-rated supply",
    title: str = "Invoice",
    **fields: Any,
) -> bytes:
    """A bill as PDF.

    Args:
        lines: description and amount of each.
        tax_rate: in percent; empty for a bill that says nothing of tax.
        tax_total: other than the rate of the net total.
        gross_total: other than the sum, to test what does not add up.
        exemption_reason: why no tax is charged, printed at a rate of 0; empty for no reason.
        title: what it calls itself.
        fields: by the names of the catalogue: `number`, `issue_date`, `seller.name`,
            `seller.tax_id`, `buyer.name`, `currency`, `order_number`, ...
    """
    from weasyprint import HTML  # slow to import

    def stated(name: str) -> str:
        return escape(str(fields.get(name) or ""))

    currency = stated("currency")
    net = sum((Decimal(amount) for _, amount in lines), Decimal(0))
    usual = (net * Decimal(tax_rate or 0) / 100).quantize(Decimal("0.01"))
    tax = Decimal(tax_total) if tax_total else usual
    rows = "".join(
        f"<tr><td>{escape(what)}</td><td class=n>{Decimal(amount):,.2f}</td></tr>"
        for what, amount in lines
    )
    head = "".join(
        f"<tr><td>{label}</td><td>{stated(name)}</td></tr>"
        for name, label in _LABELS.items()
        if fields.get(name)
    )
    taxed = f"<tr><td>VAT {tax_rate} %</td><td class=n>{tax:,.2f}</td></tr>" if tax_rate else ""
    free = f"<p>{escape(exemption_reason)}</p>" if tax_rate == "0" else ""
    total = gross_total or f"{net + tax:,.2f}"
    page = f"""<style>@page{{size:A4;margin:20mm}} body{{font:11pt sans-serif}}
      table{{border-collapse:collapse;margin:6mm 0}} td,th{{padding:1mm 6mm 1mm 0;text-align:left}}
      .n{{text-align:right}}</style>
    <p><b>{stated("seller.name")}</b><br>VAT No {stated("seller.tax_id")}</p>
    <p>Bill to<br>{stated("buyer.name")}</p><h1>{escape(title)}</h1><table>{head}</table>
    <table><tr><th>Description</th><th class=n>Amount {currency}</th></tr>{rows}</table>
    <table><tr><td>Net total</td><td class=n>{net:,.2f}</td></tr>{taxed}
    <tr><td><b>Total {currency}</b></td><td class=n><b>{total}</b></td></tr></table>{free}"""
    made: bytes = HTML(string=page).write_pdf()
    return made
