"""Sign-in with growing pauses after wrong passwords."""

from collections.abc import Callable
from datetime import timedelta

from django.db import transaction
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Person, SignInTries
from veridox.service.errors import SlowDownError
from veridox.service.trail.record import record

FREE = 4
"""Wrong sign-ins in a row that cost no wait: people mistype."""
LONGEST = 300
"""Seconds of the longest wait; a name is never locked for good by somebody else's tries."""
DOOR = Actor.system("sign-in")


def wait_after(count: int) -> int:
    """Seconds to wait after so many wrong sign-ins in a row: 0 up to four, then 1, 2, 4 ... 300."""
    return 0 if count <= FREE else min(LONGEST, 2 ** min(count - FREE - 1, 20))


def sign_in(name: str, check: Callable[[], Person | None]) -> Person | None:
    """The person, or None when name or password is wrong.

    Args:
        name: as typed.
        check: whether the password is right; slow on purpose, so called outside the lock.

    Raises:
        SlowDownError: too many wrong tries under this name; says for how long.
    """
    key = name.strip().lower()[:150]
    _refuse_if_waiting(key)
    person = check()
    with transaction.atomic():
        SignInTries.objects.get_or_create(name=key)
        tries = SignInTries.objects.select_for_update().get(name=key)
        if person is not None:
            if tries.count:
                record(DOOR, "person.signed_in_after", "person", key, {"wrong": tries.count})
            tries.delete()
            return person
        tries.count += 1
        wait = wait_after(tries.count)
        tries.wait_until = timezone.now() + timedelta(seconds=wait) if wait else None
        tries.save()
        if wait or Person.objects.filter(username__iexact=key).exists():
            details = {"wrong": tries.count, "wait_seconds": wait}
            record(DOOR, "person.sign_in_refused", "person", key, details)
    return None


def _refuse_if_waiting(key: str) -> None:
    tries = SignInTries.objects.filter(name=key).first()
    if tries is None or tries.wait_until is None:
        return
    left = (tries.wait_until - timezone.now()).total_seconds()
    if left > 0:
        seconds = int(left) + 1
        raise SlowDownError(
            f"{tries.count} wrong sign-ins in a row under this name; try again in "
            f"{seconds} seconds.",
            retry_after=seconds,
        )


def forget_old_tries() -> None:
    """Housekeeping: what nobody tried for a day."""
    SignInTries.objects.filter(last_at__lt=timezone.now() - timedelta(days=1)).delete()
