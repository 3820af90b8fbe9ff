"""Acts on pipelines."""
