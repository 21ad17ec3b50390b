"""The planner from a shell."""
