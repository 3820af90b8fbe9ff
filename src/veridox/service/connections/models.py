"""A connection and its sealed secret."""

from enum import StrEnum

from django.db import models

from veridox.service.choices import choices


class ConnectionKind(StrEnum):
    """What is on the other side."""

    MAILBOX = "mailbox"  # mailbox (IMAP)
    OUTBOX = "outbox"  # outgoing mail (SMTP)
    LEDGER = "ledger"  # finance system
    CHAT = "chat"  # chat system (webhook)


KINDS = choices(ConnectionKind)


class Connection(models.Model):
    """How to reach another system. The secret is encrypted and write-only."""

    name = models.SlugField(max_length=63, unique=True)
    kind = models.CharField(max_length=20, choices=KINDS)
    driver = models.CharField(max_length=30, help_text="which adapter speaks with it")
    settings = models.JSONField(default=dict)
    secret = models.BinaryField(null=True)
    refresh_token = models.BinaryField(null=True)
    secret_at = models.DateTimeField(null=True, help_text="when the secret was set")
    created_at = models.DateTimeField(auto_now_add=True)
    last_good_at = models.DateTimeField(null=True)
    last_problem = models.TextField(blank=True, default="")
    last_problem_at = models.DateTimeField(null=True)


class Trouble(models.Model):
    """What does not work now and is no connection: a watched directory, the disk."""

    part = models.CharField(max_length=200, unique=True)
    problem = models.TextField()
    since = models.DateTimeField(auto_now_add=True)
    last_at = models.DateTimeField(auto_now=True)
