"""Periodic housekeeping, on a queue and worker of its own: busy slots would starve it."""

from asgiref.sync import sync_to_async
from procrastinate.contrib.django import app

from veridox.service.intake.actions.place import forget_refusals
from veridox.service.people.actions.sign_in import forget_old_tries
from veridox.service.reports.actions.runs import forget_old_runs
from veridox.service.upkeep import rescue as rescuing
from veridox.service.upkeep import runs, waits
from veridox.service.upkeep.heads import export_head
from veridox.service.upkeep.syncs import ask_for_due_syncs

QUEUE = "house"


@app.periodic(cron="* * * * * */5")
@app.task(queue=QUEUE, name="rescue", queueing_lock="rescue", pass_context=True)
async def rescue(context: object, timestamp: int) -> None:
    """Every five seconds: stalled jobs and given-up jobs."""
    del timestamp
    await rescuing.rescue_stalled(context.app)  # type: ignore[attr-defined]  # procrastinate's context
    await sync_to_async(rescuing.settle_given_up)()


@app.periodic(cron="* * * * * */10")
@app.task(queue=QUEUE, name="tend_runs", queueing_lock="tend runs")
def tend_runs(timestamp: int) -> None:
    """Every ten seconds: runs of pipelines begin, close and end."""
    del timestamp
    runs.tend()


@app.periodic(cron="* * * * *")
@app.task(queue=QUEUE, name="due_syncs", queueing_lock="due syncs")
def due_syncs(timestamp: int) -> None:
    """Every minute: ledgers are asked for what changed, as often as their connections say."""
    del timestamp
    ask_for_due_syncs()


@app.periodic(cron="23 * * * *")
@app.task(queue=QUEUE, name="tend_waits", queueing_lock="tend waits")
def tend_waits(timestamp: int) -> None:
    """Every hour: of what has waited long, people are told, or it goes to the desk."""
    del timestamp
    waits.tend_waits()


@app.periodic(cron="17 3 * * *")
@app.task(queue=QUEUE, name="purge", queueing_lock="purge")
def purge(timestamp: int) -> None:
    """Every night: finished jobs, and refusals of mails that nobody asks for any more."""
    del timestamp
    rescuing.purge_finished()
    forget_refusals()
    forget_old_runs()
    forget_old_tries()


@app.periodic(cron="7 0 * * *")
@app.task(queue=QUEUE, name="keep_head", queueing_lock="keep head")
def keep_head(timestamp: int) -> None:
    """Every night: the trail's head, as a file and by mail where that is set."""
    del timestamp
    export_head()
