"""Entities, vendors and orders as the finance system knows them."""
