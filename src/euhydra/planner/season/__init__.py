"""Season: the whole garden through its weather record, and the odds that follow."""
