"""Who may do what. Views name what they need; roles and scopes must both allow it."""

from typing import Any, Final

from rest_framework.permissions import BasePermission
from rest_framework.request import Request

from veridox.service.accounts.models import Person, Role, Scope, Token

_OF_ROLE: Final[dict[str, set[Scope]]] = {
    Role.CLERK: {Scope.READ, Scope.COMMENT, Scope.WORK, Scope.ACCEPT},
    # Whoever takes responsibility for a bill does not also type its values.
    Role.APPROVER: {Scope.READ, Scope.COMMENT, Scope.ACCEPT},
    Role.ADMIN: {Scope.READ, Scope.COMMENT, Scope.WORK, Scope.ACCEPT, Scope.ADMIN},
}


def scopes_of_role(role: str) -> set[str]:
    """What a role allows."""
    return {str(scope) for scope in _OF_ROLE.get(role, set())}


def may_work(person: Person) -> bool:
    """Whether somebody's role lets them act at the desk."""
    return str(Scope.WORK) in scopes_of_role(person.role)


def scopes_of(request: Request) -> set[str]:
    """What the sender of a request may do."""
    person = request.user
    if person is None or not person.is_authenticated:
        return set()
    allowed = scopes_of_role(person.role)
    if isinstance(request.auth, Token):
        granted = set(request.auth.scopes)
        # A token that may work may say something about it too.
        allowed &= granted | ({str(Scope.COMMENT)} if Scope.WORK in granted else set())
    return allowed


class SignedIn(BasePermission):
    """Reading needs `read`; writing needs the view's `writes` (usually `work`)."""

    def has_permission(self, request: Request, view: Any) -> bool:
        """Whether the request may go on."""
        if request.method in ("GET", "HEAD", "OPTIONS"):
            needed = getattr(view, "reads", Scope.READ)
        else:
            needed = getattr(view, "writes", Scope.WORK)
        return str(needed) in scopes_of(request)
