"""Acts on runs of reports."""
