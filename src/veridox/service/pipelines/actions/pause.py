"""Pause pipelines whose newest version a newer loader refuses."""

from django.db import transaction

from veridox.service.accounts.actors import Actor
from veridox.service.pipelines.models import Pipeline
from veridox.service.pipelines.queries import not_running
from veridox.service.trail.record import record


@transaction.atomic
def pause_refused(actor: Actor) -> dict[str, str]:
    """Every pipeline that cannot run, by name, with the reason; publishing starts it again."""
    refused = not_running()
    for pipeline in Pipeline.objects.select_for_update().filter(name__in=refused, paused=False):
        pipeline.paused = True
        pipeline.save(update_fields=["paused"])
        details = {"reason": refused[pipeline.name]}
        record(actor, "pipeline.paused", "pipeline", pipeline.name, details)
    return refused
