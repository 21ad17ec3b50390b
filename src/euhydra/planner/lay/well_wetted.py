"""Lines set closer until they wet enough of a bed, where their distance was left to the program."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from euhydra.garden.beds import Bed
from euhydra.garden.model import Garden
from euhydra.planner.answers import PlanError
from euhydra.planner.lay import rows, wetted
from euhydra.planner.lay.wishes import Method, Wish, rows_for, spacing_for
from euhydra.planner.water import solving, zones

CLOSEST_ROWS = 0.2
"""Least distance between rows. [m] Our choice: a hand's breadth to plant and hoe between."""

CLOSER_OUTLETS = (0.25, 0.2, 0.15)
"""Distances between outlets that are tried once the rows are at their closest. [m] As sold."""


@dataclass(frozen=True)
class _Aim:
    """A wish as it stands, and what of it the program may still change."""

    wish: Wish
    bed: Bed | None
    may_add_rows: bool
    may_space: bool

    def closer(self) -> "_Aim | None":
        """With one row more, or else with outlets closer; None where there is nothing left."""
        if self.bed is None:
            return None
        count = rows_for(self.wish, self.bed) + 1
        if self.may_add_rows and rows.across(self.bed) / count > CLOSEST_ROWS - 1e-9:
            return replace(self, wish=replace(self.wish, rows=count))
        now = spacing_for(self.wish)
        less = next((spacing for spacing in CLOSER_OUTLETS if spacing < now - 1e-9), None)
        if not self.may_space or less is None:
            return None
        return replace(self, wish=replace(self.wish, spacing_m=less))


def lay_closer(
    garden: Garden,
    wishes: Sequence[Wish],
    lay: Callable[[Garden, Sequence[Wish]], Garden],
    gives_all: Callable[[Garden], bool],
) -> Garden:
    """The garden with lines laid as wished, each bed's as close as it needs to be well wetted.

    Parameters
    ----------
    lay : How they are laid once it is said how close.
    gives_all : Whether every outlet gets its due: no bed is wetted better at the cost of that.
    """
    beds = {bed.id: bed for bed in garden.beds}
    aims = [
        _Aim(
            w,
            beds.get(w.waters),
            w.rows is None and w.method is not Method.STEMS,
            w.spacing_m is None,
        )
        for w in wishes
    ]
    laid = lay(garden, wishes)
    while True:
        thin = _too_thin(laid, {aim.wish.waters for aim in aims})
        closer = [(aim.closer() or aim) if aim.wish.waters in thin else aim for aim in aims]
        if closer == aims:
            return laid
        tried = lay(garden, [aim.wish for aim in closer])
        if gives_all(laid) and not gives_all(tried):
            return laid
        aims, laid = closer, tried


def _too_thin(garden: Garden, laid_for: set[str]) -> set[str]:
    """Beds of these that are not well wetted."""
    found: set[str] = set()
    for zone in zones.zones_of(garden):
        own = [bed for bed in zone.beds if bed.id in laid_for]
        if own:
            try:
                state = solving.solve_zone(zone, zone.levels[zone.usual_level])
            except PlanError:
                continue  # Lay and Push say why; closer lines would not help
            answers = (wetted.answer_wetting(bed, state) for bed in own)
            found |= {answer.bed.id for answer in answers if answer and answer.is_thin}
    return found
