"""What drivers have in common: checks of settings."""

from typing import Final

from veridox.service.errors import BadInputError

LOOPBACK: Final = ("127.0.0.1", "localhost")


def check_port(port: int) -> None:
    """From 1 to 65535. Raises BadInputError."""
    if not 1 <= port <= 65535:
        raise BadInputError(f"port is from 1 to 65535, not {port}")


def check_security(security: str, allowed: tuple[str, ...]) -> None:
    """One of a closed list. Raises BadInputError."""
    if security not in allowed:
        raise BadInputError(f"security is one of {', '.join(allowed)}, not {security!r}")


def check_url(url: str) -> None:
    """An address of the web. Raises BadInputError."""
    if not url.startswith(("http://", "https://")):
        raise BadInputError(f"url begins with https://, not {url!r}")
