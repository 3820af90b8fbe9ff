"""The kit's fixtures: no service, no database."""

pytest_plugins = ["veridox.testing"]
