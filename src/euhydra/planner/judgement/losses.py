"""Which piece takes the head on the way to the weakest outlet."""

from dataclasses import dataclass

import numpy as np

from euhydra.garden.part import Part
from euhydra.garden.pipes import Fitting
from euhydra.garden.plumbing import FittingRole
from euhydra.planner.water.solving import ZoneState

TAKES_ALL = 0.5
"""Share of the head there is from which on plants go short whatever the minutes. [-] Our choice."""

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
    """What each part on the way to an outlet takes, most first; a pump gives and is left out, and what a
    regulator takes is not there for the lines.

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
    parts = {part.id: part for part in way.parts if not _holds(part)}
    given = sum(-lost for lost in taken.values() if lost < 0)
    held = sum(lost for part_id, lost in taken.items() if part_id not in parts)
    there = state.heads[route[0].node] - route[-1].height + given - held
    found = [
        HeadLoss(parts[part_id], lost, there)
        for part_id, lost in taken.items()
        if part_id in parts and lost > 0
    ]
    return tuple(sorted(found, key=lambda loss: -loss.head))


def _holds(part: Part) -> bool:
    """Whether it takes head on purpose."""
    return isinstance(part, Fitting) and part.role is FittingRole.REGULATES


def beyond(state: ZoneState) -> HeadLoss | None:
    """The part on the way to the weakest outlet that takes most over what is taken on the way to the best.

    What both share makes outlets weak, and not unlike.
    """
    zone = state.zone
    best = zone.outlets[int(np.argmax(state.got))]
    shared = {loss.part.id: loss.head for loss in losses_to(state, best.node)}
    found = losses_to(state, state.weakest.node)
    return max(found, key=lambda loss: loss.head - shared.get(loss.part.id, 0.0), default=None)


def greatest(state: ZoneState) -> HeadLoss | None:
    """The part that takes most on the way to the weakest outlet; None where nothing takes any."""
    found = losses_to(state, state.weakest.node)
    return found[0] if found else None
