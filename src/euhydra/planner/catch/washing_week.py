"""A week of washing, minute by minute: what comes, what the drum makes of it, what each outlet gets."""

from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from euhydra.core import greywater, hydraulics, uniformity
from euhydra.core.constants import LITRES_PER_CUBIC_METRE, MINUTES_PER_DAY, SECONDS_PER_MINUTE
from euhydra.core.delivery import DrainCurve
from euhydra.core.greywater import MINUTES_PER_HOUR, DrumRun, FloatPump
from euhydra.core.network import NetworkBuilder
from euhydra.garden.beds import Bed
from euhydra.garden.drinker import Drinker
from euhydra.garden.model import Garden
from euhydra.garden.sources import DrumOutlet, Greywater
from euhydra.planner.same import GARDENS_KEPT, Asked, by_itself, kept
from euhydra.planner.water import solving, zones
from euhydra.planner.water.zones import Zone

Floats = NDArray[np.float64]

FIRST_LOAD = 9 * 60
"""Minute of the day at which the first load begins. Our choice."""

LOAD_EVERY = 75
"""From one load to the next. [min] Common practice: a wash and the change-over."""

WEEKS_KEPT = 16
"""Drums whose weeks, minute by minute, are kept: those of a garden before and after a change."""

SHOWER_AT, BATH_AT = 7 * 60, 20 * 60
BASIN_AT = (7 * 60 + 30, 13 * 60, 22 * 60)
SHOWER_MINUTES, BATH_MINUTES, BASIN_MINUTES = 7, 6, 5
"""Our choice of an ordinary day."""

SMOOTH = 1.5e-6
"""Wall roughness of drawn plastic pipe. [m] Handbook value, from memory."""

FREE_END_LOSS = 3.0
"""Loss coefficient of tap, bends and the open end of the hose. [-] Common practice."""

LITRES_A_MINUTE = LITRES_PER_CUBIC_METRE * SECONDS_PER_MINUTE
"""A flow of a cubic metre a second. [L min⁻¹]"""

LEVEL_SHARES = (0.0, 0.02, 0.1, 0.25, 0.5, 0.75, 1.0)
"""Shares of the drawable water at which an open hose is solved."""


@dataclass(frozen=True)
class WashWeek:
    """A week with certain branches open.

    months : In which they are, January being 1.
    zone : Its lines; None with an open hose.
    inflow : Litres of each minute, from Monday at midnight.
    run : The drum, minute by minute.
    clogged : The same with filters as they are on the day of cleaning; None without a filter.
    by_outlet : Litres that each outlet of the zone gives in the week. [L]
    by_part : Litres that each bed or group of pots gets in the week, by its id. [L]
    """

    months: tuple[int, ...]
    zone: Zone | None
    inflow: Floats
    run: DrumRun
    clogged: DrumRun | None
    by_outlet: Floats
    by_part: dict[str, float]

    @property
    def lost(self) -> float:
        """Runs over into the sewer. [L]"""
        return float(self.run.overflow.sum())

    @property
    def evenness(self) -> float:
        """Low-quarter uniformity of what the outlets give in the week; 1 where nothing runs. [-]"""
        if self.zone is None or self.by_outlet.sum() <= 0:
            return 1.0
        wanted = solving.wanted_shares(self.zone) * self.by_outlet.sum()
        return uniformity.low_quarter_uniformity(self.by_outlet / wanted)

    @property
    def oldest_hours(self) -> float:
        """Longest that any water stays in the drum. [h]"""
        return self.run.oldest_hours


def led_to(garden: Garden, system: Greywater) -> tuple[Drinker, ...]:
    """What the water of a drum is led to: by its lines in any month, or else by its open hose."""
    return _washing_in(by_itself(garden)).led_to(system)


def _led_to(garden: Garden, system: Greywater) -> tuple[Drinker, ...]:
    ids = {part.id for zone in _zones_by_month(garden, system) for part in zone.watered}
    if not has_lines(garden, system):
        ids.add(system.bed_id or "")
    return tuple(part for part in garden.planted if part.id in ids)


def has_lines(garden: Garden, system: Greywater) -> bool:
    """Whether lines are drawn from the drum; its open hose is not laid then."""
    return bool(_zones_by_month(garden, system))


def _zones_by_month(garden: Garden, system: Greywater) -> list[Zone]:
    found = (zones.open_lines(garden, system.id, month) for month in range(1, 13))
    return [zone for zone in found if zone is not None]


def weeks_of(garden: Garden, system: Greywater) -> tuple[WashWeek, ...]:
    """The week for each set of branches that is open together in some months of the year.

    Raises
    ------
    PlanError : if its lines could not be solved.
    """
    return _washing_in(by_itself(garden)).weeks_of(system)


