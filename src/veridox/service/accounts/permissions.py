"""Who may do what. Views name what they need; roles and scopes must both allow it."""

from typing import Any, Final

from rest_framework.permissions import BasePermission
from rest_framework.request import Request

from veridox.service.accounts.models import Role, Scope, Token

_OF_ROLE: Final = {
    Role.CLERK: {Scope.READ, Scope.WORK},
    Role.APPROVER: {Scope.READ, Scope.WORK},
    Role.ADMIN: {Scope.READ, Scope.WORK, Scope.ADMIN},
}


def scopes_of(request: Request) -> set[str]:
    """What the sender of a request may do."""
    person = request.user
    if person is None or not person.is_authenticated:
        return set()
    allowed = {str(scope) for scope in _OF_ROLE.get(person.role, set())}
    if isinstance(request.auth, Token):
        allowed &= set(request.auth.scopes)
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
