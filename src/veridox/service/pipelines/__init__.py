"""Pipelines and their published versions."""
