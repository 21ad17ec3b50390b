"""Several beds on one timer: which of them gets more than it asks, and what would even them."""

from dataclasses import dataclass

from euhydra.garden.sentences import Sentence, say
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.time.design import BedShare, Design
from euhydra.planner.time.outcomes import MonthChoice
from euhydra.planner.time.programme import MONTHS

SOGGY = 1.6
"""Times what it asks, over what the worst-served bed gets of its own, from which a bed is told to get
too much. [-] Our choice."""


@dataclass(frozen=True)
class Uneven:
    """The beds of a zone, each with what it gets over what it asks in one month. [-]"""

    choice: MonthChoice
    ratios: tuple[tuple[BedShare, float], ...]

    @property
    def driest(self) -> tuple[BedShare, float]:
        """The bed that sets the dial."""
        return min(self.ratios, key=lambda pair: pair[1])

    @property
    def soggy(self) -> list[tuple[BedShare, float]]:
        """Beds that get much more than it does, the worst first."""
        least = self.driest[1]
        found = [pair for pair in self.ratios if pair[1] > SOGGY * max(least, 1e-9)]
        return sorted(found, key=lambda pair: -pair[1])

    @property
    def sentence(self) -> Sentence:
        """The soggiest, in words."""
        bed, ratio = self.soggy[0]
        return say(
            "time-bed-soggy",
            "On this dial “{part}” gets {times} times what it asks in {month}: “{driest}” sets the pace. Fewer "
            "or slower outlets there, a throttled branch or a timer of its own would even them.",
            part=bed.need.part.name,
            times=f"{ratio:.1f}",
            month=MONTH_NAMES[self.choice.month - 1],
            driest=self.driest[0].need.part.name,
        )


def uneven(design: Design, choice: MonthChoice) -> Uneven | None:
    """How unlike the beds are served in a month; None where none gets much more than another."""
    given = choice.setting.litres_a_day
    ratios = tuple(
        (bed, given * bed.flow_share / gross)
        for bed in design.beds
        if (gross := bed.gross(choice.month)) > 0
    )
    found = Uneven(choice, ratios)
    return found if len(ratios) > 1 and found.soggy and found.soggy[0][1] > SOGGY else None


def asks_of(design: Design) -> dict[str, float] | None:
    """What each bed asks for in the zone's thirstiest month, by which branches are set against each
    other, here and at the first run; None where one asks for nothing then. [L d⁻¹]
    """
    month = max(range(1, MONTHS + 1), key=design.gross)
    asks = {bed.need.part.id: bed.gross(month) for bed in design.beds}
    parts = {part.id for part in design.zone.watered}
    return asks if asks.keys() == parts and min(asks.values()) > 0 else None
