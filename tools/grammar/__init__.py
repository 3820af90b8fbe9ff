"""Pages composed by a grammar as boxes of words, each with what it states: what reading is trained on."""
