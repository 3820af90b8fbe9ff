"""Pause a pipeline and let it go on; pause those that a newer release refuses."""

from django.db import transaction

from veridox.service.accounts.actors import Actor
from veridox.service.errors import WrongStateError
from veridox.service.pipelines.models import Pipeline
from veridox.service.pipelines.queries import not_running, pipeline_named
from veridox.service.trail.record import record


@transaction.atomic
def pause(actor: Actor, name: str, reason: str = "") -> Pipeline:
    """It collects nothing until it is resumed; what came in goes on.

    Raises:
        NotThereError, WrongStateError: there is none, or it is paused already.
    """
    return _set(actor, name, paused=True, reason=reason)


@transaction.atomic
def resume(actor: Actor, name: str) -> Pipeline:
    """It collects again. Raises as `pause`, and where its version does not pass its check."""
    return _set(actor, name, paused=False)


def _set(actor: Actor, name: str, *, paused: bool, reason: str = "") -> Pipeline:
    pipeline_named(name)
    pipeline = Pipeline.objects.select_for_update().get(name=name)
    if pipeline.paused is paused:
        raise WrongStateError(f"pipeline {name} is {'paused' if paused else 'running'} already")
    if not paused and (refused := not_running().get(name)):
        raise WrongStateError(f"pipeline {name}: {refused}")
    pipeline.paused, pipeline.pause_reason = paused, ""
    pipeline.save(update_fields=["paused", "pause_reason"])
    what = "pipeline.paused" if paused else "pipeline.resumed"
    record(actor, what, "pipeline", name, {"reason": reason} if reason else {})
    return pipeline


@transaction.atomic
def pause_refused(actor: Actor) -> dict[str, str]:
    """Every pipeline that cannot run, by name, with the reason; publishing starts it again."""
    refused = not_running()
    for pipeline in Pipeline.objects.select_for_update().filter(name__in=refused, paused=False):
        pipeline.paused, pipeline.pause_reason = True, refused[pipeline.name]
        pipeline.save(update_fields=["paused", "pause_reason"])
        details = {"reason": refused[pipeline.name]}
        record(actor, "pipeline.paused", "pipeline", pipeline.name, details)
    return refused
