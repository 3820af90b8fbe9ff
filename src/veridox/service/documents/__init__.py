"""Files and the documents in them."""
