"""The lie of a garden's land, looked at once for all that is laid on it."""

from functools import lru_cache

from euhydra.garden.heights import LieOfLand
from euhydra.garden.model import Garden
from euhydra.planner.same import GARDENS_KEPT, Asked, by_itself, kept


def ground_of(garden: Garden) -> LieOfLand:
    """The lie of a garden's land."""
    return _ground_of(by_itself(garden))


@kept(GARDENS_KEPT)
def _ground_of(same: Asked[Garden]) -> LieOfLand:
    return _looked_at(LieOfLand.of(same.what))


@lru_cache(maxsize=GARDENS_KEPT)
def _looked_at(ground: LieOfLand) -> LieOfLand:
    """The one of all that are alike, with what was found on it."""
    return ground
