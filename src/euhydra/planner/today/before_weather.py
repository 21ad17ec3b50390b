"""What is done before frost or heat that a forecast tells of."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import timedelta

from euhydra.core.frost import FROST_C
from euhydra.garden.pots import Pots
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import day_in_words
from euhydra.planner.today.ahead import ForecastDay
from euhydra.planner.today.morning import Morning

SOON_D = 2
"""Days ahead for which something is done now. [d] Common practice: tonight and the next."""

HOT_C = 33.0
"""From which on pots and what is just planted are shaded. [°C] Common practice: over some 32 to 35."""


@dataclass(frozen=True)
class BeforeWeather:
    """One thing to do before it comes.

    key : `frost` or `heat`.
    """

    key: str
    said: Sentence


def before_weather(morning: Morning, forecast: Sequence[ForecastDay]) -> Iterator[BeforeWeather]:
    """Timers in and lines drained before frost; shade for pots and for what was just planted before heat."""
    last = morning.ahead.today + timedelta(days=SOON_D - 1)
    soon = [day for day in forecast if morning.ahead.today <= day.day <= last]
    cold = [day for day in soon if day.lowest is not None and day.lowest <= FROST_C]
    hot = [day for day in soon if day.highest is not None and day.highest >= HOT_C]
    garden = morning.learned.told.chain.garden
    timers = ", ".join(f"“{timer.name}”" for timer in garden.timers)
    if cold and timers:
        yield BeforeWeather(
            "frost",
            say(
                "today-before-frost",
                "Frost on {day}, {lowest}: take {timers} in and open the ends of the lines tonight.",
                day=day_in_words(cold[0].day),
                lowest=Amount(cold[0].lowest or 0.0, "temperature"),
                timers=timers,
            ),
        )
    shaded = ", ".join(f"“{name}”" for name in _to_shade(morning))
    if hot and shaded:
        yield BeforeWeather(
            "heat",
            say(
                "today-before-heat",
                "Heat on {day}, {highest}: hang the shade cloth over {names}, and water before sunrise.",
                day=day_in_words(hot[0].day),
                highest=Amount(hot[0].highest or 0.0, "temperature"),
                names=shaded,
            ),
        )


def _to_shade(morning: Morning) -> Iterator[str]:
    for track in morning.learned.told.tracks:
        need = track.way.need
        is_new = bool(need.is_new[-1])
        if need.is_growing[-1] and (isinstance(need.part, Pots) or is_new):
            yield need.part.name
