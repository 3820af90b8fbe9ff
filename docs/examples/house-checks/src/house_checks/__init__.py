"""Plug-ins of the Merrowmere houses."""
