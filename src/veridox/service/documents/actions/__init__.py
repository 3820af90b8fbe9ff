"""Acts on files and documents."""
