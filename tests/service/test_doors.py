"""Who gets in, for how long, and what goes with a changed address."""

import os
import subprocess
import sys
from datetime import timedelta

import pytest
from django.test import Client
from django.utils import timezone

from tests.service.conftest import SYSTEM
from tests.service.test_api import V1, Caller
from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import SignInTries, Token
from veridox.service.connections.actions.manage import put_connection
from veridox.service.connections.models import Connection
from veridox.service.people.actions.people import change_own_password, change_person
from veridox.service.people.actions.sign_in import LONGEST, forget_old_tries, wait_after
from veridox.service.trail.models import Entry

WORD = "a long enough word"


def sign_in(name, password=WORD, client=None):
    client = client or Client(enforce_csrf_checks=False)
    data = {"username": name, "password": password}
    return client, client.post(V1 + "/session", data, content_type="application/json")


@pytest.mark.parametrize(("count", "seconds"), [
    (0, 0), (4, 0), (5, 1), (6, 2), (7, 4), (12, 128), (13, 256), (14, LONGEST), (400, LONGEST),
])  # fmt: skip
def test_pauses_after_wrong_passwords_grow_and_end(count, seconds):
    assert wait_after(count) == seconds


def test_wrong_passwords_are_slowed_down_by_name_and_told_by_the_trail(clerk):
    for _ in range(5):
        assert sign_in("Cleo", "wrong")[1].status_code == 401
    _, answer = sign_in("cleo")  # the right word, too soon
    assert (answer.status_code, int(answer["Retry-After"]) >= 1) == (429, True)
    assert "5 wrong sign-ins" in answer.json()["detail"]
    assert Entry.objects.filter(act="person.sign_in_refused").latest("number").details == {
        "wrong": 5, "wait_seconds": 1,
    }  # fmt: skip
    SignInTries.objects.update(wait_until=timezone.now() - timedelta(seconds=1))
    assert sign_in("cleo")[1].status_code == 200
    assert not SignInTries.objects.exists()
    assert Entry.objects.filter(act="person.signed_in_after").exists()


def test_other_names_are_not_slowed_down(clerk, admin):
    for _ in range(6):
        sign_in("cleo", "wrong")
    assert sign_in("ada")[1].status_code == 200


def test_names_of_nobody_are_slowed_down_just_the_same(db):
    for _ in range(5):
        sign_in("nobody", "wrong")
    assert sign_in("nobody", "wrong")[1].status_code == 429
    SignInTries.objects.update(last_at=timezone.now() - timedelta(days=2))
    forget_old_tries()
    assert not SignInTries.objects.exists()


@pytest.mark.parametrize("password", ["password123", "1234567890", "short", "cleo-cleo-cleo"])
def test_weak_passwords_are_refused(admin, password):
    rules = Caller(admin, "read", "admin")
    given = {"username": "cleo-cleo", "role": "clerk", "password": password}
    answer = rules.send("post", "/people", given)
    assert answer.status_code == 400
    assert answer.json()["errors"][0]["path"] == "password"


def ended(client, caller):
    return (
        client.get(V1 + "/session").json()["username"] is None,
        caller.get("/documents").status_code == 401,
    )


def test_a_new_password_ends_old_sessions_and_tokens(clerk, admin):
    client, _ = sign_in("cleo")
    caller = Caller(clerk, "read")
    assert ended(client, caller) == (False, False)
    change_person(Actor.of(admin), "cleo", {"password": "another long word"})
    assert ended(client, caller) == (True, True)
    assert Entry.objects.filter(act="person.changed").latest("number").details["tokens_ended"] == 1


def test_ones_own_new_password_does_so_too(clerk):
    client, _ = sign_in("cleo")
    caller = Caller(clerk, "read")
    change_own_password(Actor.of(clerk), WORD, "another long word")
    assert ended(client, caller) == (True, True)


