"""Doubles in memory, for tests and for authors of drivers."""
