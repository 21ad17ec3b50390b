"""The pump in a drum whose lines are laid: the weakest that does it and bursts nothing."""

from euhydra.garden import plumbing
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Pump
from euhydra.garden.plumbing import PumpKind
from euhydra.planner.push import shortfalls
from euhydra.planner.water import zones


def sunk_kinds() -> list[PumpKind]:
    """Pumps that sit in the water, the weakest first: in a drum there is no room for another."""
    return [kind for kind in plumbing.pump_kinds().values() if kind.most_lift_m == 0]


def fitted(garden: Garden, pump_id: str) -> Garden:
    """The garden with the weakest pump that gives every outlet its due; as it is where none does."""
    zone = next((z for z in zones.zones_of(garden) if any(p.id == pump_id for p in z.pumps)), None)
    if zone is None:
        return garden
    pump = next(pump for pump in zone.pumps if pump.id == pump_id)
    for kind in sunk_kinds():
        other = pump.model_copy(update={"kind": kind.id})
        if shortfalls.works(zones.in_garden(zone, pumps={pump_id: other}), None):
            return garden.model_copy(
                update={"pumps": tuple(other if p.id == pump_id else p for p in garden.pumps)}
            )
    return garden


def new_pump(garden: Garden, before: Garden) -> Pump | None:
    """A pump that one garden has and another had not."""
    there = {pump.id for pump in before.pumps}
    return next((pump for pump in garden.pumps if pump.id not in there), None)
