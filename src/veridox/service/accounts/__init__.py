"""People, tokens, roles."""
