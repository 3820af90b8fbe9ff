"""Acts on people, their tokens and their signing in."""
