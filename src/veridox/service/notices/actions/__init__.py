"""Acts on notices."""
