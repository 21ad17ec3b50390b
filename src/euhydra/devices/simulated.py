"""Stand-ins for every device, on one bench clock, with faults that can be switched on."""

from bisect import bisect_right
from dataclasses import dataclass, field
from math import cos, pi

from euhydra.core.delivery import DrainCurve
from euhydra.devices.faults import CLOCK_OFF, CLOGGED_SHARE, FROST_AIR, Fault
from euhydra.devices.protocols import Clock, DeviceError, FloatSwitch

DAY = 24 * 60
"""[min]"""

RAIN_FROM, RAIN_TO = 13 * 60, 17 * 60
"""Hours between which a day's rain falls on the bench. [min] Our choice."""

COLDEST = 5 * 60
"""Minute of the day at which it is coldest. [min] Common practice: about sunrise."""


@dataclass
class World:
    """What all stand-ins share: the time, the weather, and what is wrong.

    rain, temp_min, temp_max : Of each day; the last day goes on and on. [mm], [°C]
    """

    rain: tuple[float, ...]
    temp_min: tuple[float, ...]
    temp_max: tuple[float, ...]
    now: int = 0
    faults: set[Fault] = field(default_factory=set)

    @property
    def day(self) -> int:
        """Which day it is, from 0."""
        return min(self.now // DAY, len(self.rain) - 1)

    def has(self, fault: Fault) -> bool:
        """Whether that fault is switched on."""
        return fault in self.faults

    def rain_in_minute(self) -> float:
        """Rain of this minute. [mm]"""
        wet = RAIN_FROM <= self.now % DAY < RAIN_TO
        return self.rain[self.day] / (RAIN_TO - RAIN_FROM) if wet else 0.0


@dataclass
class SimulatedClock:
    """A clock; a timer's own goes wrong with the fault."""

    world: World
    is_a_timers: bool = False

    def minute(self) -> int:
        """Minutes since the first midnight, as it shows them."""
        off = CLOCK_OFF if self.is_a_timers and self.world.has(Fault.WRONG_CLOCK) else 0
        return self.world.now + off


@dataclass
class SimulatedTimer:
    """A timer with a programme: runs as (first minute, last minute) from the first midnight."""

    world: World
    runs: tuple[tuple[int, int], ...]
    has_battery: bool = True
    paused_until: int = -1

    def __post_init__(self) -> None:
        self.clock: Clock = SimulatedClock(self.world, is_a_timers=True)
        self._begins = [begin for begin, _ in self.runs]

    def in_run(self, minute: int) -> tuple[int, int] | None:
        """The run that the programme has at a minute."""
        at = bisect_right(self._begins, minute) - 1
        return self.runs[at] if at >= 0 and minute < self.runs[at][1] else None

    def wants_open(self) -> bool:
        """Whether it is in a run by its own clock, has power, and is not paused."""
        if self.has_battery and self.world.has(Fault.FLAT_BATTERY):
            return False
        minute = self.clock.minute()
        return minute >= self.paused_until and self.in_run(minute) is not None

    def skip(self, minutes: int) -> None:
        """Pause it from now on. [min]"""
        self.paused_until = max(self.paused_until, self.clock.minute() + minutes)


@dataclass
class SimulatedValve:
    """A valve that may stick."""

    world: World
    told: bool = False

    @property
    def is_open(self) -> bool:
        """Whether water can pass."""
        if self.world.has(Fault.STUCK_OPEN):
            return True
        return self.told and not self.world.has(Fault.STUCK_SHUT)

    def turn(self, is_open: bool) -> None:
        """Tell it to open or to shut."""
        self.told = is_open


@dataclass
class SimulatedStore:
    """A store with its level sensor and float.

    capacity, dead, level : [L]
    litres_per_mm : What a millimetre of rain brings from its roofs. [L mm⁻¹]
    """

    world: World
    name: str
    capacity: float
    dead: float
    level: float
    litres_per_mm: float
    spilled: float = 0.0

    def litres(self) -> float:
        """What the level sensor says. [L]"""
        return self.level

    @property
    def is_up(self) -> bool:
        """Whether the float has water under it."""
        return self.level > self.dead + 0.5

    def pass_minute(self) -> None:
        """Take the rain of this minute; the fault empties it."""
        if self.world.has(Fault.EMPTY_STORE):
            self.level = min(self.level, self.dead)
            return
        full = self.level + self.litres_per_mm * self.world.rain_in_minute()
        self.spilled += max(0.0, full - self.capacity)
        self.level = min(full, self.capacity)

    def draw(self, litres: float) -> float:
        """Take water out; what is there of it. [L]"""
        there = max(0.0, min(litres, self.level - self.dead))
        self.level -= there
        return there


@dataclass
class SimulatedPump:
    """A pump with a float switch that keeps it from running dry."""

    guard: FloatSwitch | None
    on: bool = False

    @property
    def is_running(self) -> bool:
        """Whether it pushes."""
        return self.on and (self.guard is None or self.guard.is_up)

    def switch(self, on: bool) -> None:
        """Start or stop it."""
        self.on = on


@dataclass
class SimulatedFlowMeter:
    """The flow of a line, from its solved curve and what the valve lets through."""

    world: World
    curve: DrainCurve
    store: SimulatedStore | None
    has_filter: bool
    now: float = 0.0

    def expected(self) -> float:
        """Flow that the solved line gives at this level. [L h⁻¹]"""
        level = self.curve.full if self.store is None else self.store.level
        return 60.0 * self.curve.delivered(level, 1 / 60)

    def litres_an_hour(self) -> float:
        """What it reads. [L h⁻¹]"""
        return self.now

    def pass_minute(self, is_open: bool) -> float:
        """Let a minute's water through; returns it. [L]"""
        flow = self.expected() if is_open else 0.0
        if self.has_filter and self.world.has(Fault.CLOGGED_FILTER):
            flow *= CLOGGED_SHARE
        litres = flow / 60.0
        if self.store is not None:
            litres = self.store.draw(litres)
        self.now = litres * 60.0
        return litres


@dataclass
class SimulatedGauge:
    """A rain gauge emptied at midnight."""

    world: World

    def today(self) -> float:
        """Since midnight. [mm]"""
        minute = self.world.now % DAY
        share = (min(max(minute, RAIN_FROM), RAIN_TO) - RAIN_FROM) / (RAIN_TO - RAIN_FROM)
        return self.world.rain[self.world.day] * share


@dataclass
class SimulatedThermometer:
    """Air through the day: a wave between its extremes."""

    world: World

    def celsius(self) -> float:
        """[°C]"""
        if self.world.has(Fault.FROST):
            return FROST_AIR
        low, high = self.world.temp_min[self.world.day], self.world.temp_max[self.world.day]
        wave = cos(2 * pi * (self.world.now % DAY - COLDEST) / DAY)
        return (low + high) / 2 - (high - low) / 2 * wave


@dataclass
class SimulatedForecast:
    """A forecast that is always right, when it answers."""

    world: World

    def rain_tomorrow(self) -> float:
        """[mm]

        Raises
        ------
        DeviceError : while the service is lost.
        """
        if self.world.has(Fault.LOST_FORECAST):
            raise DeviceError("No forecast: the plan goes by the rain gauge alone.")
        return self.world.rain[min(self.world.day + 1, len(self.world.rain) - 1)]
