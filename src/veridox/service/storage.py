"""Where bytes are kept: the store of originals, and files that can be made again."""

import os
import tempfile
from functools import cache
from pathlib import Path
from typing import cast

from django.conf import settings

from veridox.service.adapters.table import driver_of
from veridox.service.ports.driver import Access
from veridox.service.ports.store import Store


def originals() -> Store:
    """The store of everything that came in, unchanged."""
    return _opened(settings.CONFIGURATION.store, settings.CONFIGURATION.data / "originals")


@cache
def _opened(name: str, root: Path) -> Store:
    driver = driver_of("store", name)
    access = Access(name="originals", settings=driver.settings(root=str(root)))
    return cast(Store, driver.open(access))


def write(path: Path, content: bytes) -> None:
    """Write a file that can be made again: complete or not there, but not waited for."""
    handle, name = tempfile.mkstemp(dir=path.parent, prefix=".new-")
    with os.fdopen(handle, "wb") as file:
        file.write(content)
    os.replace(name, path)
