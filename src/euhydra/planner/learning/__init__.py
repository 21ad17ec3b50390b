"""What a year's log says of the garden: one state, and claims that are earned."""
