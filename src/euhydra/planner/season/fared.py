"""How often each bed is too dry through all years of the season: the one count that every page tells."""

from collections.abc import Collection

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Mark
from euhydra.planner.season.replay import Season
from euhydra.planner.time.answer import LivedBed

STRESS_HARMLESS = 7.0
"""Days a year drier than the refill point that a bed forgives. [d] Our choice."""

STRESS_GRAVE = 30.0
"""Days a year from which on it does not work. [d] Our choice."""


def mark_of_dry(days: float) -> Mark:
    """How a garden stands that leaves a bed too dry for so long, whatever waters it.

    Parameters
    ----------
    days : In a year, more than it forgives. [d]
    """
    return Mark.FAILS if days > STRESS_GRAVE else Mark.BUT


def lived_of(season: Season) -> dict[str, LivedBed]:
    """Every bed and group of pots through all years, by id."""
    years = max(season.record.years, 1e-9)
    return {
        way.need.part.id: LivedBed(
            way.need.part,
            float(way.need.is_growing.sum()) / years,
            float(run.is_stressed.sum()) / years,
        )
        for way, run in zip(season.ways, season.beds, strict=True)
    }


def most_dry_days(season: Season, among: Collection[str]) -> float:
    """Days in a mean year on which the driest of these beds is too dry. [d]

    Parameters
    ----------
    among : Ids of the beds that count.
    """
    lived = lived_of(season)
    return max((lived[key].dry_days for key in among), default=0.0)


def driest(season: Season, among: Collection[str] | None = None) -> tuple[Sentence, ...]:
    """The bed that is too dry on the greatest share of its days, in a sentence; none where nothing grows.

    Parameters
    ----------
    among : Ids of the beds that count; None for all.
    """
    lived = [bed for key, bed in lived_of(season).items() if among is None or key in among]
    worst = max(lived, key=lambda bed: bed.dry_share, default=None)
    if worst is None or worst.days <= 0:
        return ()
    return (
        say(
            "season-too-dry-on-days",
            "Over all years “{part}” is too dry on {dry} of its days in season, the most of {which}.",
            part=worst.part.name,
            dry=Amount(worst.dry_share, "share"),
            which="all" if among is None else "those that it waters",
        ),
    )