def test_who_is_let_in_again_does_not_get_old_sessions_and_tokens_back(clerk, admin):
    client, _ = sign_in("cleo")
    caller = Caller(clerk, "read")
    change_person(Actor.of(admin), "cleo", {"active": False})
    assert ended(client, caller) == (True, True)
    change_person(Actor.of(admin), "cleo", {"active": True})
    assert ended(client, caller) == (True, True)
    assert not Token.objects.filter(person=clerk, revoked_at=None).exists()
    assert sign_in("cleo")[1].status_code == 200


LEDGER = {"url": "https://books.merrowmere.example"}


@pytest.mark.parametrize(("change", "kept"), [
    ({"timeout": 20.0}, True), ({"url": "https://books.merrowmere.example"}, True),
    ({"url": "https://elsewhere.example"}, False),
])  # fmt: skip
def test_a_secret_does_not_follow_a_changed_address(db, change, kept):
    put_connection(SYSTEM, "books", "ledger", LEDGER, "token")
    after = put_connection(SYSTEM, "books", "ledger", {**LEDGER, **change}, None)
    assert (after.secret is not None) is kept
    said = Entry.objects.filter(act="connection.saved").latest("number").details["secret"]
    assert said == ("unchanged" if kept else "taken away: the address changed")


@pytest.mark.parametrize(("key", "value"), [("host", "other.example"), ("port", 1993)])
def test_nor_does_a_mailboxs_password(db, key, value):
    given = {"host": "mail.example", "user": "ap"}
    put_connection(SYSTEM, "inbox", "mailbox", given, "word", "refresh")
    put_connection(SYSTEM, "inbox", "mailbox", {**given, "port": 993}, None)
    assert Connection.objects.get(name="inbox").secret is not None  # the usual port, spelled out
    put_connection(SYSTEM, "inbox", "mailbox", {**given, key: value}, None)
    after = Connection.objects.get(name="inbox")
    assert (after.secret, after.refresh_token, after.secret_at) == (None, None, None)


def test_a_new_secret_goes_with_a_new_address(db):
    put_connection(SYSTEM, "books", "ledger", LEDGER, "token")
    after = put_connection(SYSTEM, "books", "ledger", {"url": "https://e.example"}, "new")
    assert after.secret is not None


SHOW = """
import os; os.environ["DJANGO_SETTINGS_MODULE"] = "veridox.service.settings"
import django; django.setup()
from django.conf import settings as s
from django.test import Client
import json
answers = {host: Client(headers={"host": host}).get("/api/v1/nothing").status_code for host in %r}
print(json.dumps([s.SESSION_COOKIE_SECURE, s.CSRF_COOKIE_SECURE, s.SECURE_HSTS_SECONDS > 0,
  s.SECURE_PROXY_SSL_HEADER is not None, s.CSRF_TRUSTED_ORIGINS, answers]))
"""


@pytest.mark.parametrize(("url", "secure"), [
    ("https://ap.merrowmere.example", True), ("http://ap.merrowmere.example:8440", False),
    ("https://ap.merrowmere.example/veridox", True),
])  # fmt: skip
def test_hosts_cookies_and_proxies_follow_the_address(url, secure):
    import json

    hosts = ["ap.merrowmere.example", "127.0.0.1", "evil.example"]
    done = subprocess.run(
        [sys.executable, "-W", "ignore", "-c", SHOW % hosts], capture_output=True, text=True,
        env={**os.environ, "VERIDOX_URL": url},
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    *flags, origins, answers = json.loads(done.stdout.splitlines()[-1])
    assert flags == [secure] * 4
    assert origins == ["/".join(url.split("/")[:3])]
    assert answers == {"ap.merrowmere.example": 404, "127.0.0.1": 404, "evil.example": 400}


@pytest.mark.parametrize("url", ["ap.merrowmere.example", "ftp://x", "https://", "https://x/?a=b"])
def test_an_address_that_is_none_is_told(monkeypatch, url):
    from veridox.service.configuration import configuration
    from veridox.service.errors import ConfigurationError

    monkeypatch.setenv("VERIDOX_URL", url)
    with pytest.raises(ConfigurationError, match="VERIDOX_URL"):
        configuration()


def test_tls_contexts_are_made_once():
    from veridox.service.tls import tls_context

    assert tls_context("") is tls_context("")
