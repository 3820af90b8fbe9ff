"""A pipeline file: its keys, its check, its problems, what it warns of."""
