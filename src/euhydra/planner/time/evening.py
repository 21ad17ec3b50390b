"""Several beds on one timer: which of them gets more than it asks, and what would even them."""

from dataclasses import dataclass, replace

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Cure
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.time import settings
from euhydra.planner.time.design import BedShare, Design
from euhydra.planner.time.settings import MonthChoice

SOGGY = 1.6
"""Times what it asks, over what the worst-served bed gets of its own, from which a bed is told to get
too much. [-] Our choice."""

WORTH_SAYING = 0.1
"""Share of the zone's water that evening has to save to be offered. [-] Our choice."""


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


def throttled(design: Design, found: Uneven) -> tuple[Cure, ...]:
    """The soggy branches throttled to what the driest gets, tried on the month; nothing if it saves little.

    A branch that takes less leaves the others as they are: true while the way to them is wide.
    """
    least = found.driest[1]
    open_to = {bed.need.part.id: min(1.0, least / ratio) for bed, ratio in found.soggy}
    shares = [bed.flow_share * open_to.get(bed.need.part.id, 1.0) for bed in design.beds]
    total = sum(shares)
    beds = tuple(
        replace(bed, flow_share=share / total)
        for bed, share in zip(design.beds, shares, strict=True)
    )
    changed = replace(design, curve=design.curve.shared(total), beds=beds)
    other = settings.choose_month(found.choice.month, changed)
    now = settings.choose_month(found.choice.month, design)
    if other is None or now is None:
        return ()
    before, after = now.setting.litres_a_day, other.setting.litres_a_day
    if after > (1 - WORTH_SAYING) * before:
        return ()
    names = ", ".join(
        f"“{bed.need.part.name}” to {open_to[bed.need.part.id]:.0%}".replace("%", " %")
        for bed, _ in found.soggy
    )
    return (
        Cure(
            say(
                "time-throttle-branches",
                "Throttle what gets too much: {names} of its flow.",
                names=names,
            ),
            say(
                "time-throttled-saves",
                "Then {after} a day in {month} instead of {before}, dry on {dry} of the days.",
                after=Amount.litres(after),
                before=Amount.litres(before),
                month=MONTH_NAMES[found.choice.month - 1],
                dry=Amount(max(bed.stressed for bed in other.beds), "share"),
            ),
        ),
    )
