"""Gravity and pump side by side: rate, hours, energy, cost, noise, upkeep; would a pump cycle?"""

from dataclasses import dataclass, replace
from functools import partial

from euhydra.core import pumps
from euhydra.garden import catalogue, plumbing
from euhydra.garden.pipes import Fitting, Pump
from euhydra.garden.plumbing import FittingKind, PumpKind
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.push import shortfalls
from euhydra.planner.push.shortfalls import Duty
from euhydra.planner.water import laws, pump_starts, solving, zones
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.way import Joined
from euhydra.planner.water.zones import Zone

USUAL_BATTERY_AH = 20.0
"""Battery that a 12 V pump is reckoned with. [A h] Our choice: one that a hand can carry."""

USABLE_CHARGE = 0.5
"""Share of a lead battery that may be drawn. [-] Common practice."""

MOST_STARTS = 20.0
"""Starts an hour that a small pump bears. [h⁻¹] Common practice: 15 to 30."""

SPARE_SUCTION = 1.0
"""Suction head to keep in hand. [m] Common practice."""

FULL_LOSSES = 0.3
"""Head lost in a suction hose and its foot valve. [m] Common practice."""


TRIED_REGULATOR = "tried-regulator"
"""Id of a regulator that is only tried."""

MANY_DAYS = 10.0
"""Days from which on tenths are not told. [d]"""


@dataclass(frozen=True)
class Drive:
    """One way of driving the zone, at the level at which times are reckoned.

    works : Whether the whole zone works with it at every level.
    hours : For the water of the hardest mean day; None while that is not known. [h]
    energy_wh : Of such a day. [W h]
    """

    name: str
    works: bool
    flow: Amount
    outlet: Amount
    head: Amount
    hours: Amount | None
    energy_wh: float
    price: float
    noise: str
    upkeep: Sentence
    notes: tuple[Sentence, ...]


def compare(zone: Zone, duty: Duty | None) -> tuple[Drive, ...]:
    """The zone as it is, and with the smallest pump of each sort that makes it work."""
    drives = [_drive(zone, duty, None)]
    if zone.pumps or zone.group is None:
        return tuple(drives)
    for volts in (12.0, 230.0):
        kind = smallest_pump(zone, duty, volts)
        if kind:
            drives.append(_drive(pumped(zone, kind), duty, kind))
    return tuple(drives)


def smallest_pump(zone: Zone, duty: Duty | None, volts: float | None = None) -> PumpKind | None:
    """The weakest pump of the catalogue with which the zone works."""
    for kind in plumbing.pump_kinds().values():
        if volts in (None, kind.volts) and shortfalls.works(pumped(zone, kind), duty):
            return kind
    return None


def pumped(zone: Zone, kind: PumpKind) -> Zone:
    """The zone with a pump at its source, and with a regulator where its lines would not bear that."""
    changed = with_pump(zone, kind)
    if not shortfalls.bursts(changed):
        return changed
    regulators = [k for k in plumbing.fitting_kinds().values() if k.setting_m > 0]
    tried = (with_regulator(changed, k) for k in sorted(regulators, key=lambda k: -k.setting_m))
    return next((found for found in tried if not shortfalls.bursts(found)), changed)


def with_regulator(zone: Zone, kind: FittingKind) -> Zone:
    """The zone with a regulator before its first pipe."""
    first = zone.pipes[0]
    regulator = Fitting(
        id=TRIED_REGULATOR,
        name=kind.name,
        kind=kind.id,
        at=first.path[0],
        begins_at=first.begins_at,
        begins_along_m=first.begins_along_m,
    )
    fed = first.model_copy(update={"begins_at": regulator.id, "begins_along_m": None})
    parts: list[Joined] = []
    for part in zone.way.parts:
        parts += [regulator, fed] if part.id == first.id else [part]
    return replace(zone, way=replace(zone.way, parts=tuple(parts)))


def with_pump(zone: Zone, kind: PumpKind) -> Zone:
    """The zone with a pump at its source, before everything else."""
    pump = Pump(
        id="tried-pump", name=kind.name, kind=kind.id, at=zone.source.at, begins_at=zone.source.id
    )
    parts = tuple(
        part.model_copy(update={"begins_at": pump.id}) if part.begins_at == zone.source.id else part
        for part in zone.way.parts
    )
    head = next((p for p in parts if zone.head and p.id == zone.head.id), zone.head)
    way = replace(zone.way, parts=(pump, *parts))
    return replace(zone, way=way, head=head)  # type: ignore[arg-type]


def _drive(zone: Zone, duty: Duty | None, kind: PumpKind | None) -> Drive:
    state = solving.solve_zone(zone, zone.levels[zone.usual_level])
    hours = shortfalls.hours_for(zone, duty) if duty else None
    own = zone.pumps[0] if zone.pumps else None
    kind = kind or (catalogue.find(plumbing.pump_kinds(), own.kind) if own else None)
    notes = tuple(_pump_notes(zone, state, own, kind, hours)) if own and kind else ()
    return Drive(
        kind.name if kind else ("Height alone" if zone.group else "The tap's pressure"),
        shortfalls.works(zone, duty),
        Amount(state.flow, "flow"),
        Amount(state.mean_flow, "flow"),
        Amount(float(state.outlet_head.mean()), "head"),
        Amount.hours(hours) if hours is not None and hours < 1e4 else None,
        power_of(own, kind) * hours if kind and hours is not None and hours < 1e4 else 0.0,
        kind.price if kind else 0.0,
        kind.noise if kind else "silent",
        priming(zone, own, kind) if kind else say("push-no-pump", "nothing to prime"),
        notes,
    )


