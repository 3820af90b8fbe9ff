"""Pages to readings, by one engine (docs/reading.md)."""
