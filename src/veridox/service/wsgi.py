"""WSGI entry point."""

import os
import threading

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "veridox.service.settings")
application = get_wsgi_application()


def _warm_up() -> None:
    from veridox.service import wiring

    wiring.reader_pool().warm_up()


# The first page that somebody opens need not wait until a reader has started.
threading.Thread(target=_warm_up, name="warm-up", daemon=True).start()
