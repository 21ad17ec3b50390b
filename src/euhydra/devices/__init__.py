"""Outside things behind small protocols, the stand-ins that ship, and the bench they run on."""
