"""Who sends a request: bearer tokens for programs, sessions for the console."""

import hashlib
import secrets
from datetime import timedelta

from django.db.models import Q
from django.utils import timezone
from rest_framework import authentication, exceptions
from rest_framework.request import Request

from veridox.service.accounts.models import Person, Token

PREFIX = "vdx_"


def digest(token: str) -> str:
    """What is stored of a token. Tokens are random, so a plain hash is enough."""
    return hashlib.sha256(token.encode()).hexdigest()


def new_token() -> str:
    """A fresh token with 256 bits of chance."""
    return PREFIX + secrets.token_urlsafe(32)


class TokenAuthentication(authentication.BaseAuthentication):
    """`Authorization: Bearer ...`"""

    def authenticate(self, request: Request) -> tuple[Person, Token] | None:
        """The person and token, None without the header."""
        header = request.headers.get("Authorization", "")
        kind, _, value = header.partition(" ")
        if kind.lower() != "bearer" or not value:
            return None
        now = timezone.now()
        token = (
            Token.objects.select_related("person")
            .filter(digest=digest(value.strip()), revoked_at=None, person__is_active=True)
            .filter(Q(expires_at=None) | Q(expires_at__gt=now))
            .first()
        )
        if token is None:
            raise exceptions.AuthenticationFailed("This token is unknown, expired or revoked.")
        if token.last_used_at is None or now - token.last_used_at > timedelta(minutes=1):
            Token.objects.filter(pk=token.pk).update(last_used_at=now)
        return token.person, token

    def authenticate_header(self, request: Request) -> str:
        """Makes DRF answer 401 instead of 403."""
        del request
        return 'Bearer realm="veridox"'


class ConsoleSession(authentication.SessionAuthentication):
    """The console's session cookie, with CSRF checks on writes."""
