"""A token server: OAuth 2 tokens for mailboxes (RFC 6749), and introspection (RFC 7662)."""
