"""Acts on the installation itself."""
