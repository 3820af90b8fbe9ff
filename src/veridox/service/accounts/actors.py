"""Who does something: a person or one of the service's own parts."""

from dataclasses import dataclass

from veridox.service.accounts.models import Person


@dataclass(frozen=True, kw_only=True, slots=True)
class Actor:
    """A required argument of every action.

    Attributes:
        name: as the trail shows it: `person:ada` or `system:read`.
        person: None for the service itself.
    """

    name: str
    person: Person | None = None

    @staticmethod
    def of(person: Person) -> "Actor":
        """The person as an actor."""
        return Actor(name=f"person:{person.get_username()}", person=person)

    @staticmethod
    def system(part: str) -> "Actor":
        """A part of the service as an actor."""
        return Actor(name=f"system:{part}")
