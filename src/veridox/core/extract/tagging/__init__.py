"""What every word of a document states: a small network over words, their places and their sums."""
