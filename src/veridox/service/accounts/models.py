"""People, their tokens, and answers kept for repeated requests."""

from enum import StrEnum

from django.contrib.auth.models import AbstractUser
from django.db import models
from django.utils.crypto import salted_hmac

from veridox.service.choices import choices


class Role(StrEnum):
    """What a person may do."""

    CLERK = "clerk"  # works at the desk
    APPROVER = "approver"  # takes responsibility for bills
    ADMIN = "admin"  # sets up pipelines, connections and people


class Person(AbstractUser):
    """Somebody who signs in.

    Sessions hold for one `epoch`: counting it up ends all of them, for good.
    """

    role = models.CharField(max_length=20, choices=choices(Role), default=Role.CLERK)
    epoch = models.PositiveIntegerField(default=1)

    def _get_session_auth_hash(self, secret: str | None = None) -> str:
        # Django's own, with the epoch besides the password.
        return salted_hmac(
            "veridox.session", f"{self.epoch} {self.password}", secret=secret, algorithm="sha256"
        ).hexdigest()


class SignInTries(models.Model):
    """Wrong sign-ins in a row under one name, whether anybody bears it or not."""

    name = models.CharField(max_length=150, unique=True)
    count = models.PositiveIntegerField(default=0)
    wait_until = models.DateTimeField(null=True)
    last_at = models.DateTimeField(auto_now=True)


class Scope(StrEnum):
    """What a token may do, within its person's role."""

    READ = "read"  # look at everything
    COMMENT = "comment"  # say something about a document
    WORK = "work"  # upload and act at the desk
    ACCEPT = "accept"  # be the second person: let hold what somebody else brought in
    ADMIN = "admin"  # set up pipelines, connections and people


class Token(models.Model):
    """A bearer token. Only a digest is kept; the token itself is shown once."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="tokens")
    name = models.CharField(max_length=100)
    digest = models.CharField(max_length=64, unique=True)
    start = models.CharField(max_length=12, help_text="first characters, to tell tokens apart")
    scopes = models.JSONField(default=list)
    created_at = models.DateTimeField(auto_now_add=True)
    expires_at = models.DateTimeField(null=True)
    revoked_at = models.DateTimeField(null=True)
    last_used_at = models.DateTimeField(null=True)


class StoredAnswer(models.Model):
    """The answer to a write with an `Idempotency-Key`."""

    actor = models.ForeignKey(Person, on_delete=models.CASCADE)
    key = models.CharField(max_length=200)
    request_digest = models.CharField(max_length=64)
    status = models.PositiveSmallIntegerField(null=True)
    body = models.JSONField(null=True)
    headers = models.JSONField(default=dict)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["actor", "key"], name="answer_once_per_key")]
