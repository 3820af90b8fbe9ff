"""Edits on the version that was read: strong ETags and `If-Match` (RFC 9110, 13.1.1)."""

import re

from rest_framework.request import Request

from veridox.service.errors import BadInputError, VersionNeededError


def etag(version: int) -> str:
    """The strong ETag of a version."""
    return f'"{version}"'


def wanted_version(request: Request) -> int:
    """The version an edit was made on.

    Raises:
        VersionNeededError: without the header (428).
        BadInputError: when it is not one of our ETags.
    """
    header = request.headers.get("If-Match")
    if header is None:
        raise VersionNeededError(
            "Send If-Match with the ETag of the version you looked at, so that nobody's "
            "changes are overwritten."
        )
    match = re.fullmatch(r'"(\d{1,9})"', header.strip())
    if match is None:
        raise BadInputError(f'If-Match is {header!r}; it must be an ETag such as "3"')
    return int(match[1])
