"""One running installation for all tests that drive the whole stack."""

from itertools import count

import pytest
from hypothesis import HealthCheck, settings

from demo import bills
from demo.console import build_console
from demo.drawing import LAYOUTS
from demo.mails import Attached, Mail
from tests.cluster import STACK
from tests.stack.running import Running

pytest_plugins = ["veridox.testing"]
# No example fails because the machine had other things to do: tests of the core give way.
settings.register_profile("patient", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("patient")
_numbers = count(1)
LONG = ("test_whole_path.py", "test_wheel.py", "test_many_at_once.py")
"""Files that take longest: begun first, so that no process waits for another at the end."""


def pytest_collection_modifyitems(items):
    items.sort(key=lambda item: item.path.name not in LONG)


@pytest.fixture(scope="session")
def running():
    build_console(print)  # before the service looks for it
    there = Running(STACK)
    try:
        there.start_all()
        yield there
    finally:
        there.stop_all()


@pytest.fixture
def fresh_bill():
    """A clean bill with a number of its own, of a vendor that needs no order."""
    return bills.of_its_own(f"QV-{next(_numbers):04d}-26")


def mail_with(bill, *more, layout="letterhead", subject=None):
    """A mail that brings a bill."""
    name = f"{bill.number.lower()}.pdf"
    file = Attached(name=name, content=lambda: LAYOUTS[layout](bill))
    return Mail(
        name="test", sender=bill.vendor, subject=subject or f"Invoice {bill.number}",
        text="Please find our invoice attached.\n", files=(file, *more), expect=(),
    ).message()  # fmt: skip
