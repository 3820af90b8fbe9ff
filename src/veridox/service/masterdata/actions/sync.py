"""Master data from a ledger: page by page, each in a transaction of its own, resumable."""

from collections.abc import Mapping, Sequence
from typing import Any, Final

from django.db import transaction
from django.db.models import Case, F, Func, Q, QuerySet, TextField, Value, When
from django.db.models.functions import Cast, Coalesce, Concat
from django.utils import timezone

from veridox.core.findings.wording import counted
from veridox.service.accounts.actors import Actor
from veridox.service.connections.actions.manage import connection_named
from veridox.service.connections.models import ConnectionKind
from veridox.service.errors import WrongStateError
from veridox.service.masterdata.actions.applying import APPLY
from veridox.service.masterdata.actions.load import is_first, kind_of, loaded
from veridox.service.masterdata.columns import KINDS
from veridox.service.masterdata.loading import Loading, of_texts
from veridox.service.masterdata.models import (
    BookedBill,
    CardRate,
    CostCentre,
    Entity,
    GlAccount,
    GoodsReceipt,
    Item,
    Load,
    LoadState,
    Order,
    Project,
    TaxCode,
    Vendor,
)
from veridox.service.ports.ledger import ListPage
from veridox.service.work import defer_once

LISTED: Final[dict[str, tuple[Any, tuple[str, ...]]]] = {
    "vendors": (Vendor, ("code",)),
    "orders": (Order, ("entity__code", "number")),
    "receipts": (GoodsReceipt, ("entity__code", "number", "order_number", "line")),
    "items": (Item, ("vendor__code", "code", "vendor_code")),
    "cards": (
        CardRate,
        ("vendor__code", "card", "code", "wording", "from_quantity", "first"),
    ),
    "gl-accounts": (GlAccount, ("entity", "code")),
    "cost-centres": (CostCentre, ("entity", "code")),
    "tax-codes": (TaxCode, ("entity", "code")),
    "projects": (Project, ("entity", "code")),
    "books": (BookedBill, ("booked_as",)),
}
"""Kinds of which records may be taken out: model, and what the ledger joins by / to its key."""
MANY = 20
"""Records from which a list that lacks most of them is not believed."""
UNDER_WAY = (LoadState.RUNNING, LoadState.BROKEN)
TRIES = 3


@transaction.atomic
def ask_for_sync(actor: Actor, what: str, ledger: str, *, whole: bool = False) -> Load:
    """Begin a sync, or go on with one that broke; it runs as a job.

    Raises:
        BadInputError, NotThereError: no such kind, no such ledger.
        WrongStateError: what it needs was never brought in.
    """
    kind = kind_of(what)
    connection = connection_named(ledger, ConnectionKind.LEDGER)
    rows = Load.objects.select_for_update().filter(what=what, how="sync", ledger=connection.name)
    under_way = rows.filter(state__in=UNDER_WAY).order_by("pk").first()
    if under_way is not None and not (whole and not under_way.whole):
        _queue(under_way)
        return under_way
    if under_way is not None:
        under_way.state, under_way.problem = LoadState.REFUSED, "a whole list was asked for instead"
        under_way.ended_at = timezone.now()
        under_way.save()
    _needs(kind.needs)
    before = rows.filter(state=LoadState.DONE).exclude(stamp="").order_by("-pk").first()
    since = "" if whole or before is None else before.stamp
    load = Load.objects.create(
        what=what, how="sync", ledger=connection.name, by=actor.name, state=LoadState.RUNNING,
        whole=not since, since=since, first=is_first(what),
    )  # fmt: skip
    _queue(load)
    return load


def _needs(kinds: Sequence[str]) -> None:
    models: dict[str, Any] = {"entities": Entity, "vendors": Vendor}
    missing = [each for each in kinds if not models[each].objects.exists()]
    if missing:
        raise WrongStateError(f"bring in the {' and the '.join(missing)} first")


def _queue(load: Load) -> None:
    defer_once("sync", f"sync {load.ledger} {load.what}", load_id=load.pk)


@transaction.atomic
def store_page(load_id: int, after: str, page: ListPage) -> str | None:
    """Bring in one page; where the next begins, or None when the list is done.

    A page that another worker brought in meanwhile changes nothing. Rows that cannot be used
    are told with the load, and keep nothing else from coming in.
    """
    load = Load.objects.select_for_update().get(pk=load_id)
    if load.state not in UNDER_WAY or load.cursor != after:
        return load.cursor if load.state in UNDER_WAY else None
    loading, wrong = _apply(load, page.rows)
    gone = _taken_out(load, page.gone)
    load.gone += gone
    load.rows += len(page.rows)
    for name in ("new", "changed", "same", "held"):
        setattr(load, name, getattr(load, name) + getattr(loading, name))
    load.wrong += len(wrong)
    if wrong:
        before = load.problem.partition(": ")[2]
        told = "; ".join([*([before] if before else []), *wrong[:3]])
        load.problem = f"{counted(load.wrong, 'row')} could not be used: {told}"[:1_000]
    load.cursor, load.expected, load.state = page.next, page.total, LoadState.RUNNING
    # Each page stands by itself: so do its entry in the trail and the checks that it calls for.
    if page.next:
        load.save()
        if loading.new or loading.changed or loading.held or gone:
            loaded(Actor.system("sync"), load, loading, "synced", gone=gone)
        return page.next
    gone += _finish(load, page.stamp)
    loaded(Actor.system("sync"), load, loading, "synced", gone=gone)
    return None


