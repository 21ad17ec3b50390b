"""Keep: the log read against the plan, faults, upkeep, feed, and the season told."""
