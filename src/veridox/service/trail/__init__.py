"""Who did what and why, in a chain that shows any tampering."""
