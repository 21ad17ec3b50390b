"""One judgement of the whole garden: findings, causes first, and the cures that were tried."""
