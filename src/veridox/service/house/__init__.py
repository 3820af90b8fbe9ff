"""Housekeeping: rescue what a dead worker left, report what was given up, tidy."""
