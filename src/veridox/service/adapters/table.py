"""The table of drivers."""

import logging
import pkgutil
from collections.abc import Callable, Iterable
from importlib import import_module
from typing import Any, Final

from veridox.pluginhost import Described, PluginHost
from veridox.service import adapters
from veridox.service.adapters.plugged import drivers_of
from veridox.service.errors import BadInputError
from veridox.service.ports.driver import Driver

_LOG = logging.getLogger(__name__)
_NOT_DRIVERS = {"table", "common", "doubles", "plugged"}


def _loaded() -> dict[tuple[str, str], Driver[Any]]:
    found: dict[tuple[str, str], Driver[Any]] = {}
    for module in pkgutil.iter_modules(adapters.__path__):
        if module.name in _NOT_DRIVERS:
            continue
        driver = import_module(f"{adapters.__name__}.{module.name}").DRIVER
        if (driver.kind, driver.name) in found:
            raise ValueError(f"two drivers of a {driver.kind} are called {driver.name}")
        found[driver.kind, driver.name] = driver
    return found


DRIVERS: Final[dict[tuple[str, str], Driver[Any]]] = _loaded()
"""By kind and name; those of plug-ins are added when a process begins."""


def add_drivers_of(plugins: Iterable[Described], host: Callable[[], PluginHost]) -> None:
    """Have drivers of plug-ins among them.

    Args:
        plugins: described.
        host: opens what runs them, when it is first needed.

    One whose name is a driver's of ours is left out, and the log says so: a mistake in a plug-in
    must not keep the service from beginning.
    """
    for driver in drivers_of(plugins, host):
        key = (driver.kind, driver.name)
        if key in DRIVERS and key not in _ADDED:
            _LOG.warning("plug-in %s left out: a %s has a driver of this name", *reversed(key))
            continue
        _ADDED.add(key)
        DRIVERS[key] = driver


_ADDED: set[tuple[str, str]] = set()


def driver_of(kind: str, name: str = "") -> Driver[Any]:
    """A driver by name; the usual one of its kind when none is named. Raises BadInputError."""
    of_kind = {named: driver for (its, named), driver in DRIVERS.items() if its == kind}
    if not of_kind:
        kinds = ", ".join(sorted({its for its, _ in DRIVERS}))
        raise BadInputError(f"{kind!r} is no kind of connection; use {kinds}")
    if not name:
        usual = [driver for driver in of_kind.values() if driver.usual]
        return usual[0] if usual else next(iter(of_kind.values()))
    if name not in of_kind:
        there = ", ".join(sorted(of_kind))
        raise BadInputError(f"there is no driver {name!r} for a {kind}; there are: {there}")
    return of_kind[name]
