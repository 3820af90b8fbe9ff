"""Structured e-invoices (EN 16931-1) as readings: UBL 2.1, UN/CEFACT CII; payment codes."""

from veridox.core.einvoice.compare import alike, confirmed
from veridox.core.einvoice.payment import payments, with_payments
from veridox.core.einvoice.read import EInvoiceProblemError, NotAnInvoiceError, structured_reading

__all__ = [
    "EInvoiceProblemError",
    "NotAnInvoiceError",
    "alike",
    "confirmed",
    "payments",
    "structured_reading",
    "with_payments",
]
