"""Imports of master data."""
