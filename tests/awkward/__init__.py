"""Mails as they really come: made by `mails.py`, used wherever mails are read."""
