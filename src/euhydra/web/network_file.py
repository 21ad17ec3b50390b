"""A zone's pipe network as a file for the open hydraulic engine: stores full, and able to run down."""

from itertools import pairwise

from euhydra.formats import inp
from euhydra.formats.inp import TankShape
from euhydra.planner.water import solving, zones
from euhydra.planner.water.zones import Zone

SAME_HEIGHT = 1e-6
"""Heights nearer than that are one. [m] The engine wants the curve of a tank to rise."""


def network_file(zone: Zone) -> str:
    """The zone with its store full, as `.inp` text.

    Raises
    ------
    PlanError : if the zone cannot be solved.
    InpError : if it has what the format does not.
    """
    network = solving.network_of(zone, zones.LEVELS["full"])
    return inp.dumps(network, f"{zone.garden.name}, store full", _tanks(zone))


def _tanks(zone: Zone) -> dict[str, TankShape]:
    """Its stores, each with all that share its level, by the name of their node."""
    found = {}
    for source in zone.way.sources:
        group = zones.group_at(zone.garden, source)
        if group is not None:
            level = group.level
            knots = list(zip(level.level.tolist(), level.volume.tolist(), strict=True))
            rising = knots[:1] + [b for a, b in pairwise(knots) if b[0] - a[0] > SAME_HEIGHT]
            heights, volumes = zip(*rising, strict=True)
            found[source.id] = TankShape(heights, volumes, source.tap_m)
    return found
