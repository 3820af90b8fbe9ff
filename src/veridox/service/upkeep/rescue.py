"""Jobs whose worker died, and jobs that were given up."""

import logging
from typing import Any

from asgiref.sync import sync_to_async
from django.conf import settings
from django.core.exceptions import ObjectDoesNotExist
from django.db import DatabaseError, connection

from veridox.service.accounts.actors import Actor
from veridox.service.connections.actions.manage import note_trouble
from veridox.service.documents.actions.store_reading import fail_file
from veridox.service.errors import STUMBLES, VeridoxError
from veridox.service.flow.actions.fail import fail
from veridox.service.house.models import Rescue
from veridox.service.ledgers.models import Posting
from veridox.service.notices.actions.sent import store_failed
from veridox.service.notices.models import Notice
from veridox.service.reports.actions.runs import fail_run

log = logging.getLogger(__name__)
HOUSE = Actor.system("house")
RESCUES = 2
"""A job whose worker died is given to another this many times."""
KEEP_DAYS = 7


async def rescue_stalled(app: Any) -> None:
    """Give jobs of dead workers to others; a job that kills its workers is given up."""
    from procrastinate.exceptions import UniqueViolation
    from procrastinate.jobs import Status
    from procrastinate.utils import utcnow

    stalled = await app.job_manager.get_stalled_jobs(
        seconds_since_heartbeat=settings.CONFIGURATION.stalled
    )
    for job in stalled:
        # Attempts count ordinary retries, too: after an outage a job may have many of those.
        if await sync_to_async(_rescues)(job.id) > RESCUES:
            await app.job_manager.finish_job(job, Status.FAILED, delete_job=False)
            continue
        try:
            await app.job_manager.retry_job(job, retry_at=utcnow())
        except UniqueViolation:
            # Its successor waits already, and could not begin as long as this one counts.
            log.warning("job of a dead worker has a successor", extra={"job": job.id})
            await app.job_manager.finish_job(job, Status.FAILED, delete_job=True)
        else:
            log.warning("job of a dead worker goes to another", extra={"job": job.id})


def _rescues(job_id: int) -> int:
    """Count a rescue of this job, this one included."""
    row, _ = Rescue.objects.get_or_create(job_id=job_id)
    row.count += 1
    row.save()
    return row.count


def settle_given_up() -> int:
    """Make visible what was given up: the file, document or notice says so, then the job goes."""
    with connection.cursor() as cursor:
        cursor.execute(
            "select id, task_name, args from procrastinate_jobs where status = 'failed'"
            " order by id limit 200"
        )
        rows = cursor.fetchall()
    settled = 0
    for job_id, task, args in rows:
        log.error("job %s was given up: %s %s", job_id, task, args, extra={"job": job_id})
        try:
            _settle(task, args if isinstance(args, dict) else _json(args))
        except (*STUMBLES, DatabaseError, ObjectDoesNotExist, VeridoxError):
            log.exception("job %s cannot be settled", job_id, extra={"job": job_id})
            continue
        with connection.cursor() as cursor:
            cursor.execute("delete from procrastinate_jobs where id = %s", [job_id])
        settled += 1
    return settled


def _json(text: Any) -> dict[str, Any]:
    import json

    loaded = json.loads(text)
    return loaded if isinstance(loaded, dict) else {}


def _settle(task: str, args: dict[str, Any]) -> None:
    reason = f"{task} did not succeed after several tries; see the log"
    if task == "read":
        fail_file(HOUSE, int(args["file_id"]), reason)
    elif task in ("advance", "read_again"):
        fail(HOUSE, int(args["document_id"]), reason)
    elif task == "post":
        posting = Posting.objects.filter(pk=args["posting_id"]).first()
        if posting is not None:
            fail(HOUSE, posting.document_id, posting.problem or reason)
    elif task == "tell":
        notice = Notice.objects.filter(pk=int(args["notice_id"])).first()
        if notice is not None:
            store_failed(HOUSE, notice.pk, notice.problem or reason)
    elif task in ("settle", "announce"):
        note_trouble(f"mail {args['message_id']}", reason)  # until it succeeds
    elif task == "recheck":
        note_trouble(f"recheck after an import of {args['what']}", reason)
    elif task == "report":
        fail_run(int(args["run_id"]), reason)


def purge_finished() -> None:
    """Finished jobs are of no use after some days; what they did is in the trail."""
    with connection.cursor() as cursor:
        cursor.execute(
            "delete from procrastinate_jobs j where status in ('succeeded', 'cancelled', 'aborted')"
            " and not exists (select 1 from procrastinate_events e where e.job_id = j.id"
            " and e.at > now() - make_interval(days => %s))",
            [KEEP_DAYS],
        )
        cursor.execute(
            "delete from house_rescue r where not exists"
            " (select 1 from procrastinate_jobs j where j.id = r.job_id)"
        )
