"""Mappings of columns, saved under a name."""

from collections.abc import Mapping as MappingOf

from django.db import transaction

from veridox.core.language.typing import nearest
from veridox.service.accounts.actors import Actor
from veridox.service.errors import BadInputError, NotThereError
from veridox.service.masterdata.actions.load import kind_of
from veridox.service.masterdata.models import Mapping
from veridox.service.trail.record import record


def mapping_named(name: str, what: str = "") -> Mapping:
    """A saved mapping.

    Raises:
        NotThereError: there is none of this name; says the nearest.
        BadInputError: it is for another kind of master data.
    """
    row = Mapping.objects.filter(name=name).first()
    if row is None:
        hint = nearest(name, list(Mapping.objects.values_list("name", flat=True)[:1_000]))
        raise NotThereError(f"there is no mapping {name!r}" + (f"; {hint}" if hint else ""))
    if what and row.what != what:
        raise BadInputError(f"the mapping {name} is for {row.what}, not for {what}")
    return row


@transaction.atomic
def save_mapping(
    actor: Actor, name: str, what: str, columns: MappingOf[str, str], fixed: MappingOf[str, str]
) -> Mapping:
    """Save a mapping. Raises BadInputError for columns that are none."""
    kind = kind_of(what)
    for heading, column in columns.items():
        if column and column not in kind.by_name:
            hint = nearest(column, list(kind.by_name))
            said = f"{heading!r} is taken for {column!r}, which is no column of {what}"
            raise BadInputError(said + (f"; {hint}" if hint else ""))
    for column in fixed:
        if column not in kind.by_name:
            raise BadInputError(f"a fixed value is given for {column!r}, which is no column")
    row, _ = Mapping.objects.update_or_create(
        name=name,
        defaults={
            "what": what, "columns": dict(columns), "fixed": dict(fixed), "saved_by": actor.name,
        },
    )  # fmt: skip
    details = {"what": what, "columns": dict(columns), "fixed": dict(fixed)}
    record(actor, "mapping.saved", "mapping", name, details)
    return row


@transaction.atomic
def forget_mapping(actor: Actor, name: str) -> None:
    """Delete a mapping. Raises NotThereError."""
    mapping_named(name).delete()
    record(actor, "mapping.forgotten", "mapping", name, {})
