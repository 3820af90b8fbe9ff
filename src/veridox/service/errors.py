"""The tree of errors of the service. Foreign errors are wrapped at their adapter."""

import errno

STUMBLES = (
    ArithmeticError, AssertionError, AttributeError, LookupError, OSError, RuntimeError, TypeError,
    ValueError,
)  # fmt: skip
"""What a library may raise that stumbles over one odd item; the others must not suffer for it."""


class VeridoxError(Exception):
    """Root of all errors that are meant for people.

    Attributes:
        status: HTTP status when it reaches the API.
        slug: stable name of the kind of problem.
        extra: further members of the problem document.
    """

    status = 500
    slug = "error"

    def __init__(self, message: str, **extra: object) -> None:
        super().__init__(message)
        self.extra = extra


class ConfigurationError(VeridoxError):
    """A setting is missing or wrong."""

    slug = "configuration"


class BadInputError(VeridoxError):
    """What was sent cannot be used; says what and where."""

    status = 400
    slug = "bad-input"


class NotAllowedError(VeridoxError):
    """This person may not do this."""

    status = 403
    slug = "not-allowed"


class SlowDownError(VeridoxError):
    """Asked too often; `retry_after` says after how many seconds to try again (RFC 6585)."""

    status = 429
    slug = "slow-down"


class NoRoomError(VeridoxError):
    """The disk is full or cannot be written; nothing was stored."""

    status = 507
    slug = "no-room"


class NotThereError(VeridoxError):
    """There is no such thing."""

    status = 404
    slug = "not-there"


class WrongStateError(VeridoxError):
    """It cannot be done as things stand; says how they stand."""

    status = 409
    slug = "wrong-state"


class TakenError(WrongStateError):
    """Somebody else works on it; says who."""

    slug = "taken"


class StaleError(VeridoxError):
    """Somebody else changed it since it was read."""

    status = 412
    slug = "changed-meanwhile"


class VersionNeededError(VeridoxError):
    """An edit must say which version it was made on."""

    status = 428
    slug = "version-needed"


class AdapterError(VeridoxError):
    """Another system did not do its part."""

    status = 502
    slug = "other-system"


class UnreachableError(AdapterError):
    """The other system cannot be reached at present; trying again may help."""

    slug = "unreachable"


FULL = (errno.ENOSPC, errno.EDQUOT, errno.EROFS, errno.EACCES, errno.EPERM)
"""What the system says when the disk is full, or nothing may be written there."""


def is_full(error: BaseException) -> bool:
    """Whether an error says that there is no room: the system's, or the database's (53100)."""
    if isinstance(error, OSError):
        return error.errno in FULL
    return getattr(error.__cause__, "sqlstate", "") == "53100"
