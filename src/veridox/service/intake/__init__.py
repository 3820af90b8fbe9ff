"""Mailboxes: what came in, and what became of it."""
