"""What the service needs of systems outside, as protocols; adapters provide it."""
