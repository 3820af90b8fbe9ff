"""What a model trained on made-up bills says about every date, id, amount and name of a page."""
