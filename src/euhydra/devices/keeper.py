"""What the plan does about what the devices say: skips, stops, and tells somebody what to do.

It knows the devices by their protocols only, never by their stand-ins.
"""

from collections import deque
from dataclasses import dataclass, field

from euhydra.devices.protocols import (
    DeviceError,
    FlowMeter,
    Forecast,
    LevelSensor,
    PumpSwitch,
    RainGauge,
    Thermometer,
    TimerDevice,
    ValveDevice,
)
from euhydra.garden.sentences import Amount, Sentence, say

DAY = 24 * 60

FROST_BELOW = 1.0
"""Air below which no run is begun. [°C] Common practice."""

WEAK = 0.75
"""Share of the solved flow below which a line is called weak. [-] Our choice."""

GRACE = 3
"""Minutes that a line is given to fill before it is judged. [min] Our choice."""

A_DROP = 0.5
"""Flow that counts as none. [L h⁻¹]"""


@dataclass(frozen=True)
class KeeperPlan:
    """What one zone is meant to do.

    runs : (first, last) minutes from the first midnight.
    pauses : Days to pause and the rain from which on, rising. [d], [mm]
    """

    name: str
    runs: tuple[tuple[int, int], ...]
    pauses: tuple[tuple[int, float], ...]

    def run_at(self, minute: int) -> tuple[int, int] | None:
        """The run that is due at a minute."""
        return next((run for run in self.runs if run[0] <= minute < run[1]), None)


@dataclass
class KeptZone:
    """A zone's devices. `level` and `dead` are of its store; None on a tap. [L]"""

    plan: KeeperPlan
    timer: TimerDevice
    valve: ValveDevice
    meter: FlowMeter
    level: LevelSensor | None
    dead: float
    pump: PumpSwitch | None
    open_for: int = 0
    leaked: float = 0.0

    @property
    def has_water(self) -> bool:
        """Whether anything is above its store's outlet."""
        return self.level is None or self.level.litres() > self.dead + A_DROP


@dataclass(frozen=True)
class Notice:
    """Something that was noticed, and what is to be done; `key` names it, so it is said once."""

    key: str
    said: Sentence


LOG_LENGTH = 12
"""Notices of the past that are kept."""


