"""Push: whether height is enough, what falls short, and what would cure it."""
