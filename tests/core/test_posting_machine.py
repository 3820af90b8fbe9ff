"""Posting as a machine: from where a posting stands to the one thing to do next."""

from datetime import UTC, datetime, timedelta
from itertools import product

import pytest

from veridox.core.posting import (
    AskPerson,
    Attach,
    Done,
    LookUp,
    PostingState,
    Promises,
    ReadBack,
    Rehearse,
    Send,
    Wait,
    Where,
    next_step,
)

NOW = datetime(2026, 11, 29, 12, tzinfo=UTC)
SAFE = Promises(repeats_safely=True, late_window=60)
UNSAFE = Promises(repeats_safely=False, late_window=60)
P = PostingState


def ago(seconds):
    return NOW - timedelta(seconds=seconds)


@pytest.mark.parametrize(("where", "promises", "step"), [
    (Where(state=P.PREPARED), SAFE, Rehearse()),
    (Where(state=P.REFUSED), SAFE, Rehearse()),
    (Where(state=P.PREPARED, rehearsed=True), SAFE, Send()),
    (Where(state=P.SENDING, sent_at=ago(90)), SAFE, LookUp()),
    (Where(state=P.UNSURE, sent_at=ago(90)), UNSAFE, LookUp()),
    (Where(state=P.UNSURE, sent_at=ago(59), not_found=True), SAFE, Wait(1)),
    (Where(state=P.UNSURE, sent_at=ago(60), not_found=True), SAFE, Send()),
    (Where(state=P.UNSURE, sent_at=ago(90), not_found=True), UNSAFE, AskPerson()),
    (Where(state=P.UNSURE, sent_at=ago(90), not_found=True, looked_up_at=ago(30)), UNSAFE, Send()),
    # A person's word from before the last sending is used up.
    (Where(state=P.UNSURE, sent_at=ago(90), not_found=True, looked_up_at=ago(91)), UNSAFE,
     AskPerson()),
    (Where(state=P.UNSURE, sent_at=ago(10), not_found=True, looked_up_at=ago(5)), UNSAFE, Wait(50)),
    (Where(state=P.SENDING, not_found=True), UNSAFE, Wait(60)),
    (Where(state=P.POSTED), SAFE, Attach()),
    (Where(state=P.POSTED, attached=True), SAFE, ReadBack()),
    (Where(state=P.POSTED, attached=True, complete=True), SAFE, Done()),
    (Where(state=P.CANCELLED), SAFE, Done()), (Where(state=P.DRAFTED), SAFE, Done()),
])  # fmt: skip
def test_one_thing_follows(where, promises, step):
    assert next_step(where, promises, NOW) == step


def test_nothing_is_sent_before_it_was_looked_for_once_it_may_have_been_sent():
    """Whatever else is known: no promise, no word of a person and no rehearsal leads past it."""
    for state, promises, rehearsed, word in product(
        (P.SENDING, P.UNSURE), (SAFE, UNSAFE), (True, False), (None, ago(1))
    ):
        where = Where(state=state, sent_at=ago(500), rehearsed=rehearsed, looked_up_at=word)
        assert next_step(where, promises, NOW) == LookUp()


def test_without_a_promise_nothing_is_ever_sent_twice_by_itself():
    for state, sent in product((P.SENDING, P.UNSURE), (None, ago(0), ago(59), ago(3_600))):
        where = Where(state=state, sent_at=sent, not_found=True, rehearsed=True)
        assert not isinstance(next_step(where, UNSAFE, NOW), Send)
