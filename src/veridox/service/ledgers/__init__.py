"""Posting to finance systems, exactly once."""
