"""How often each bed is too dry through all years of the season: the one count that every page tells."""

from collections.abc import Collection

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.season.replay import Season
from euhydra.planner.time.answer import LivedBed


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
