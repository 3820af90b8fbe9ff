"""Create and revoke tokens."""

from datetime import timedelta

from django.db import transaction
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.accounts.authentication import digest, new_token
from veridox.service.accounts.models import Person, Scope, Token
from veridox.service.errors import BadInputError, NotThereError
from veridox.service.trail.record import record


@transaction.atomic
def create_token(
    actor: Actor, person: Person, name: str, scopes: list[str], days: int | None
) -> tuple[Token, str]:
    """A new token; its text is returned this once and never again."""
    unknown = sorted(set(scopes) - set(Scope))
    if unknown or not scopes:
        raise BadInputError(
            f"scopes are some of {', '.join(Scope)}, not {', '.join(unknown) or 'none'}"
        )
    if days is not None and not 1 <= days <= 3650:
        raise BadInputError(f"days is from 1 to 3650, not {days}")
    text = new_token()
    token = Token.objects.create(
        person=person,
        name=name,
        digest=digest(text),
        start=text[:10],
        scopes=sorted(set(scopes)),
        expires_at=timezone.now() + timedelta(days=days) if days else None,
    )
    details = {"person": person.username, "name": name, "scopes": token.scopes}
    record(actor, "token.created", "token", str(token.pk), details)
    return token, text


@transaction.atomic
def revoke_token(actor: Actor, token_id: int, owner: Person | None) -> Token:
    """End a token. `owner` limits it to one person's tokens; None is for admins."""
    tokens = Token.objects.select_for_update().filter(pk=token_id)
    token = (tokens.filter(person=owner) if owner else tokens).first()
    if token is None:
        raise NotThereError(f"there is no token {token_id}")
    if token.revoked_at is None:
        token.revoked_at = timezone.now()
        token.save(update_fields=["revoked_at"])
        record(actor, "token.revoked", "token", str(token.pk), {"name": token.name})
    return token
