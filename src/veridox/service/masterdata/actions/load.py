"""Bring in a table of master data: all rows or none, with the fate of each."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from veridox.core.findings.wording import counted
from veridox.readerpool import TableAnswer
from veridox.service import storage
from veridox.service.accounts.actors import Actor
from veridox.service.errors import BadInputError
from veridox.service.masterdata.actions.applying import APPLY
from veridox.service.masterdata.bulk import MANY, room_for_indexes, settle_indexes
from veridox.service.masterdata.columns import KINDS, Kind
from veridox.service.masterdata.loading import Headings, Loading, headings, incoming
from veridox.service.masterdata.models import BookedBill, Load, LoadState, Order, Vendor
from veridox.service.trail.record import record
from veridox.service.work import defer

HEAD = "row,record,fate,why\n"
FIRST: dict[str, Any] = {"vendors": Vendor, "orders": Order, "books": BookedBill}
"""Kinds of which the first load is taken as it stands."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Given:
    """A table that is to be brought in.

    Attributes:
        name: of the file.
        sha256: of the content.
        ledger: that its records belong to; empty where nobody says.
        mapping: our name for each of its headings that is called otherwise.
        fixed: texts for columns that it lacks.
        sheet: of a spreadsheet.
        expects: hash of the file that was looked at before; empty for none.
    """

    name: str
    sha256: str
    ledger: str = ""
    mapping: Mapping[str, str] = field(default_factory=dict)
    fixed: Mapping[str, str] = field(default_factory=dict)
    sheet: str = ""
    expects: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class Loaded:
    """What came of it: the load's record, the loading with fates and changes, how it was read."""

    load: Load
    loading: Loading
    form: str
    aside: tuple[str, ...]


def file_of(load: Load) -> Path:
    """Where the fate of each row of a load is kept, as CSV."""
    return Path(settings.CONFIGURATION.data / "loads" / f"{load.pk}.csv")


def bring_in(
    actor: Actor, what: str, given: Given, table: TableAnswer, *, preview: bool = False
) -> Loaded:
    """Bring a table in, or look what it would change.

    Args:
        actor: who.
        what: kind of master data.
        given: the file and how it is to be taken.
        table: what a reader made of it.
        preview: keep nothing.

    Raises:
        BadInputError: it is another file than the one looked at, or something in it is wrong;
            then nothing is kept but the fate of each row (`load` in the error).
    """
    kind = KINDS[what]
    if given.expects and given.expects != given.sha256:
        raise BadInputError(
            f"{given.name} is not the file that was looked at: its hash is {given.sha256[:12]}..., "
            f"looked at was {given.expects[:12]}...; look at it again"
        )
    found, wrong = headings(kind, table.header, given.mapping, given.fixed)
    if wrong:
        raise BadInputError("; ".join(wrong))
    load = Load.objects.create(
        what=what, how="file", ledger=given.ledger, by=actor.name, file_name=given.name[:255],
        sha256=given.sha256, state=LoadState.RUNNING, whole=False, first=is_first(what),
    )  # fmt: skip
    loading = Loading(
        kind=kind, by=actor.name, ledger=given.ledger, first=load.first, number=load.pk,
        columns=found.columns, today=timezone.localdate(),
    )  # fmt: skip
    try:
        _apply(actor, load, loading, table, found, preview=preview)
    except Exception:
        load.delete()  # a fault of ours: nothing was kept, nothing is to be told of
        raise
    if loading.problems:
        _refuse(load, loading)
    return Loaded(load=load, loading=loading, form=table.form, aside=found.aside)


def is_first(what: str) -> bool:
    """Whether nothing of a kind is here yet: then there is nobody's value to guard."""
    model = FIRST.get(what)
    return model is None or not model.objects.exists()


def _apply(
    actor: Actor, load: Load, loading: Loading, table: TableAnswer, found: Headings,
    *, preview: bool,
) -> None:  # fmt: skip
    """In one transaction, which ends without a trace where something is wrong or only looked at."""
    for each in table.problems:
        loading.problem(each["row"], each["column"], each["message"])
    many = len(table.lines) > MANY
    with transaction.atomic():
        if many:
            room_for_indexes()
        APPLY[load.what](loading, incoming(loading, found, table.rows()))
        if loading.problems or preview:
            transaction.set_rollback(True)
        else:
            _keep(load, loading)
            loaded(actor, load, loading, "imported", gone=0)
            if many:
                settle_indexes()
    loading.settle_wrong()
    if preview and not loading.problems:
        load.state = LoadState.PREVIEW
        _keep(load, loading, state=LoadState.PREVIEW)
    _write_fates(load, loading)


def _keep(load: Load, loading: Loading, state: LoadState = LoadState.DONE) -> None:
    for name in ("rows", "new", "changed", "same", "held", "wrong"):
        setattr(load, name, getattr(loading, name))
    load.state, load.ended_at = state, timezone.now()
    load.save()


def loaded(actor: Actor, load: Load, loading: Loading, how: str, *, gone: int) -> None:
    """Within the caller's transaction: what waits is checked again, and the trail has it.

    Args:
        actor: who brought it in.
        load: that it belongs to.
        loading: what came of these rows: of a file all, of a sync those of one page.
        how: `imported` or `synced`.
        gone: records that were taken out with them.
    """
    if loading.new or loading.changed or gone:
        defer("recheck", what=load.what)
    details = {
        "load": load.pk, "rows": loading.rows, "new": loading.new, "changed": loading.changed,
        "gone": gone, "held": loading.held, "told": loading.told(), "file": load.file_name,
        "sha256": load.sha256, "ledger": load.ledger, "by": load.by,
    }  # fmt: skip
    record(actor, f"{load.what}.{how}", "masterdata", load.what, details)


def _write_fates(load: Load, loading: Loading) -> None:
    path = file_of(load)
    path.parent.mkdir(parents=True, exist_ok=True)
    storage.write(path, (HEAD + loading.every.getvalue()).encode())


def _refuse(load: Load, loading: Loading) -> None:
    _keep(load, loading, state=LoadState.REFUSED)
    count = len(loading.problems)
    load.problem = f"{counted(count, 'problem')} in {counted(loading.wrong, 'row')}"
    load.save(update_fields=["problem"])
    raise BadInputError(
        f"{load.problem} of the table; nothing was imported",
        errors=loading.problems[:100],
        load=load.pk,
        count=count,
    )


def kind_of(what: str) -> Kind:
    """A kind of master data. Raises BadInputError."""
    if what not in KINDS:
        raise BadInputError(f"there is no {what!r} here; there are {', '.join(KINDS)}")
    return KINDS[what]


def columns_help(what: str) -> list[dict[str, Any]]:
    """The columns of a kind, for people."""
    return [
        {"name": c.name, "help": c.help, "needed": c.needed, "several": c.many,
         "guarded": c.guarded, "aliases": list(c.aliases)}
        for c in kind_of(what).columns
    ]  # fmt: skip
