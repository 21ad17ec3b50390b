"""What would make a bed or pots drink less, each tried by working the need out again."""

from dataclasses import dataclass

from euhydra.core.weather import DailyWeather
from euhydra.garden import catalogue
from euhydra.garden.model import Garden
from euhydra.garden.sentences import Amount, Sentence, words
from euhydra.planner.answers import Figure, Working
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
        then = daily.need_of(changed, garden, record, now.wetted)
        saved = now.year_litres - then.year_litres
        if saved > WORTH_SAYING * now.year_litres:
            found.append(
                Saving(words(choice.words), _figure(now.year_litres, then.year_litres, source))
            )
    return tuple(sorted(found, key=lambda saving: -saving.year.amount.value))


def _figure(now: float, then: float, source: str) -> Figure:
    return Figure(
        "Saves a year",
        Amount.litres(now - then),
        Working(
            "net watering as it is − net watering with the change",
            {
                "as it is, a year": Amount.litres(now),
                "with the change": Amount.litres(then),
                "saved": Amount((now - then) / now, "share"),
            },
            source,
            ("Worked out again through the whole record; the other things stay as they are.",),
        ),
    )
