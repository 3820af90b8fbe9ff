"""A worker: runs jobs in lanes of queues until it is told to stop."""

import asyncio
import logging
import signal
import sys
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor

from asgiref.sync import sync_to_async
from procrastinate import App
from procrastinate.contrib.django import app as app_of_django
from procrastinate.contrib.django.django_connector import DjangoConnector

from veridox.service.house.actions.held import INWARD, held, look

log = logging.getLogger(__name__)
SWITCH = 0.0005
"""Seconds after which a thread of a worker gives way; a tenth of Python's own."""
READING = "read"
HELD_EVERY = 2.0
"""Seconds between two looks whether an installation that is held may go on."""


def worker_app() -> App:
    """An app that runs jobs, beside the one that defers them.

    procrastinate's own management command swaps the connector of the one app,
    and jobs deferred inside jobs then leave Django's transaction. Two apps that
    share their tasks keep the deferring one on Django's connection.
    """
    from django.conf import settings

    running = App(
        connector=DjangoConnector(alias="default").get_worker_connector(),
        worker_defaults=settings.PROCRASTINATE_WORKER_DEFAULTS,
    )
    running.tasks = app_of_django.tasks
    running.periodic_registry = app_of_django.periodic_registry
    return running


def lanes(queues: Sequence[str], jobs: int) -> list[tuple[list[str], int]]:
    """Queues with how many of their jobs run at once.

    Reading takes long and comes in bursts: it gets a third of the places, so that it
    never keeps collecting, checking and posting waiting.
    """
    others = [queue for queue in queues if queue != READING]
    if not others or READING not in queues:
        return [(list(queues), jobs)]
    reading = max(1, jobs // 3)
    return [([READING], reading), (others, max(1, jobs - reading))]


async def run_worker(queues: list[str], jobs: int) -> None:
    """Work until told to stop (TERM waits for running jobs).

    A database that was restored elsewhere is worked on inwardly alone; once somebody
    lets it go on, the worker ends, and its supervisor starts it with all its queues.
    """
    # Threads that wait for a line in small pieces must not stand in for the interpreter each time.
    sys.setswitchinterval(SWITCH)
    loop = asyncio.get_running_loop()
    loop.set_default_executor(ThreadPoolExecutor(jobs + 4, thread_name_prefix="job"))
    is_held = (await sync_to_async(look)()).held_at is not None
    mine = [queue for queue in queues if queue in INWARD] if is_held else queues
    async with worker_app().open_async() as running:
        tasks = [
            asyncio.create_task(
                running.run_worker_async(
                    queues=lane, concurrency=places, install_signal_handlers=False
                )
            )
            for lane, places in (lanes(mine, jobs) if mine else ())
        ]
        if is_held:
            log.warning("held: the database was restored elsewhere", extra={"queues": mine})
            tasks.append(asyncio.create_task(_until_let_go()))

        def stop() -> None:
            for task in tasks:
                task.cancel()  # each lane ends its running jobs first

        for number in (signal.SIGTERM, signal.SIGINT):
            loop.add_signal_handler(number, stop)
        done, _ = await asyncio.wait(tasks, return_when=asyncio.FIRST_COMPLETED)
        stop()  # when one lane ends (the database went away), the others do, too
        await asyncio.gather(*tasks, return_exceptions=True)
    for task in done:
        if not task.cancelled() and (error := task.exception()) is not None:
            raise error


async def _until_let_go() -> None:
    while await sync_to_async(held)() is not None:
        await asyncio.sleep(HELD_EVERY)
