"""Parts counted from the drawing, by two routes, and what they come to."""
