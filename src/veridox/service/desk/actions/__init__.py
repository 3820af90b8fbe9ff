"""Acts at the desk."""
