"""The simulated outside: a finance system and a mailroom. They speak protocols only."""
