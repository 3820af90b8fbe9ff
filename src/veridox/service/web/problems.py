"""Errors on the wire as RFC 9457 problem documents."""

import logging
from typing import Any

from django.core.exceptions import PermissionDenied
from django.http import Http404
from rest_framework import exceptions, status
from rest_framework.response import Response

from veridox.service.errors import VeridoxError, is_full

MEDIA_TYPE = "application/problem+json"
log = logging.getLogger(__name__)


def problem(
    code: int, slug: str, title: str, detail: str, extra: dict[str, Any] | None = None
) -> Response:
    """A problem document. `type` is a relative reference, resolved against the API's docs."""
    body = {
        "type": f"/problems/{slug}",
        "title": title,
        "status": code,
        "detail": detail,
        **(extra or {}),
    }
    return Response(body, status=code, content_type=MEDIA_TYPE)


def handle(error: Exception, context: dict[str, Any]) -> Response | None:
    """DRF's exception handler."""
    if isinstance(error, VeridoxError):
        title = error.slug.replace("-", " ").capitalize()
        response = problem(error.status, error.slug, title, str(error), dict(error.extra))
        if "retry_after" in error.extra:
            response["Retry-After"] = str(error.extra["retry_after"])
        return response
    if isinstance(error, Http404):
        return problem(404, "not-there", "Not there", str(error) or "There is no such thing.")
    if isinstance(error, PermissionDenied):
        return problem(403, "not-allowed", "Not allowed", str(error) or "You may not do this.")
    if isinstance(error, exceptions.ValidationError):
        return problem(
            400,
            "bad-input",
            "Bad input",
            "Some of what was sent cannot be used.",
            {"errors": _places(error.detail)},
        )
    if isinstance(error, exceptions.APIException):
        response = problem(
            error.status_code, _slug(error), str(error.default_detail), str(error.detail)
        )
        header = getattr(error, "auth_header", None)
        if header:
            response["WWW-Authenticate"] = header
        return response
    if is_full(error):
        said = "The disk is full or cannot be written. Nothing was stored; send it again later."
        return problem(507, "no-room", "No room", said)
    log.error("unhandled error in %s", context.get("view"), exc_info=error)
    return problem(
        status.HTTP_500_INTERNAL_SERVER_ERROR,
        "error",
        "Error",
        "Something went wrong on our side; it was logged.",
    )


def _slug(error: exceptions.APIException) -> str:
    return str(error.default_code).replace("_", "-")


def _places(detail: Any, path: str = "") -> list[dict[str, str]]:
    """Every message with the path of the member it speaks of."""
    if isinstance(detail, dict):
        return [
            place
            for key, value in detail.items()
            for place in _places(value, f"{path}.{key}" if path else str(key))
        ]
    if isinstance(detail, list):
        if all(not isinstance(value, dict | list) for value in detail):
            return [{"path": path, "message": str(value)} for value in detail]
        return [
            place
            for index, value in enumerate(detail)
            for place in _places(value, f"{path}[{index}]")
        ]
    return [{"path": path, "message": str(detail)}]
