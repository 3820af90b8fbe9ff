"""A second person decides what was brought in of accounts, contacts, domains and blocks."""

from collections.abc import Iterable

from django.db import transaction
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.errors import BadInputError, NotAllowedError, NotThereError, WrongStateError
from veridox.service.masterdata.actions.applying.vendors import MARKS, key_of
from veridox.service.masterdata.models import (
    HeldChange,
    HeldState,
    MarkKind,
    Vendor,
    VendorMark,
)
from veridox.service.trail.record import record
from veridox.service.work import defer

MOST = 10_000
"""Changes that are decided at once."""


@transaction.atomic
def accept_held(actor: Actor, ids: Iterable[int], reason: str = "") -> list[HeldChange]:
    """Let changes hold; documents that they may help are checked again.

    Raises:
        NotAllowedError: no person, or the one who brought one of them in.
        NotThereError: there is no such change.
        WrongStateError: one of them was decided before.
    """
    rows = _decided(actor, ids, HeldState.ACCEPTED, reason)
    for row in rows:
        _hold_good(row)
    defer("recheck", what="vendors")
    return rows


@transaction.atomic
def refuse_held(actor: Actor, ids: Iterable[int], reason: str) -> list[HeldChange]:
    """Have changes never hold, with why. Raises as `accept_held`, and without a reason."""
    if not reason.strip():
        raise BadInputError("say why it is refused")
    return _decided(actor, ids, HeldState.REFUSED, reason)


def _decided(actor: Actor, ids: Iterable[int], state: HeldState, reason: str) -> list[HeldChange]:
    if actor.person is None:
        raise NotAllowedError("only a person decides what is held")
    wanted = sorted(set(ids))
    if not wanted:
        raise BadInputError("name at least one change")
    if len(wanted) > MOST:
        raise BadInputError(f"{len(wanted):,} changes; {MOST:,} are decided at once at most")
    rows = list(
        HeldChange.objects.select_for_update(of=("self",)).select_related("vendor")
        .filter(pk__in=wanted).order_by("pk")
    )  # fmt: skip
    missing = set(wanted) - {row.pk for row in rows}
    if missing:
        raise NotThereError(f"there is no held change {min(missing)}")
    for row in rows:
        if row.state != HeldState.WAITS:
            raise WrongStateError(f"change {row.pk} is {row.state} already")
        if state is HeldState.ACCEPTED and row.by == actor.name:
            raise NotAllowedError(
                f"you brought in change {row.pk} ({row.column} of {row.vendor.code}) yourself: a "
                "second person accepts it"
            )
        row.state, row.decided_by, row.reason = state, actor.name, reason
        row.decided_at = timezone.now()
    HeldChange.objects.bulk_update(rows, ["state", "decided_by", "reason", "decided_at"])
    for row in rows:
        details = {
            "change": row.pk, "column": row.column, "before": row.before, "after": row.after,
            "by": row.by, "reason": reason,
        }  # fmt: skip
        record(actor, f"vendor.change_{state}", "vendor", row.vendor.code, details)
    return rows


def _hold_good(row: HeldChange) -> None:
    vendor = Vendor.objects.select_for_update().get(pk=row.vendor_id)
    if row.act == "add":
        kind = MarkKind(str(MARKS[row.column].mark))
        VendorMark.objects.get_or_create(
            vendor=vendor, kind=kind, key=key_of(kind, row.after),
            defaults={
                "value": row.after, "since": timezone.localdate(), "ours": row.load_id is None,
            },
        )  # fmt: skip
        return
    value = row.after == "yes" if row.column == "blocked" else row.after
    setattr(vendor, row.column, value)
    vendor.save(update_fields=[row.column, "updated_at"])


@transaction.atomic
def propose(actor: Actor, vendor: Vendor, column: str, value: str) -> HeldChange | None:
    """Propose a value of a vendor that has several of them; it waits for a second person.

    Returns:
        None where the vendor has it already.

    Raises:
        BadInputError: there is no such column.
    """
    if column not in MARKS:
        raise BadInputError(f"{column!r} cannot be proposed; these can: {', '.join(MARKS)}")
    kind = MarkKind(str(MARKS[column].mark))
    if vendor.marks.filter(kind=kind, key=key_of(kind, value)).exists():
        return None
    row, new = HeldChange.objects.get_or_create(
        vendor=vendor, column=column, after=value[:300], state=HeldState.WAITS,
        defaults={"act": "add", "by": actor.name},
    )  # fmt: skip
    if new:
        details = {"change": row.pk, "column": column, "after": value}
        record(actor, "vendor.change_proposed", "vendor", vendor.code, details)
    return row
