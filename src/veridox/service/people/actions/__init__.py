"""Acts on people and tokens."""
