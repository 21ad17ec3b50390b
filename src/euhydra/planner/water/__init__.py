"""Water in the pipes: the way from a source, the zones on it, and what flows in them."""