def _apply(load: Load, rows: Sequence[Mapping[str, str]]) -> tuple[Loading, list[str]]:
    """All rows of a page but those that are wrong; what is wrong is found out by trying."""
    wrong: list[str] = []
    left = list(enumerate(rows, start=load.rows + 1))
    for _ in range(TRIES):
        loading = Loading(
            kind=KINDS[load.what], by=load.by, ledger=load.ledger, sync=True, first=load.first,
            number=load.pk, today=timezone.localdate(),
        )  # fmt: skip
        with transaction.atomic():
            APPLY[load.what](loading, _numbered(loading, left))
            if not loading.problems:
                return loading, wrong
            transaction.set_rollback(True)
        wrong += [f"{each['path']} {each['message']}" for each in loading.problems]
        left = [(line, row) for line, row in left if not loading.is_wrong(line)]
    return loading, wrong


def _numbered(loading: Loading, rows: Sequence[tuple[int, Mapping[str, str]]]) -> Any:
    for line, row in rows:
        yield from of_texts(loading, [row], begin=line)


def _taken_out(load: Load, keys: Sequence[str]) -> int:
    """Mark what the ledger says was taken out."""
    if load.what not in LISTED or not keys:
        return 0
    fields = LISTED[load.what][1]
    rows = _of_ledger(load)
    if len(fields) == 1:
        rows = rows.filter(**{f"{fields[0]}__in": list(keys)})
    else:  # not taken apart: what is joined by a slash may have slashes of its own
        # A quantity of nothing is written as 0 or not at all.
        rows = rows.annotate(listed_as=_key(fields, "0"), or_as=_key(fields, "")).filter(
            Q(listed_as__in=list(keys)) | Q(or_as__in=list(keys))
        )
    ids = list(rows.values_list("pk", flat=True))
    return int(LISTED[load.what][0].objects.filter(pk__in=ids).update(gone_at=timezone.now()))


def _key(fields: Sequence[str], nothing: str) -> Concat:
    """The key that a ledger gives a record: its fields as they are listed, joined by slashes."""
    parts: list[Any] = []
    empty = _as_text("")
    for name in fields:
        text: Any = Coalesce(Cast(F(name), TextField()), empty)
        if name == "from_quantity":
            plain = Cast(Func(F(name), function="trim_scale"), TextField())
            text = Case(When(from_quantity=0, then=_as_text(nothing)), default=plain)
        parts += [_as_text("/"), text]
    return Concat(*parts[1:], output_field=TextField())


def _as_text(text: str) -> Value:
    return Value(text, output_field=TextField())


def _of_ledger(load: Load) -> QuerySet[Any]:
    """What the ledger listed of a kind, and has not taken out."""
    model, _ = LISTED[load.what]
    return model.objects.filter(ledger=load.ledger, gone_at=None)


def _finish(load: Load, stamp: str) -> int:
    """End a list; how many records it does not have any more."""
    gone = 0
    if load.whole and load.what in LISTED:
        there = _of_ledger(load)
        unseen = there.exclude(seen=load.pk)
        missing, every = unseen.count(), there.count()
        if every > MANY and missing > every / 2:
            load.state = LoadState.REFUSED
            load.problem = (
                f"the ledger listed {every - missing:,} of {every:,} {load.what} that are here: "
                "nothing was taken out; look whether its list is whole"
            )
            load.ended_at = timezone.now()
            load.save()
            return 0
        gone = unseen.update(gone_at=timezone.now())
        load.gone += gone
    load.state, load.stamp, load.ended_at = LoadState.DONE, stamp, timezone.now()
    load.save()
    return gone


@transaction.atomic
def begin_anew(load_id: int) -> None:
    """The ledger has forgotten where the list was left off: from the first page on."""
    load = Load.objects.select_for_update().get(pk=load_id)
    if load.cursor:
        load.cursor = ""
    else:
        load.since, load.whole = "", True
    for name in ("rows", "new", "changed", "same", "held", "gone", "wrong"):
        setattr(load, name, 0)
    load.save()


@transaction.atomic
def note_broken(load_id: int, problem: str) -> None:
    """The ledger does not answer: what came in stands, and the rest follows later."""
    Load.objects.filter(pk=load_id, state__in=UNDER_WAY).update(
        state=LoadState.BROKEN, problem=problem[:1_000]
    )


@transaction.atomic
def ask_for_due(ledger: str, minutes: int, kinds: Sequence[str]) -> None:
    """Begin the syncs of a ledger whose last one is so many minutes ago."""
    for what in kinds:
        last = Load.objects.filter(what=what, how="sync", ledger=ledger).order_by("-pk").first()
        if last is not None and last.state == LoadState.RUNNING:
            continue
        since = last.begun_at if last is not None else None
        if since is not None and (timezone.now() - since).total_seconds() < minutes * 60:
            continue
        try:
            ask_for_sync(Actor.system("sync"), what, ledger)
        except WrongStateError:
            continue  # what it needs is on its way
