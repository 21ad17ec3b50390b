"""Build: the steps of a garden, in the order that works, with its own measurements."""
