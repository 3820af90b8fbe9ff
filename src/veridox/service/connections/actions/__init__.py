"""Acts on connections."""
