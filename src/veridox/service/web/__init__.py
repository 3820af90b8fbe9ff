"""What all REST views share: problems, pages of lists, versions, idempotency."""
