"""Our own companies: few, so one by one."""

from collections.abc import Iterator

from veridox.service.masterdata.actions.applying.common import Once, owned
from veridox.service.masterdata.loading import CHANGED, NEW, SAME, Incoming, Loading
from veridox.service.masterdata.models import Entity


def apply_entities(loading: Loading, rows: Iterator[Incoming]) -> None:
    """Add and change; none is ever taken out, since bills stand in its books."""
    known = {row.code: row for row in Entity.objects.select_for_update().order_by("pk")}
    once = Once(loading, "code")
    for row in rows:
        code = row.values["code"]
        if not once.first(row, code):
            continue
        entity = known.get(code) or Entity(code=code)
        is_new, changed = entity.pk is None, []
        for name, value in row.values.items():
            before = getattr(entity, name)
            if before == value or owned(loading, row, entity, name, differs=True):
                continue
            changed.append(name)
            if not is_new:
                loading.change(row.line, code, name, before, value)
            setattr(entity, name, value)
        if loading.is_wrong(row.line):
            continue
        if loading.sync:
            entity.synced = sorted(set(entity.synced) | set(row.values))
        entity.save()
        known[code] = entity
        loading.fate(row.line, code, NEW if is_new else CHANGED if changed else SAME)
