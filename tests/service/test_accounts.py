import pytest

from tests.service.conftest import SYSTEM
from veridox.service.accounts.actors import Actor
from veridox.service.accounts.authentication import digest, new_token
from veridox.service.accounts.models import Person, StoredAnswer, Token
from veridox.service.errors import BadInputError, NotThereError
from veridox.service.people.actions.people import create_person
from veridox.service.people.actions.tokens import create_token, revoke_token
from veridox.service.trail.models import Entry

pytestmark = pytest.mark.django_db


@pytest.mark.parametrize(("name", "word", "role", "said"), [
    ("cleo", "short", "clerk", "at least 10"),
    ("cleo", "a long enough word", "emperor", "none of clerk"),
])  # fmt: skip
def test_a_person_is_set_up_properly_or_not_at_all(name, word, role, said):
    with pytest.raises(BadInputError, match=said):
        create_person(SYSTEM, name, word, role)
    assert not Person.objects.exists()


def test_a_name_is_given_once(clerk):
    with pytest.raises(BadInputError, match="already"):
        create_person(SYSTEM, "cleo", "a long enough word", "clerk")


def test_neither_password_nor_token_is_in_the_trail(clerk):
    _, text = create_token(SYSTEM, clerk, "t", ["read"], 30)
    everything = str(list(Entry.objects.values()))
    assert "a long enough word" not in everything
    assert text not in everything


def test_tokens_are_long_random_and_recognisable():
    tokens = {new_token() for _ in range(50)}
    assert len(tokens) == 50
    assert all(each.startswith("vdx_") and len(each) > 40 for each in tokens)
    assert len(digest("x")) == 64


@pytest.mark.parametrize(("scopes", "days"), [([], None), (["rule"], None), (["read"], 0)])
def test_a_token_with_nonsense_is_refused(clerk, scopes, days):
    with pytest.raises(BadInputError):
        create_token(SYSTEM, clerk, "t", scopes, days)


def test_nobody_revokes_another_persons_token(clerk, admin):
    token, _ = create_token(SYSTEM, clerk, "t", ["read"], None)
    with pytest.raises(NotThereError):
        revoke_token(Actor.of(admin), token.pk, owner=admin)
    revoke_token(Actor.of(admin), token.pk, owner=None)
    assert Token.objects.get(pk=token.pk).revoked_at is not None


def test_revoking_twice_is_one_act(clerk):
    token, _ = create_token(SYSTEM, clerk, "t", ["read"], None)
    for _ in range(2):
        revoke_token(SYSTEM, token.pk, owner=None)
    assert Entry.objects.filter(act="token.revoked").count() == 1


def test_an_actor_is_named_as_the_trail_shows_it(clerk):
    assert Actor.of(clerk).name == "person:cleo"
    assert Actor.system("read").name == "system:read"


def test_answers_are_kept_apart_by_person(clerk, admin):
    for person in (clerk, admin):
        StoredAnswer.objects.create(actor=person, key="same", request_digest="x")
    assert StoredAnswer.objects.count() == 2
