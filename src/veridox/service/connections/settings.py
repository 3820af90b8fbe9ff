"""A connection's settings as its driver's typed values, and its secrets for the driver."""

from dataclasses import MISSING, fields
from typing import Any

from veridox.service.adapters.table import driver_of
from veridox.service.connections.models import Connection
from veridox.service.errors import BadInputError
from veridox.service.ports.driver import Access
from veridox.service.secrets import decrypt


def parse_settings(kind: str, data: dict[str, Any], driver: str = "") -> Any:
    """Typed settings of a driver; of the usual one of its kind when none is named.

    Raises:
        BadInputError: unknown kind, driver or key, missing key, wrong type or value.
    """
    chosen = driver_of(kind, driver)
    known = {field.name: field for field in fields(chosen.settings)}
    unknown = sorted(set(data) - set(known))
    if unknown:
        raise BadInputError(f"unknown here: {', '.join(unknown)}; a {kind} has {', '.join(known)}")
    needed = [key for key, field in known.items() if field.default is MISSING and key not in data]
    if needed:
        raise BadInputError(f"a {kind} needs {', '.join(needed)}")
    settings = chosen.settings(
        **{key: _typed(key, known[key].type, value) for key, value in data.items()}
    )
    if chosen.check is not None:
        chosen.check(settings)
    return settings


def _typed(key: str, kind: Any, value: Any) -> Any:
    wanted = {"str": str, "int": int, "float": float}.get(getattr(kind, "__name__", str(kind)), str)
    try:
        return wanted(value)
    except (TypeError, ValueError):
        raise BadInputError(f"{key} is {value!r}; it must be a {wanted.__name__}") from None


def settings_of(connection: Connection) -> Any:
    """The settings of a stored connection."""
    return parse_settings(connection.kind, connection.settings, connection.driver)


def refresh_token_of(connection: Connection) -> str:
    """The refresh token in the clear, for drivers only; empty when none is set."""
    return decrypt(connection.refresh_token) if connection.refresh_token is not None else ""


def secret_of(connection: Connection) -> str:
    """The secret in the clear, for drivers only. Raises BadInputError when none is set."""
    if connection.secret is None:
        raise BadInputError(f"connection {connection.name!r} has no secret yet")
    return decrypt(connection.secret)


def access_to(connection: Connection) -> Access[Any]:
    """How its system is reached. Raises BadInputError where a needed secret is not set."""
    driver, settings = driver_of(connection.kind, connection.driver), settings_of(connection)
    needed = driver.needs_secret is not None and driver.needs_secret(settings)
    return Access(
        name=connection.name,
        settings=settings,
        secret=secret_of(connection) if needed or connection.secret is not None else "",
        refresh_token=refresh_token_of(connection),
    )