def week_in(garden: Garden, system: Greywater, month: int) -> WashWeek:
    """The week as it runs in a month, January being 1."""
    return next(week for week in weeks_of(garden, system) if month in week.months)


def share_to(garden: Garden, system: Greywater, part_id: str, month: int) -> float:
    """Share of the week's water that reaches a bed or group of pots in a month. [-]

    What is left in the drum at the end of the week comes out in the next.
    """
    week = week_in(garden, system, month)
    came, left = float(week.inflow.sum()), float(week.run.out.sum())
    if came <= 0 or left <= 0:
        return 0.0
    return week.by_part.get(part_id, 0.0) / left * (1 - week.lost / came)


@kept(GARDENS_KEPT)
def _washing_in(same: Asked[Garden]) -> "_Washing":
    return _Washing(same.what)


@dataclass(frozen=True)
class _Washing:
    """The drums of a garden, so far as they were asked about."""

    garden: Garden
    led: dict[Greywater, tuple[Drinker, ...]] = field(default_factory=dict)
    weeks: dict[Greywater, tuple[WashWeek, ...]] = field(default_factory=dict)

    def led_to(self, system: Greywater) -> tuple[Drinker, ...]:
        if system not in self.led:
            self.led[system] = _led_to(self.garden, system)
        return self.led[system]

    def weeks_of(self, system: Greywater) -> tuple[WashWeek, ...]:
        if system not in self.weeks:
            self.weeks[system] = _weeks_of(self.garden, system)
        return self.weeks[system]


def _weeks_of(garden: Garden, system: Greywater) -> tuple[WashWeek, ...]:
    months: dict[tuple[str, ...], list[int]] = {}
    for month in range(1, 13):
        zone = zones.open_lines(garden, system.id, month)
        parts = tuple(part.id for part in zone.way.parts) if zone else ()
        months.setdefault(parts, []).append(month)
    return tuple(_week(garden, system, tuple(each)) for each in months.values())


def _week(garden: Garden, system: Greywater, months: tuple[int, ...]) -> WashWeek:
    zone = zones.open_lines(garden, system.id, months[0])
    inflow = week_inflow(system)
    if zone is None:
        bed_id = None if has_lines(garden, system) else system.bed_id
        bed = next((bed for bed in garden.beds if bed.id == bed_id), None)
        return _through_hose(system, bed, months, inflow)
    volumes, flows = _solved(zone)
    is_pumped = bool(zone.pumps)
    run = _week_run(system, is_pumped, tuple(volumes.tolist()), tuple(flows.sum(axis=1).tolist()))
    clogged = None
    if zone.has_filter:
        dirty = _solved(zone, is_dirty=True)[1].sum(axis=1)
        clogged = _week_run(system, is_pumped, tuple(volumes.tolist()), tuple(dirty.tolist()))
    by_outlet = greywater.shared_out(run, volumes, flows)
    by_part = {part.id: 0.0 for part in zone.watered}
    for outlet, litres in zip(zone.outlets, by_outlet.tolist(), strict=True):
        if outlet.waters in by_part:
            by_part[outlet.waters] += litres
    return WashWeek(months, zone, inflow, run, clogged, by_outlet, by_part)


def _solved(zone: Zone, is_dirty: bool = False) -> tuple[Floats, Floats]:
    """Litres in the drum, and litres a minute of every outlet at each: [level], [level, outlet]."""
    states = [solving.solve_zone(zone, share, is_dirty) for share in solving.CURVE_SHARES]
    volumes = [_litres(zone.volume_at(share)) for share in solving.CURVE_SHARES]
    flows = [state.outlet_flow * LITRES_A_MINUTE for state in states]
    return np.array(volumes), np.array(flows)


@lru_cache(maxsize=WEEKS_KEPT)
def _week_run(
    system: Greywater, is_pumped: bool, volumes: tuple[float, ...], flows: tuple[float, ...]
) -> DrumRun:
    return _run(system, week_inflow(system), is_pumped, np.array(volumes), np.array(flows))


def _run(
    system: Greywater, inflow: Floats, is_pumped: bool, volumes: Floats, flows: Floats
) -> DrumRun:
    """The drum with an outlet that gives so many litres a minute at so many litres in it."""
    outlet: greywater.Outlet | FloatPump
    if is_pumped:
        outlet = FloatPump(
            lambda level: float(np.interp(level, volumes, flows)),
            _litres(system.pump_on_m3),
            _litres(system.pump_off_m3),
        )
    elif flows[-1] <= 0:
        outlet = _shut
    else:
        outlet = _draining(DrainCurve.of(volumes.tolist(), (flows * MINUTES_PER_HOUR).tolist()))
    return greywater.run_drum(inflow, _litres(system.drum_m3), outlet)