def power_of(pump: Pump | None, kind: PumpKind) -> float:
    """What it draws: by its own label, or as usual for its kind. [W]"""
    return pump.power_w if pump and pump.power_w is not None else kind.power_w


def priming(zone: Zone, pump: Pump | None, kind: PumpKind) -> Sentence:
    """What has to be done before it runs, by where it stands; `pump` None for one that is only tried."""
    if kind.most_lift_m <= 0:
        return say("push-sits-in-water", "it sits in the water: nothing to prime")
    lift = suction_lift(zone, pump) if pump else 0.0
    if lift <= 0:
        return say(
            "push-stands-below-water",
            "it stands below the water and fills by itself: open its tap first",
        )
    return say(
        "push-lifts-suction-fill",
        "it lifts {lift} by suction: fill pump and hose with water first",
        lift=Amount(lift, "head"),
    )


def _pump_notes(
    zone: Zone, state: ZoneState, pump: Pump, kind: PumpKind, hours: float | None
) -> list[Sentence]:
    curve = laws.pump_curve(pump)
    flow = state.flows[pump.id]
    notes = [
        say(
            "push-pump-runs-at",
            "Runs at {flow} and {head}.",
            flow=Amount(flow, "flow"),
            head=Amount(curve.head_at(max(flow, 0.0)), "head"),
        )
    ]
    starts = cycling(pump, state)
    if kind.is_switched and starts > MOST_STARTS:
        notes.append(
            say(
                "push-pressure-switch-start",
                "Its pressure switch would start {starts} times an hour against this zone: open more at"
                " once, or give it a larger vessel.",
                starts=Amount(starts, "plain"),
            )
        )
    if kind.runs_on_battery:
        amp_hours = pump.battery_ah or USUAL_BATTERY_AH
        power = power_of(pump, kind)
        lasts = pumps.battery_hours(amp_hours, kind.volts, USABLE_CHARGE, power)
        template = "A {amp_hours} Ah battery, half of it used, runs it {hours}"
        if hours and hours < 1e4:
            template += ": {days} of the hardest month"
        notes.append(
            say(
                "push-battery-runs",
                template + ".",
                amp_hours=f"{amp_hours:g}",
                hours=Amount.hours(lasts),
                days=Amount.days(_roughly(lasts / hours)) if hours else "",
            )
        )
    fault = suction_fault(zone, pump)
    notes.append(fault or say("push-priming", "Priming: {how}.", how=priming(zone, pump, kind)))
    notes.append(
        say(
            "push-fit-float-switch",
            "Fit a float switch or dry-run guard: it must stop before it sucks air.",
        )
    )
    notes.append(pump_starts.how(pump_starts.start_in(zone, kind), zone))
    return notes


def _roughly(days: float) -> float:
    """Whole days, tenths where they are few: no battery keeps a promise closer. [d]"""
    return round(days, 1 if days < MANY_DAYS else 0)


def cycling(pump: Pump, state: ZoneState) -> float:
    """Starts an hour on a pressure switch, if the zone takes less than the pump can give. [h⁻¹]

    The switch is taken to close at the curve's middle flow; below that the pump stops and starts.
    """
    curve = laws.pump_curve(pump)
    middle = curve.flow[-1] * curve.speed / 2
    return pumps.starts_an_hour(middle, max(state.flows[pump.id], 0.0), pump.band_m3)


def suction_lift(zone: Zone, pump: Pump) -> float:
    """How high the pump stands over the lowest water; 0 or less where it stands in it. [m]"""
    if zone.group is None or pump.suction_m <= 0:
        return 0.0
    return zone.source.ground_m + pump.height_m - zone.surface_at(zones.NEARLY_EMPTY)


def suction_fault(zone: Zone, pump: Pump) -> Sentence | None:
    """Why the pump cannot suck so high, if it cannot."""
    kind = plumbing.pump_kinds()[pump.kind]
    lift = suction_lift(zone, pump)
    if lift <= 0:
        return None
    if lift > kind.most_lift_m:
        return say(
            "push-stands-over-lowest",
            "“{pump}” stands {lift} over the lowest water and cannot suck so high: set it lower, or"
            " in the water.",
            pump=pump.name,
            lift=Amount(lift, "head"),
        )
    spare = pumps.suction_head_available(lift, FULL_LOSSES, zone.garden.place.elevation_m)
    if spare < SPARE_SUCTION:
        return say(
            "push-suction-head-spare",
            "“{pump}” has only {spare} of suction head to spare at this height above the sea: set "
            "it lower.",
            pump=pump.name,
            spare=Amount(spare, "head"),
        )
    return None


def least_head(zone: Zone, duty: Duty | None, most: float) -> float | None:
    """Least head that a pump would have to add at the source for the zone to work. [m]

    Parameters
    ----------
    most : Head over which it is not sought. [m]
    """
    # What a line bears is another question: a regulator or a valve answers that.
    works = partial(shortfalls.works, duty=duty, but_for=shortfalls.PRESSURE)
    if zone.group is None or not works(zones.raised(zone, most)):
        return None
    low, high = 0.0, most
    while high - low > 0.1:
        middle = (low + high) / 2
        low, high = (low, middle) if works(zones.raised(zone, middle)) else (middle, high)
    return high
