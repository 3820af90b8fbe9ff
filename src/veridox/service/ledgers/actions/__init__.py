"""Acts on postings. No network in here: what was answered is an argument."""