def _shut(level: float) -> float:
    return 0.0


def _draining(curve: DrainCurve) -> greywater.Outlet:
    return lambda level: curve.delivered(level, 1 / MINUTES_PER_HOUR)


def _through_hose(
    system: Greywater, bed: Bed | None, months: tuple[int, ...], inflow: Floats
) -> WashWeek:
    """By the open hose to its bed; a drum without one keeps its water until it runs over."""
    run = _hose_run(system, None if bed is None else bed.outlet_m)
    by_part = {bed.id: float(run.out.sum())} if bed is not None else {}
    return WashWeek(months, None, inflow, run, None, np.zeros(0), by_part)


@lru_cache(maxsize=WEEKS_KEPT)
def _hose_run(system: Greywater, bed_m: float | None) -> DrumRun:
    """The drum emptied through its open hose, whose end lies at a height; through none where that is None. [m]"""
    outlet: greywater.Outlet | FloatPump = _shut
    if bed_m is not None and system.outlet is DrumOutlet.PUMP:
        flow = system.pump_m3_s * LITRES_A_MINUTE
        levels = _litres(system.pump_on_m3), _litres(system.pump_off_m3)
        outlet = FloatPump(lambda level: flow, *levels)
    elif bed_m is not None and (curve := gravity_curve(system, bed_m)) is not None:
        outlet = _draining(curve)
    return greywater.run_drum(week_inflow(system), _litres(system.drum_m3), outlet)


def gravity_curve(system: Greywater, bed_m: float) -> DrainCurve | None:
    """Flow of the open hose against the water in the drum; None if it never runs. [L], [L/h]

    Parameters
    ----------
    bed_m : Height of the hose's open end. [m]
    """
    outlet = system.outlet_height_m / system.drum_depth_m
    shares = [outlet + (1 - outlet) * share for share in LEVEL_SHARES]
    flows = [_hose_flow(system, bed_m, share) for share in shares]
    if flows[-1] <= 0:
        return None
    volumes = [_litres(system.drum_m3) * share for share in shares]
    return DrainCurve.of(volumes, [_litres(q) * 3600 for q in flows])


def _hose_flow(system: Greywater, bed_m: float, share: float) -> float:
    """Through the hose to its free end at the bed. [m³ s⁻¹]"""
    head = system.ground_m + system.stand_m + share * system.drum_depth_m - bed_m
    if head <= 0:
        return 0.0
    builder = NetworkBuilder()
    builder.add_source("drum", head)
    builder.add_junction("middle", 0.0)
    builder.add_source("end", 0.0)
    half = system.hose_m / 2
    builder.add_pipe("upper", "drum", "middle", half, system.bore_m, SMOOTH)
    builder.add_pipe("lower", "middle", "end", half, system.bore_m, SMOOTH, FREE_END_LOSS)
    solution = hydraulics.solve(builder.build())
    return float(solution.flow[0])


@lru_cache(maxsize=WEEKS_KEPT)
def week_inflow(system: Greywater) -> Floats:
    """Litres of each minute of a week that begins on Monday at midnight. [L]"""
    inflow = np.concatenate([_day_inflow(system, loads) for loads in system.loads])
    inflow.flags.writeable = False  # it is handed out again
    return inflow


def _day_inflow(system: Greywater, loads: int) -> Floats:
    minutes = MINUTES_PER_DAY
    starts = [FIRST_LOAD + LOAD_EVERY * i for i in range(loads)]
    inflow = greywater.wash_inflow(_litres(system.load_m3), starts, minutes)
    for person in range(system.people):
        shower = SHOWER_AT + person * (SHOWER_MINUTES + 3)
        bath = BATH_AT + person * 30
        inflow += greywater.steady_inflow(
            _litres(system.shower_m3), shower, SHOWER_MINUTES, minutes
        )
        inflow += greywater.steady_inflow(
            _litres(system.bath_m3), min(bath, minutes - BATH_MINUTES), BATH_MINUTES, minutes
        )
    for start in BASIN_AT:
        litres = _litres(system.people * system.basin_m3) / len(BASIN_AT)
        inflow += greywater.steady_inflow(litres, start, BASIN_MINUTES, minutes)
    return inflow


def _litres(volume_m3: float) -> float:
    return volume_m3 * LITRES_PER_CUBIC_METRE
