"""Who starts a pump when its zone is to run: a timer only opens a valve."""

from enum import IntEnum

from euhydra.garden import catalogue, plumbing
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Pump
from euhydra.garden.plumbing import PumpKind
from euhydra.garden.sentences import Sentence, say
from euhydra.planner.water import zones
from euhydra.planner.water.zones import Zone


class PumpStart(IntEnum):
    """What starts it; of several zones on one pump the greatest counts."""

    ITSELF = 0
    HAND = 1
    TIME_SWITCH = 2
    CONTROLLER = 3


def start_in(zone: Zone, kind: PumpKind) -> PumpStart:
    """What starts a pump of that kind in a zone."""
    has_own_timer = zone.timer is not None and zone.timer.switches_pump
    if kind.is_switched or zone.drum is not None or has_own_timer:
        return PumpStart.ITSELF
    if zones.is_controlled(zone):
        return PumpStart.CONTROLLER
    is_waited_on = zone.timer is None or zone.timer.wants_somebody
    return PumpStart.HAND if is_waited_on and not zone.keeps_level else PumpStart.TIME_SWITCH


def starts_of(garden: Garden) -> dict[str, PumpStart]:
    """What starts each pump that waters something, by its id."""
    found: dict[str, PumpStart] = {}
    for zone in zones.zones_of(garden):
        for pump in zone.way.parts:
            if isinstance(pump, Pump):
                kind = catalogue.find(plumbing.pump_kinds(), pump.kind)
                found[pump.id] = max(found.get(pump.id, PumpStart.ITSELF), start_in(zone, kind))
    return found


def how(start: PumpStart, zone: Zone) -> Sentence:
    """What its owner has to do for a zone, or not."""
    if start is PumpStart.ITSELF:
        return say("pump-starts-itself", "It starts and stops by itself: nobody has to.")
    if start is PumpStart.HAND:
        return say(
            "pump-starts-by-hand",
            "Switch it on once the water may run, and off before you shut that: against a shut valve"
            " it churns and heats.",
        )
    if start is PumpStart.TIME_SWITCH and zone.timer is None:
        return say(
            "pump-starts-for-floats",
            "A time switch in the pump's lead runs it some minutes, several times a day. Once all floats are shut it"
            " churns and heats: keep its runs short, or take a pump that stops by itself.",
        )
    if start is PumpStart.TIME_SWITCH:
        return say(
            "pump-starts-by-time-switch",
            "The timer only opens its valve: a time switch in the pump's lead, set to the same runs,"
            " starts it with them and stops it. Against a shut valve it churns and heats.",
        )
    return say(
        "pump-starts-by-relay",
        "The controller starts it by a relay on its pump terminal.",
    )
