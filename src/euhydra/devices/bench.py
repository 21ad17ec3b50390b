"""The bench: the plan run on simulated devices, minute by minute, at any speed."""

from dataclasses import dataclass

from euhydra.core.delivery import DrainCurve
from euhydra.devices.faults import Fault
from euhydra.devices.keeper import Keeper, KeeperPlan, KeptZone
from euhydra.devices.simulated import (
    DAY,
    SimulatedFlowMeter,
    SimulatedForecast,
    SimulatedGauge,
    SimulatedPump,
    SimulatedStore,
    SimulatedThermometer,
    SimulatedTimer,
    SimulatedValve,
    World,
)
from euhydra.garden.sentences import Sentence


@dataclass(frozen=True)
class StoreRig:
    """A store to be put on the bench. [L], [L mm⁻¹]"""

    name: str
    capacity: float
    dead: float
    level: float
    litres_per_mm: float


@dataclass(frozen=True)
class ZoneRig:
    """A zone to be put on the bench.

    store : Position of its store; None on a tap.
    has_timer : Whether a timer with a battery opens it.
    """

    plan: KeeperPlan
    curve: DrainCurve
    store: int | None
    has_battery: bool
    has_filter: bool
    has_pump: bool


@dataclass(frozen=True)
class ZoneReading:
    """One zone at a moment. [L h⁻¹], [L]"""

    name: str
    is_open: bool
    is_due: bool
    flow: float
    expected: float
    given_today: float


@dataclass(frozen=True)
class StoreReading:
    """One store at a moment. [L]"""

    name: str
    level: float
    capacity: float
    dead: float


@dataclass(frozen=True)
class Reading:
    """The bench at a moment: minute since the first midnight, the air, today's rain, all devices,
    what is noticed now, and what was noticed before with its minute.
    """

    minute: int
    celsius: float
    rain_today: float
    zones: tuple[ZoneReading, ...]
    stores: tuple[StoreReading, ...]
    notices: tuple[Sentence, ...]
    log: tuple[tuple[int, Sentence], ...]


class Bench:
    """Devices, the keeper over them, and the time."""

    def __init__(
        self,
        stores: list[StoreRig],
        zones: list[ZoneRig],
        rain: tuple[float, ...],
        temp_min: tuple[float, ...],
        temp_max: tuple[float, ...],
    ) -> None:
        self.world = World(rain, temp_min, temp_max)
        self.stores = [
            SimulatedStore(self.world, s.name, s.capacity, s.dead, s.level, s.litres_per_mm)
            for s in stores
        ]
        self.meters = [self._meter(zone) for zone in zones]
        self.given = [0.0 for _ in zones]
        gauge, air = SimulatedGauge(self.world), SimulatedThermometer(self.world)
        lines = [self._line(z, m) for z, m in zip(zones, self.meters, strict=True)]
        self.keeper = Keeper(lines, gauge, air, SimulatedForecast(self.world))

    def _meter(self, zone: ZoneRig) -> SimulatedFlowMeter:
        store = None if zone.store is None else self.stores[zone.store]
        return SimulatedFlowMeter(self.world, zone.curve, store, zone.has_filter)

    def _line(self, zone: ZoneRig, meter: SimulatedFlowMeter) -> KeptZone:
        timer = SimulatedTimer(self.world, zone.plan.runs, zone.has_battery)
        pump = SimulatedPump(meter.store) if zone.has_pump else None
        dead = 0.0 if meter.store is None else meter.store.dead
        return KeptZone(
            zone.plan, timer, SimulatedValve(self.world), meter, meter.store, dead, pump
        )

    @property
    def is_over(self) -> bool:
        """Whether the last day of the weather has passed."""
        return self.world.now >= DAY * len(self.world.rain)

    def set_fault(self, fault: Fault, on: bool) -> None:
        """Switch a fault on or off."""
        (self.world.faults.add if on else self.world.faults.discard)(fault)

    def advance(self, minutes: int) -> None:
        """Let time pass; it stands still after the last day. [min]"""
        for _ in range(minutes):
            if self.is_over:
                return
            self._pass_minute()

    def _pass_minute(self) -> None:
        if self.world.now % DAY == 0:
            self.given = [0.0 for _ in self.given]
        for store in self.stores:
            store.pass_minute()
        self.keeper.act(self.world.now, [meter.expected() for meter in self.meters])
        for i, (line, meter) in enumerate(zip(self.keeper.lines, self.meters, strict=True)):
            pushes = line.pump is None or line.pump.is_running
            self.given[i] += meter.pass_minute(line.valve.is_open and pushes)
        self.world.now += 1

    def read(self) -> Reading:
        """Everything as it stands."""
        now = self.world.now
        return Reading(
            now,
            self.keeper.thermometer.celsius(),
            self.keeper.gauge.today(),
            tuple(
                ZoneReading(
                    line.plan.name,
                    line.valve.is_open,
                    line.plan.run_at(now) is not None,
                    meter.litres_an_hour(),
                    meter.expected(),
                    given,
                )
                for line, meter, given in zip(
                    self.keeper.lines, self.meters, self.given, strict=True
                )
            ),
            tuple(StoreReading(s.name, s.level, s.capacity, s.dead) for s in self.stores),
            tuple(notice.said for notice in self.keeper.notices.values()),
            tuple(self.keeper.log),
        )
