"""Today: what the garden wants this morning, from the log's state and the days ahead."""
