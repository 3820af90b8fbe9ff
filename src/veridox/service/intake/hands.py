"""Several mails taken apart at a time, while one line to the mail server fetches and marks."""

import time
from collections import deque
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor, wait
from typing import Self

from veridox.service.intake.taken import Taken

HANDS = 2
"""Mails taken apart at the same time: more would wait for the interpreter, not for readers."""
GROUP = 10
"""Mails stored in one transaction at most, and marked by one command."""
AHEAD = 2 * GROUP
"""Mails that are fetched before the first of them is stored."""
PATIENCE = 0.5
"""Seconds after which a group that is not full is stored all the same."""

Done = tuple[int, "Future[Taken]"]


class Hands:
    """Threads that take mails apart. They wait for readers and the disk, never for the database."""

    def __init__(self) -> None:
        self._given: deque[Done] = deque()
        self._since = time.monotonic()
        self._threads = ThreadPoolExecutor(HANDS, thread_name_prefix="hand")

    def give(self, uid: int, work: Callable[[], Taken]) -> None:
        """Have a mail taken apart; waits when too many are on their way."""
        self._given.append((uid, self._threads.submit(work)))
        if len(self._given) >= AHEAD:
            wait([future for _, future in list(self._given)[:GROUP]])

    def ready(self) -> list[Done]:
        """Those to be stored now, in their order: a full group, or what waited long enough."""
        done = 0
        while done < min(GROUP, len(self._given)) and self._given[done][1].done():
            done += 1
        if done < GROUP and time.monotonic() - self._since < PATIENCE:
            return []
        return self._group(done)

    def rest(self) -> Iterator[list[Done]]:
        """All others, group by group."""
        while self._given:
            yield self._group(GROUP)

    def _group(self, size: int) -> list[Done]:
        self._since = time.monotonic()
        return [self._given.popleft() for _ in range(min(size, len(self._given)))]

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self._threads.shutdown(wait=True, cancel_futures=True)
