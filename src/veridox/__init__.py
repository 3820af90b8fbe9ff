"""Veridox: pipelines that take supplier invoices from mailboxes to the ledger."""

__version__ = "0.1.0"
