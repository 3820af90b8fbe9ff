"""Documents written one by one, to decide by: nothing is trained on them, nothing tuned to them."""
