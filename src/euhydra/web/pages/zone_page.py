"""What pages about one zone share: the zones to choose from, and the parts of the one chosen."""

from collections.abc import Callable, Sequence

from euhydra.garden.kinds import Collection
from euhydra.garden.part import Part
from euhydra.planner.answers import Gap, Mark
from euhydra.planner.chain import ZoneChain
from euhydra.planner.water import laws
from euhydra.web.desk import Desk
from euhydra.web.pages.station import Choice

PIPES_ASKED = 4
"""Most pipes of a zone whose forms a page shows; the others are chosen on the plan."""


def no_mark(zone: ZoneChain) -> Mark | None:
    """For pages that judge no zone."""
    return None


def zone_choices(
    desk: Desk, at: str, mark_of: Callable[[ZoneChain], Mark | None] = no_mark
) -> list[Choice]:
    """Every zone, with the mark of what the page judges."""
    here = desk.chain.zone(at)
    return [Choice(z.zone.id, z.zone.name, z is here, mark_of(z)) for z in desk.chain.zones]


def zone_here(desk: Desk, at: str) -> frozenset[str]:
    """Id of the zone that a page is turned to, or of what no zone waters."""
    zone = desk.chain.zone(at)
    return frozenset({at} if isinstance(zone, Gap) else {zone.zone.id})


def dry_choices(desk: Desk, at: str) -> list[Choice]:
    """Beds and pots that no zone waters."""
    watered = {part.id for zone in desk.chain.zones for part in zone.zone.watered}
    return [
        Choice(plant.part.id, plant.part.name, plant.part.id == at, None)
        for plant in desk.chain.planted
        if plant.part.id not in watered
    ]


def parts_of_zone(desk: Desk, collection: Collection, at: str) -> Sequence[Part]:
    """Parts of a collection on the zone's way; every timer where there is no zone yet."""
    parts: Sequence[Part] = getattr(desk.revision.garden, collection)
    zone = desk.chain.zone(at)
    if isinstance(zone, Gap):
        return parts if collection == "timers" else []
    if collection == "pipes":
        # Rows and tubes are chosen on the plan; the way to them is what Push is about.
        plain = [p for p in zone.zone.pipes if not laws.kind_of(p).has_outlets and not p.dripper]
        return plain[:PIPES_ASKED]
    return [part for part in parts if any(p.id == part.id for p in zone.zone.way.parts)]
