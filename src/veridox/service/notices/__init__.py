"""Mails that tell people what happened."""
