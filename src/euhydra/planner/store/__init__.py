"""Store: how far the stores carry the garden, where they stand and where they spill."""
