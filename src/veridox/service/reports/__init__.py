"""Numbers over all records. Reads only."""
