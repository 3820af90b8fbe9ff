"""Mails: what they consist of, and how one is taken apart."""
