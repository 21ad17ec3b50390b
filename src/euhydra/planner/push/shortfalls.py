"""What keeps a zone from working, found by solving it from a full store downwards."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from euhydra.core.constants import LITRES_PER_CUBIC_METRE, MM_PER_M
from euhydra.garden.pipes import Pipe
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.sources import Tap
from euhydra.planner.answers import PlanError
from euhydra.planner.catch import taps
from euhydra.planner.need.daily import Need
from euhydra.planner.water import laws, solving, zones
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.zones import Zone

EVEN = 0.90
"""Weakest outlet over its due that counts as even. [-] Common practice: 90%."""

PRESSURE = "pressure"
"""The cause of a line that gets more head than it bears."""

LITTLE = 1e-9
"""Flow of a whole zone that counts as none. [m³ s⁻¹]"""


@dataclass(frozen=True)
class Duty:
    """What the zone has to do on its hardest mean day.

    need_m3 : Gross water of a day. [m³]
    """

    need_m3: float


@dataclass(frozen=True)
class Shortfall:
    """One thing that keeps it from working; `is_fatal` unless it only shows near empty.

    share : Of the drawable water, the highest at which it shows. [-]
    pipe : That gets more than it bears; None where it is something else.
    """

    cause: str
    reason: Sentence
    is_fatal: bool
    share: float
    pipe: Pipe | None = None


def duty_of(state: ZoneState, needs: Sequence[Need]) -> Duty | None:
    """What the zone has to give on a mean day of its hardest month; None if that is not known.

    Parameters
    ----------
    state : The zone as it usually stands.
    needs : Of the beds and pots that it waters.
    """
    by_month = np.zeros(12)
    for need in needs:
        kept = state.kept_in(need.part.id)
        by_month += need.net_a_day / MM_PER_M * need.area_m2 / (kept if kept > 0 else 1.0)
    gross = float(by_month.max())
    return Duty(gross) if gross > 0 else None


def find_shortfalls(zone: Zone, duty: Duty | None) -> tuple[Shortfall, ...]:
    """Everything that keeps the zone from working, found by solving it.

    Levels are tried from full downwards, and each cause is told at the highest level at which it
    shows: below that it only gets worse.
    """
    found: dict[str, Shortfall] = {}
    for name, share in zone.levels.items():
        fault = _fault_at(zone, name, share)
        if fault:
            found.setdefault(fault.cause, fault)
        burst = _too_much(zone, share)
        if burst:
            found.setdefault(burst.cause, burst)
    if duty and not any(fault.is_fatal for fault in found.values()):
        slow = _too_slow(zone, duty)
        if slow:
            found["time"] = Shortfall("time", slow, True, zone.levels[zone.usual_level])
    return tuple(found.values())


def _fault_at(zone: Zone, name: str, share: float) -> Shortfall | None:
    is_fatal = share > zones.NEARLY_EMPTY
    when = f"With the {zone.noun} {name}"
    if zone.timer and not zone.opens_at(share):
        return Shortfall(
            "valve",
            say(
                "push-valve-head-needs",
                "{when} the valve has {head} of head and needs {least} to open.",
                when=when,
                head=Amount(zone.head_at_valve(share), "head"),
                least=Amount(zone.timer.least_opening_head_m, "head"),
            ),
            is_fatal,
            share,
        )
    if zone.head_at(share) <= 0 and not zone.pumps:
        return Shortfall(
            "height",
            say(
                "push-water-stands-below",
                "{when} the water stands {below} below the highest outlet.",
                when=when,
                below=Amount(-zone.head_at(share), "height"),
            ),
            is_fatal,
            share,
        )
    state = solving.solve_zone(zone, share)
    if state.flow < LITTLE:
        return Shortfall(
            "height",
            say("push-nothing-comes", "{when} nothing comes out of it.", when=when),
            is_fatal,
            share,
        )
    if state.lowest_share < EVEN:
        return Shortfall(
            "evenness",
            say(
                "push-weakest-outlet-gets-due",
                "{when} the weakest outlet gets {share} of its due.",
                when=when,
                share=Amount(state.lowest_share, "share"),
            ),
            is_fatal,
            share,
        )
    if isinstance(zone.source, Tap) and state.flow > taps.usable_flow(zone.source) * 1.001:
        return Shortfall(
            "tap",
            say(
                "push-takes-tap-zone",
                "It takes {flow} from the tap; one zone may use {usable}, three quarters of what the "
                "bucket said.",
                flow=Amount(state.flow, "flow"),
                usable=Amount(taps.usable_flow(zone.source), "flow"),
            ),
            is_fatal,
            share,
        )
    return None


def _too_much(zone: Zone, share: float) -> Shortfall | None:
    """A line that gets more head than it bears."""
    state = solving.solve_zone(zone, share)
    lines = [pipe for pipe in zone.pipes if laws.kind_of(pipe).has_outlets]
    worst = max(lines, key=lambda p: state.head_on(p) - laws.kind_of(p).most_head_m, default=None)
    if worst is None or state.head_on(worst) <= laws.kind_of(worst).most_head_m:
        return None
    return Shortfall(
        PRESSURE,
        say(
            "push-too-much-head",
            "“{pipe}” gets {head} of head and bears {most}: joints let go and outlets spray.",
            pipe=worst.name,
            head=Amount(state.head_on(worst), "head"),
            most=Amount(laws.kind_of(worst).most_head_m, "head"),
        ),
        True,
        share,
        worst,
    )


def _too_slow(zone: Zone, duty: Duty) -> Sentence | None:
    hours = hours_for(zone, duty)
    if hours * 3600 <= zone.window_s:
        return None
    return say(
        "push-hardest-months-day-take",
        "The hardest month's {litres} a day take {hours}; you allow {window}.",
        litres=Amount(duty.need_m3, "volume"),
        hours=Amount.hours(hours),
        window=Amount(zone.window_s, "hours"),
    )


def hours_for(zone: Zone, duty: Duty) -> float:
    """Hours for the day's water at the flow of a half-drawn store, or of the open tap. [h]"""
    flow = solving.litres_an_hour(solving.solve_zone(zone, zone.levels[zone.usual_level]).flow)
    litres = duty.need_m3 * LITRES_PER_CUBIC_METRE
    return litres / flow if flow > 0 else float("inf")


def works(zone: Zone, duty: Duty | None, but_for: str = "") -> bool:
    """Whether nothing keeps it from working, or nothing but one cause; what cannot be solved does not."""
    try:
        return all(fault.cause == but_for for fault in find_shortfalls(zone, duty))
    except PlanError:
        return False


def bursts(zone: Zone) -> bool:
    """Whether a line gets more head than it bears."""
    return any(fault.cause == PRESSURE for fault in find_shortfalls(zone, None))
