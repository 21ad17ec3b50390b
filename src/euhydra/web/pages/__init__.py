"""The pages: a module for each, and those of a station registered in `stations.py`."""
