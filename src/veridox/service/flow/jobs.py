"""Jobs of the flow: thin."""

from procrastinate.contrib.django import app

from veridox.service.accounts.actors import Actor
from veridox.service.connections.actions.manage import note_trouble
from veridox.service.flow import consulting
from veridox.service.flow.actions import advance as advancing
from veridox.service.flow.actions import recheck as rechecking
from veridox.service.work import patiently


@app.task(queue="check", name="advance", retry=patiently(attempts=3))
def advance(document_id: int) -> None:
    """Let a document go on as far as it goes; plug-ins are asked before."""
    consulting.consult(document_id)
    advancing.advance(Actor.system("check"), document_id)


@app.task(queue="check", name="recheck", retry=patiently(attempts=3))
def recheck(what: str, after: int = 0) -> None:
    """Have looked again at what waits for this kind of master data."""
    rechecking.recheck_waiting(what, after)
    note_trouble(f"recheck after an import of {what}", "")
