"""Create people and change what they may do."""

from typing import Any

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Person, Role, Token
from veridox.service.errors import BadInputError, NotThereError, WrongStateError
from veridox.service.trail.record import record


def end_access(person: Person) -> int:
    """End all sessions and tokens of a person; the caller saves. Returns how many tokens ended."""
    person.epoch += 1
    return Token.objects.filter(person=person, revoked_at=None).update(revoked_at=timezone.now())


def _refuse_bad(username: str, password: str | None, role: str | None, name: str = "") -> None:
    errors = []
    if role is not None and role not in list(Role):
        errors.append({"path": "role", "message": f"{role!r} is none of {', '.join(Role)}"})
    try:
        Person.username_validator(username)
    except ValidationError as error:
        errors.append({"path": "username", "message": " ".join(error.messages)})
    if password is not None:
        try:
            validate_password(password, Person(username=username, first_name=name))
        except ValidationError as error:
            errors.append({"path": "password", "message": " ".join(error.messages)})
    if errors:
        said = "; ".join(f"{error['path']}: {error['message']}" for error in errors)
        raise BadInputError(said, errors=errors)


@transaction.atomic
def create_person(actor: Actor, username: str, password: str, role: str, name: str = "") -> Person:
    """A new person who can sign in. Raises BadInputError with the path of what is wrong."""
    _refuse_bad(username, password, role, name)
    if Person.objects.filter(username__iexact=username).exists():
        raise BadInputError(
            f"there is a person {username!r} already",
            errors=[{"path": "username", "message": "is taken"}],
        )
    person = Person.objects.create_user(
        username=username, password=password, role=role, first_name=name[:150]
    )
    record(actor, "person.created", "person", username, {"role": role})
    return person


@transaction.atomic
def change_person(actor: Actor, username: str, changes: dict[str, Any]) -> Person:
    """Change `role`, `name`, `active` or `password` of a person.

    Raises:
        NotThereError: nobody has this name.
        BadInputError: a value cannot be used.
        WrongStateError: nobody would be left who can set things up.
    """
    # All admins are locked, so that two of them cannot end each other at once.
    admins = set(
        Person.objects.select_for_update()
        .filter(role=Role.ADMIN, is_active=True)
        .values_list("username", flat=True)
    )
    person = Person.objects.select_for_update().filter(username=username).first()
    if person is None:
        raise NotThereError(f"there is no person {username!r}")
    _refuse_bad(username, changes.get("password"), changes.get("role"))
    person.role = changes.get("role", person.role)
    person.first_name = changes.get("name", person.first_name)[:150]
    person.is_active = changes.get("active", person.is_active)
    if admins == {username} and not (person.role == Role.ADMIN and person.is_active):
        raise WrongStateError(f"{username!r} is the last admin; make somebody else one first")
    details = {key: value for key, value in changes.items() if key != "password"}
    if "password" in changes:
        person.set_password(changes["password"])
        details["password"] = "set anew"  # noqa: S105 - says that, not what
    if "password" in changes or not person.is_active:
        details["tokens_ended"] = end_access(person)
    person.save()
    record(actor, "person.changed", "person", username, details)
    return person


@transaction.atomic
def change_own_password(actor: Actor, old: str, new: str) -> Person:
    """Set one's own password anew; the old one must be known."""
    if actor.person is None:
        raise BadInputError("only a person has a password")
    person = Person.objects.select_for_update().get(pk=actor.person.pk)
    if not person.check_password(old):
        raise BadInputError(
            "The present password is not right.",
            errors=[{"path": "old", "message": "is not right"}],
        )
    _refuse_bad(person.username, new, None, person.first_name)
    person.set_password(new)
    details = {"tokens_ended": end_access(person)}
    person.save(update_fields=["password", "epoch"])
    record(actor, "person.password_changed", "person", person.username, details)
    return person
