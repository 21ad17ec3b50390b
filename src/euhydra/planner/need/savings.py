"""What would make a bed or pots drink less, each tried by working the need out again."""

from dataclasses import dataclass
from typing import Any

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.weather import DailyWeather
from euhydra.garden import catalogue
from euhydra.garden.beds import Bed
from euhydra.garden.model import Garden
from euhydra.garden.pots import Pots
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
    for words, source, update in _changes(now.part):
        changed = now.part.model_copy(update=update)
        then = daily.need_of(changed, garden, record)
        saved = now.year_litres - then.year_litres
        if saved > WORTH_SAYING * now.year_litres:
            found.append(
                Saving(Sentence(words), _figure(now.year_litres, then.year_litres, source))
            )
    return tuple(sorted(found, key=lambda saving: -saving.year.amount.value))


def _changes(part: Bed | Pots) -> list[tuple[str, str, dict[str, Any]]]:
    """Words, source and change of what may be tried."""
    if isinstance(part, Pots):
        tried: list[tuple[str, str, dict[str, Any]]] = []
        if part.exposure != "half":
            row = catalogue.find(catalogue.pot_exposures(), "half")
            tried.append(
                ("Move them where they have half the day's sun.", row.source, {"exposure": "half"})
            )
        if part.colour == "dark" and not part.is_in_ground:
            row = catalogue.find(catalogue.pot_colours(), "light")
            tried.append(("Light or thick-walled pots.", row.source, {"colour": "light"}))
        return tried
    tried = []
    for field, entry_id, words in (
        ("mulch", "thick", "Mulch with straw or bark."),
        ("shade", "cloth-30", "Shade cloth of 30 %."),
        ("spacing", "close", "Plant close together."),
        ("wind", "sheltered", "A hedge or screen against the wind."),
    ):
        if getattr(part, field) != entry_id:
            source = catalogue.find(_TABLES[field](), entry_id).source
            tried.append((words, source, {field: entry_id}))
    return tried


_TABLES: dict[str, Any] = {
    "mulch": catalogue.mulches,
    "shade": catalogue.shades,
    "spacing": catalogue.spacings,
    "wind": catalogue.winds,
}


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
