"""Drivers of the systems outside, one module each with a `DRIVER`.

Whatever module lies here is loaded by `table.py`; nothing else has to be told of it.
"""
