"""Ways to begin a garden: from what somebody has to a whole document that answers."""
