"""What stands in a bed through the year: a bar for each crop, its stages shaded."""

from dataclasses import dataclass

from euhydra.garden.drinker import Drinker
from euhydra.garden.model import Garden
from euhydra.garden.plantings import MONTH_DAYS, PlantingDate
from euhydra.planner.need.growth import Growth, growths_in, lasts

WIDTH, ROW, TOP = 826.0, 34.0, 36.0
LEFT = 42.0
"""Where January begins: under the bars of the chart above it, at desk size."""
YEAR = 366.0


@dataclass(frozen=True)
class Stretch:
    """A stretch of one stage. Positions on paper; `depth` 1 to 4 tells the stage."""

    x: float
    width: float
    depth: int


@dataclass(frozen=True)
class StripRow:
    """One crop; a season over New Year is drawn in two stretches."""

    name: str
    detail: str
    y: float
    pieces: tuple[Stretch, ...]


@dataclass(frozen=True)
class Strip:
    """The whole year of one bed."""

    rows: tuple[StripRow, ...]
    months: tuple[tuple[str, float], ...]
    height: float

    @property
    def width(self) -> float:
        """Of the paper."""
        return WIDTH


def draw(part: Drinker, garden: Garden) -> Strip:
    """The strip of a bed or a group of pots, by the calendar."""
    growths = growths_in(part, garden)
    rows = tuple(_row(growth, i) for i, growth in enumerate(growths))
    letters = tuple((name, _x(sum(MONTH_DAYS[:i]) + 15)) for i, name in enumerate("JFMAMJJASOND"))
    return Strip(rows, letters, TOP + ROW * len(rows) + 4)


def _row(growth: Growth, number: int) -> StripRow:
    season = growth.crop.season
    begins = PlantingDate(month=1, day=1).days_until(growth.planting) % YEAR
    days_there = lasts(growth)
    pieces: list[Stretch] = []
    start = 0.0
    for depth, days in enumerate((season.initial, season.development, season.mid, season.late), 1):
        end = min(start + days, days_there)
        pieces += _pieces(begins + start, begins + end, depth)
        start = end
    share = "" if growth.share >= 1 else f", {growth.share:.0%} of the bed"
    return StripRow(
        growth.crop.name, f"{days_there} days{share}", TOP + ROW * number, tuple(pieces)
    )


def _pieces(start: float, end: float, depth: int) -> list[Stretch]:
    if end <= start:
        return []
    if start >= YEAR:
        return _pieces(start - YEAR, end - YEAR, depth)
    if end > YEAR:
        return _pieces(start, YEAR, depth) + _pieces(0, end - YEAR, depth)
    return [Stretch(_x(start), round(_x(end) - _x(start), 1), depth)]


def _x(day: float) -> float:
    return round(LEFT + day / YEAR * (WIDTH - LEFT), 1)
