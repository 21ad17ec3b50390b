"""Other lines and other drives for a zone: what they cost a bed, and whether they work."""

from collections.abc import Mapping
from dataclasses import dataclass

from euhydra.garden import catalogue, plumbing
from euhydra.garden.sentences import lowered
from euhydra.planner.answers import PlanError
from euhydra.planner.parts import counting
from euhydra.planner.parts.answer import Price, items_of
from euhydra.planner.push import drives, shortfalls
from euhydra.planner.push.answer import PushAnswer
from euhydra.planner.push.shortfalls import Duty
from euhydra.planner.water import laws, solving, zones
from euhydra.planner.water.zones import Zone

LINES = ("line-low", "line-2", "tape", "soaker")
"""Lines that are weighed against each other: emitters for barrels and for mains, tape, soaker."""


@dataclass(frozen=True)
class Alternative:
    """A zone built otherwise.

    cost : Of everything between its source and its outlets, in whole packs.
    works : Whether every outlet then gets its due.
    """

    words: str
    cost: float
    cost_a_bed: float
    works: bool
    is_present: bool


@dataclass(frozen=True)
class ZoneChoice:
    """A zone as it is, then otherwise, the cheapest that works first."""

    zone: Zone
    alternatives: tuple[Alternative, ...]


def compare(push: PushAnswer, prices: Mapping[str, Price]) -> ZoneChoice:
    """Soaker or emitters, gravity or pump."""
    zone = push.zone
    present = _alternative("As it is planned", zone, push, prices, is_present=True)
    others = [*_other_lines(push, prices), *_other_drives(push, prices)]
    others.sort(key=lambda a: (not a.works, a.cost))
    return ZoneChoice(zone, (present, *others))


def _other_lines(push: PushAnswer, prices: Mapping[str, Price]) -> list[Alternative]:
    zone = push.zone
    lines = [pipe for pipe in zone.pipes if laws.kind_of(pipe).has_outlets]
    found = []
    for kind_id in LINES if lines else ():
        kind = catalogue.find(plumbing.pipe_kinds(), kind_id)
        if all(pipe.kind == kind_id for pipe in lines):
            continue
        changed = zones.in_garden(
            zone,
            pipes={
                p.id: p.model_copy(
                    update={"kind": kind_id, "bore_m": None, "hole_m": None, "holes_m": ()}
                )
                for p in lines
            },
        )
        found.append(_alternative(kind.name, changed, push, prices))
    return found


def _other_drives(push: PushAnswer, prices: Mapping[str, Price]) -> list[Alternative]:
    zone = push.zone
    if zone.pumps or zone.group is None:
        return []
    pump = drives.smallest_pump(zone, push.duty)
    if pump is None:
        return []
    pumped = drives.pumped(zone, pump)
    own = prices.get(f"pump-{pump.id}")
    return [
        _alternative(
            f"With a pump: {lowered(pump.name)}",
            pumped,
            push,
            prices,
            more=own.price if own else pump.price,
        )
    ]


def _alternative(
    words: str,
    zone: Zone,
    push: PushAnswer,
    prices: Mapping[str, Price],
    more: float = 0.0,
    is_present: bool = False,
) -> Alternative:
    parts = {part.id for part in zone.way.parts}
    uses = [use for use in counting.uses_of(zone.garden) if use.where in parts]
    cost = sum(item.cost for item in items_of(uses, prices, zone.garden.units)) + more
    return Alternative(
        words, cost, cost / max(1, len(zone.watered)), _works(zone, push.duty), is_present
    )


def _works(zone: Zone, duty: Duty | None) -> bool:
    """Whether every outlet gets its due, and no line more head than it bears."""
    try:
        state = solving.solve_zone(zone, 1.0)
        bears = all(state.head_on(p) <= laws.kind_of(p).most_head_m for p in zone.pipes)
        return bears and shortfalls.works(zone, duty)
    except PlanError:
        return False