@dataclass
class Keeper:
    """Watches every line, minute by minute.

    notices : Those that hold now, by what they are about.
    log : Those of the past too, the newest last, each with the minute at which it began.
    """

    lines: list[KeptZone]
    gauge: RainGauge
    thermometer: Thermometer
    forecast: Forecast
    notices: dict[str, Notice] = field(default_factory=dict)
    log: deque[tuple[int, Sentence]] = field(default_factory=lambda: deque(maxlen=LOG_LENGTH))
    now: int = 0
    paused_until: dict[str, int] = field(default_factory=dict)

    def act(self, minute: int, expected: list[float]) -> None:
        """Open and shut, skip after rain, stop for frost, and notice what is wrong.

        Parameters
        ----------
        minute : By the clock on the wall, since the first midnight.
        expected : Flow that each line should have when open. [L h⁻¹]
        """
        self.now = minute
        self._forget_pauses(minute)
        if minute % DAY == DAY - 1:
            self._pause_after_rain(minute)
        self._ask_the_forecast(minute)
        is_frost = self.thermometer.celsius() < FROST_BELOW
        self._say(
            "frost",
            is_frost,
            say(
                "bench-frost",
                "Frost: no run is begun. Drain the lines and bring timers and pumps indoors.",
            ),
        )
        for line, flow in zip(self.lines, expected, strict=True):
            self._turn(line, minute, is_frost)
            self._judge(line, minute, flow)

    def _turn(self, line: KeptZone, minute: int, is_frost: bool) -> None:
        wants = line.timer.wants_open() and not is_frost
        has_water = line.has_water
        line.valve.turn(wants and has_water)
        if line.pump is not None:
            line.pump.switch(wants and has_water)
        name = line.plan.name
        self._say(
            f"dry-{name}",
            wants and not has_water,
            say(
                "bench-store-empty",
                "{name}: its store is empty, the run is stopped. Water by hand, or fill from the "
                "tap over an air gap.",
                name=name,
            ),
        )
        line.open_for = line.open_for + 1 if wants and has_water else 0

    def _judge(self, line: KeptZone, minute: int, expected: float) -> None:
        """Hold the flow against what the solved line gives, and the clock against the plan."""
        name, flow = line.plan.name, line.meter.litres_an_hour()
        if not line.open_for and flow > A_DROP:
            line.leaked += flow / 60.0
        elif line.has_water:
            line.leaked = 0.0  # it holds; an empty store proves nothing
        settled = line.open_for > GRACE
        self._say(
            f"shut-{name}",
            settled and flow < A_DROP <= expected,
            say(
                "bench-nothing-comes",
                "{name}: the valve should be open and nothing comes. It sticks, or its head is too "
                "low: shut off, knock it, water by hand today.",
                name=name,
            ),
        )
        self._say(
            f"weak-{name}",
            settled and A_DROP < flow < WEAK * expected,
            say(
                "bench-flow-weak",
                "{name}: only {flow} of {expected} come. Clean the filter, then flush the lines.",
                name=name,
                flow=Amount.litres_an_hour(flow),
                expected=Amount.litres_an_hour(expected),
            ),
        )
        self._say(
            f"leak-{name}",
            line.leaked > 1.0,
            say(
                "bench-leaks",
                "{name}: water runs while the valve should be shut. Shut the tap before it at once.",
                name=name,
            ),
        )
        due = line.plan.run_at(minute)
        silent = due is not None and minute >= due[0] + GRACE and not line.timer.wants_open()
        skipped = minute < self.paused_until.get(name, 0)
        self._say(
            f"silent-{name}",
            silent and not skipped,
            say(
                "bench-run-passed",
                "{name}: the timer lets its run pass. Look at its batteries and its clock; run it by "
                "hand today.",
                name=name,
            ),
        )
        early = due is None and line.timer.wants_open()
        self._say(
            f"clock-{name}",
            early,
            say(
                "bench-clock-wrong",
                "{name}: the timer runs at an hour at which it should not. Set its clock.",
                name=name,
            ),
        )

    def _pause_after_rain(self, minute: int) -> None:
        rain = self.gauge.today()
        for line in self.lines:
            days = max((d for d, enough in line.plan.pauses if rain >= enough), default=0)
            if days:
                self._pause(line, minute, days * DAY + 1)
                self._say(
                    f"rain-{line.plan.name}",
                    True,
                    say(
                        "bench-paused",
                        "{name}: {rain} of rain, paused for {days}.",
                        name=line.plan.name,
                        rain=Amount.millimetres(rain),
                        days=Amount.days(days),
                    ),
                )

    def _ask_the_forecast(self, minute: int) -> None:
        """Late in the evening: rain that is coming spares tomorrow's run."""
        if minute % DAY != DAY - 60:
            return
        try:
            rain = self.forecast.rain_tomorrow()
        except DeviceError as error:
            self._say("forecast", True, say("bench-no-forecast", "{said}", said=str(error)))
            return
        self.notices.pop("forecast", None)
        for line in self.lines:
            if line.plan.pauses and rain >= line.plan.pauses[-1][1]:
                self._pause(line, minute, DAY + 60)
                self._say(
                    f"coming-{line.plan.name}",
                    True,
                    say(
                        "bench-rain-forecast",
                        "{name}: {rain} are forecast, tomorrow's run is left out.",
                        name=line.plan.name,
                        rain=Amount.millimetres(rain),
                    ),
                )

    def _forget_pauses(self, minute: int) -> None:
        """What was said of a pause holds until it is over."""
        for name, until in list(self.paused_until.items()):
            if minute >= until:
                del self.paused_until[name]
                for key in (f"rain-{name}", f"coming-{name}"):
                    self.notices.pop(key, None)

    def _pause(self, line: KeptZone, minute: int, minutes: int) -> None:
        line.timer.skip(minutes)
        until = max(self.paused_until.get(line.plan.name, 0), minute + minutes)
        self.paused_until[line.plan.name] = until

    def _say(self, key: str, is_so: bool, said: Sentence) -> None:
        if not is_so:
            self.notices.pop(key, None)
        elif key not in self.notices:
            self.notices[key] = Notice(key, said)
            self.log.append((self.now, said))
