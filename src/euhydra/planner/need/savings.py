"""What would make a bed or pots drink less, each tried by working the need out again."""

from dataclasses import dataclass

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.weather import DailyWeather
from euhydra.garden import catalogue
from euhydra.garden.model import Garden
from euhydra.planner.answers import Amount, Figure, Sentence, Working
from euhydra.planner.need import daily
from euhydra.planner.need.daily import Need

WORTH_SAYING = 0.02
"""Share of a year's water from which on a saving is told. [-] Our choice."""


@dataclass(frozen=True)
class Saving:
    """One change and what it brings in a mean year."""

    change: Sentence
    year: Figure


def savings_of(now: Need, garden: Garden, record: DailyWeather) -> tuple[Saving, ...]:
    """Changes that bring a saving worth saying, the greatest first."""
    found = []
    for choice in now.part.thirst_choices:
        changed = now.part.model_copy(update={choice.field: choice.entry_id})
        source = catalogue.find(choice.rows, choice.entry_id).source
        then = daily.need_of(changed, garden, record)
        saved = now.year_litres - then.year_litres
        if saved > WORTH_SAYING * now.year_litres:
            found.append(
                Saving(Sentence(choice.words), _figure(now.year_litres, then.year_litres, source))
            )
    return tuple(sorted(found, key=lambda saving: -saving.year.amount.value))


def _figure(now: float, then: float, source: str) -> Figure:
    return Figure(
        "Saves a year",
        Amount((now - then) / LITRES_PER_CUBIC_METRE, "volume"),
        Working(
            "net watering as it is − net watering with the change",
            {
                "as it is, a year": Amount(now / LITRES_PER_CUBIC_METRE, "volume"),
                "with the change": Amount(then / LITRES_PER_CUBIC_METRE, "volume"),
                "saved": Amount((now - then) / now, "share"),
            },
            source,
            ("Worked out again through the whole record; the other things stay as they are.",),
        ),
    )
