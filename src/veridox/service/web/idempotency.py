"""`Idempotency-Key`: the same write sent twice is done once and answered alike."""

import hashlib
import json
from collections.abc import Callable
from typing import Any

from django.db import IntegrityError, transaction
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.accounts.models import StoredAnswer
from veridox.service.errors import BadInputError, WrongStateError


class KeyReusedError(BadInputError):
    """The key was used for another request before."""

    status = 422
    slug = "key-reused"


def once(request: Request, body: bytes, act: Callable[[], Response]) -> Response:
    """Run a write at most once for each actor and key; without a key just run it.

    The answer is stored in the transaction of the write itself, so neither can
    be there without the other. An error stores nothing: the key stays usable.
    """
    key = request.headers.get("Idempotency-Key")
    if key is None:
        return act()
    if not 1 <= len(key) <= 200:
        raise BadInputError("Idempotency-Key is 1 to 200 characters long")
    digest = hashlib.sha256(
        b"\0".join([str(request.method).encode(), request.path.encode(), body])
    ).hexdigest()
    actor = request.user.pk
    earlier = StoredAnswer.objects.filter(actor_id=actor, key=key).first()
    if earlier is not None:
        return _again(earlier, digest)
    try:
        with transaction.atomic():
            record = StoredAnswer.objects.create(actor_id=actor, key=key, request_digest=digest)
            response = act()
            record.status = response.status_code
            record.body = json.loads(json.dumps(response.data, default=str))
            record.headers = {
                name: response[name] for name in ("ETag", "Location") if name in response
            }
            record.save(update_fields=["status", "body", "headers"])
            return response
    except IntegrityError:
        # Another request with this key committed while ours ran.
        earlier = StoredAnswer.objects.filter(actor_id=actor, key=key).first()
        if earlier is None:
            raise
        return _again(earlier, digest)


def _again(earlier: StoredAnswer, digest: str) -> Response:
    if earlier.request_digest != digest:
        raise KeyReusedError("This Idempotency-Key was used for another request.")
    if earlier.status is None:
        raise WrongStateError("The first request with this Idempotency-Key is still running.")
    headers: dict[str, Any] = dict(earlier.headers)
    return Response(earlier.body, status=earlier.status, headers=headers)
