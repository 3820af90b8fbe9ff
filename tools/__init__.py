"""Tools of development."""
