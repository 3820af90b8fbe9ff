"""Fixtures for testing pipelines and plug-ins in a suite of one's own."""
