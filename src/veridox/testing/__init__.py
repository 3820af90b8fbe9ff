"""Fixtures for testing pipelines and plug-ins in a suite of one's own: no service, no database.

In `conftest.py`: `pytest_plugins = ["veridox.testing"]`. Then the fixture `veridox_kit` makes a kit
from a pipeline's text or file; it has vendors, entities and orders in memory, and walks bills,
files and mails along the road, as `veridox pipeline try` does.
"""

from veridox.testing.fixtures import veridox_kit, veridox_pool
from veridox.testing.kit import Kit, TriedDocument, TriedMail
from veridox.testing.paper import invoice_pdf

__all__ = ["Kit", "TriedDocument", "TriedMail", "invoice_pdf", "veridox_kit", "veridox_pool"]
