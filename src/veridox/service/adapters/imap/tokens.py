"""Bearer tokens for mailboxes: OAuth 2 (RFC 6749), client credentials or refresh token."""

import threading
import time
from dataclasses import dataclass

import httpx

from veridox.service.adapters.imap.settings import MailboxSettings
from veridox.service.errors import AdapterError, UnreachableError

TIMEOUT = 15.0
EARLY = 60.0
"""Seconds before its end at which a token is renewed."""


@dataclass(frozen=True, slots=True)
class Grant:
    """What the token server gave. `refresh_token` is empty when it did not change."""

    access_token: str
    ends: float
    refresh_token: str = ""


_kept: dict[tuple[str, str, str], Grant] = {}
_lock = threading.Lock()


def _key(settings: MailboxSettings) -> tuple[str, str, str]:
    return settings.token_url, settings.client_id, settings.user


def forget(settings: MailboxSettings) -> None:
    """The mail server refused the token: the next one is asked for anew."""
    with _lock:
        _kept.pop(_key(settings), None)


def access_token(settings: MailboxSettings, secret: str, refresh_token: str) -> Grant:
    """A token that is good for at least a minute; asked for when none is kept.

    Raises:
        UnreachableError: the token server does not answer.
        AdapterError: it refuses; the reason is its own (`error`, RFC 6749, 5.2).
    """
    with _lock:
        known = _kept.get(_key(settings))
    if known is not None and known.ends - EARLY > time.time():
        return Grant(known.access_token, known.ends)
    form = {"client_id": settings.client_id, "client_secret": secret}
    if settings.scope:
        form["scope"] = settings.scope
    if refresh_token:
        form |= {"grant_type": "refresh_token", "refresh_token": refresh_token}
    else:
        form["grant_type"] = "client_credentials"
    grant = _ask(settings, form)
    with _lock:
        _kept[_key(settings)] = grant
    return grant


def _ask(settings: MailboxSettings, form: dict[str, str]) -> Grant:
    context = settings.ca_file or True
    try:
        answer = httpx.post(settings.token_url, data=form, timeout=TIMEOUT, verify=context)
    except httpx.HTTPError as error:
        raise UnreachableError(f"the token server does not answer: {error}") from error
    try:
        told = answer.json()
    except ValueError:
        told = {}
    if answer.status_code >= 500:
        raise UnreachableError(f"the token server fails ({answer.status_code})")
    if answer.status_code != 200 or not isinstance(told.get("access_token"), str):
        reason = told.get("error_description") or told.get("error") or answer.status_code
        raise AdapterError(f"the token server gives no token: {reason}")
    seconds = float(told.get("expires_in") or 300)
    return Grant(told["access_token"], time.time() + seconds, str(told.get("refresh_token") or ""))
