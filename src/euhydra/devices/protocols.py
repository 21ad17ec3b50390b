"""What the program asks of outside things. Real ones would be written to the same few calls."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Protocol


class DeviceError(RuntimeError):
    """A device does not answer; the message says which and what to do."""


class Clock(Protocol):
    """A clock on the wall, or in a timer."""

    def minute(self) -> int:
        """Minutes since the first midnight."""
        ...


class ValveDevice(Protocol):
    """A valve that opens and shuts."""

    @property
    def is_open(self) -> bool:
        """Whether water can pass, whatever it was told."""
        ...

    def turn(self, is_open: bool) -> None:
        """Tell it to open or to shut."""
        ...


class TimerDevice(Protocol):
    """A timer that decides when its valve is open."""

    def wants_open(self) -> bool:
        """Whether it is in a run by its own clock."""
        ...

    def skip(self, minutes: int) -> None:
        """Pause it for so many minutes: its rain delay. [min]"""
        ...


class LevelSensor(Protocol):
    """What is in a store."""

    def litres(self) -> float:
        """[L]"""
        ...


class FloatSwitch(Protocol):
    """A float that falls when the water under it runs out."""

    @property
    def is_up(self) -> bool:
        """Whether there is water under it."""
        ...


class PumpSwitch(Protocol):
    """A pump in a line."""

    @property
    def is_running(self) -> bool:
        """Whether it pushes."""
        ...

    def switch(self, on: bool) -> None:
        """Start or stop it."""
        ...


class FlowMeter(Protocol):
    """What passes a line."""

    def litres_an_hour(self) -> float:
        """[L h⁻¹]"""
        ...


class RainGauge(Protocol):
    """Rain that fell."""

    def today(self) -> float:
        """Since midnight. [mm]"""
        ...


class Thermometer(Protocol):
    """Air at the valves."""

    def celsius(self) -> float:
        """[°C]"""
        ...


@dataclass(frozen=True)
class DayAhead:
    """A day as a forecast has it.

    rain : If it rains. [mm]
    chance : That it does. [-]
    lowest, highest : [°C]
    """

    day: date
    rain: float
    chance: float
    lowest: float
    highest: float


class WeekForecast(Protocol):
    """What the coming days are to bring."""

    def days_from(self, today: date) -> Sequence[DayAhead]:
        """The coming seven days.

        Raises
        ------
        DeviceError : if the service does not answer.
        """
        ...


class Forecast(Protocol):
    """What is to come."""

    def rain_tomorrow(self) -> float:
        """[mm]

        Raises
        ------
        DeviceError : if the service does not answer.
        """
        ...
