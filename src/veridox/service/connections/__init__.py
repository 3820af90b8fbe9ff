"""Connections to mailboxes, outgoing mail and ledgers."""
