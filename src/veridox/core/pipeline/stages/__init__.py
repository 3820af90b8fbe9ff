"""The stages of the road, one module each. A new stage is entered in `road.py`."""
