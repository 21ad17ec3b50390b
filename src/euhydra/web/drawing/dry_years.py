"""How often and how badly each bed goes dry: a strip of years for each, the driest bed first."""

from dataclasses import dataclass

from euhydra.core.constants import SECONDS_PER_DAY
from euhydra.planner.season.odds import OddsAnswer

WIDE, HIGH = 300.0, 34.0
"""Of a strip on paper."""

GAP = 0.2
"""Share of a year's width that is left between two."""

STRESS = "stress-"
"""Beginning of the keys of rows that count a bed's days too dry."""


@dataclass(frozen=True)
class DryBar:
    """One year of a strip: where it stands on paper, and how many days were too dry. [d]"""

    x: float
    width: float
    height: float
    year: int
    days: int


@dataclass(frozen=True)
class DryStrip:
    """All years of one bed; `often` is in how many of them a day was too dry."""

    name: str
    bars: tuple[DryBar, ...]
    often: int

    @property
    def worst(self) -> DryBar:
        """The year with most such days, the first of those that have as many."""
        return max(self.bars, key=lambda bar: bar.days)


def dry_strips(answer: OddsAnswer) -> list[DryStrip]:
    """Strips to one scale, so that beds can be told apart by eye; all beds, the driest first."""
    rows = [row for row in answer.rows if row.key.startswith(STRESS)]
    rows.sort(key=lambda row: -float(row.by_year.sum()))
    counts = [(row.by_year / SECONDS_PER_DAY).round().astype(int).tolist() for row in rows]
    most = max((days for own in counts for days in own), default=0) or 1
    step = WIDE / max(len(answer.years), 1)
    return [
        DryStrip(
            row.label.split(":")[0],
            tuple(
                DryBar(
                    round(i * step, 1),
                    round(step * (1 - GAP), 1),
                    round(days / most * HIGH, 1),
                    year,
                    days,
                )
                for i, (year, days) in enumerate(zip(answer.years, own, strict=True))
            ),
            sum(days > 0 for days in own),
        )
        for row, own in zip(rows, counts, strict=True)
    ]
