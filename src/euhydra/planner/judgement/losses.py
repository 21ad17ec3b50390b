"""Which piece takes the head on the way to the weakest outlet."""

from dataclasses import dataclass

from euhydra.garden.part import Part
from euhydra.planner.water.solving import ZoneState

TAKES_MOST = 0.4
"""Share of the head there is from which on a piece is the cause. [-] Our choice."""


@dataclass(frozen=True)
class HeadLoss:
    """Head that one piece or pipe takes, of that which there is over the outlet. [m]"""

    part: Part
    head: float
    of: float

    @property
    def share(self) -> float:
        """[-]"""
        return self.head / self.of if self.of > 0 else 0.0


def losses_to(state: ZoneState, node: str) -> tuple[HeadLoss, ...]:
    """What each part on the way to an outlet takes, most first; a pump gives and is left out.

    Parameters
    ----------
    node : Of the outlet.
    """
    way = state.zone.way
    taken: dict[str, float] = {}
    route = way.route_to(node)
    for stop in route:
        if stop.before is not None:
            lost = state.heads[stop.before] - state.heads[stop.node]
            taken[stop.part_id] = taken.get(stop.part_id, 0.0) + lost
    given = sum(-lost for lost in taken.values() if lost < 0)
    there = state.heads[route[0].node] - route[-1].height + given
    parts = {part.id: part for part in way.parts}
    found = [
        HeadLoss(parts[part_id], lost, there)
        for part_id, lost in taken.items()
        if part_id in parts and lost > 0
    ]
    return tuple(sorted(found, key=lambda loss: -loss.head))


def greatest(state: ZoneState) -> HeadLoss | None:
    """The part that takes most on the way to the weakest outlet; None where nothing takes any."""
    found = losses_to(state, state.weakest.node)
    return found[0] if found else None
