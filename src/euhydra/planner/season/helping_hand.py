"""What a helping hand is worth: the same season with it and without."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from euhydra.garden.part import Part
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.season.replay import Season


@dataclass(frozen=True)
class Help:
    """A bed that has something of its own, and somebody who helps out beside it.

    with_it, without : Days of a mean year on which it is too dry. [d]
    deep_m3, every_d : Of a deep watering on certain days; None for help with what is lacking. [m³], [d]
    """

    part: Part
    source: Part
    with_it: float
    without: float
    deep_m3: float | None = None
    every_d: int = 1

    @property
    def sentence(self) -> Sentence:
        """Both, in words."""
        if self.deep_m3 is not None:
            return say(
                "season-deep-by-hand",
                "You give “{part}” {litres} by hand from “{source}” every {days} beside its line: with that it is "
                "too dry on {with_it} of a mean year, without it on {without}. Its settings leave that water out.",
                part=self.part.name,
                litres=Amount(self.deep_m3, "volume"),
                source=self.source.name,
                days=Amount.days(self.every_d),
                with_it=Amount.days(round(self.with_it)),
                without=Amount.days(round(self.without)),
            )
        return say(
            "season-helped-by-hand",
            "You help “{part}” out by hand from “{source}”: with that it is too dry on {with_it} of a mean year, "
            "without it on {without}.",
            part=self.part.name,
            source=self.source.name,
            with_it=Amount.days(round(self.with_it)),
            without=Amount.days(round(self.without)),
        )


def helps_of(season: Season) -> tuple[Help, ...]:
    """Every bed that is helped out by hand."""
    years = season.record.years
    runs = zip(season.orders, season.beds, season.without_help, strict=True)
    return tuple(
        Help(
            order.part,
            order.hand,
            _days(now.is_stressed, years),
            _days(alone.is_stressed, years),
            order.part.deep_m3,
            order.part.deep_every_d,
        )
        for order, now, alone in runs
        if order.hand is not None and order.is_helped
    )


def unwatered(season: Season) -> tuple[Sentence, ...]:
    """Beds that ask for water and have none from anything, in a sentence; none if there are none."""
    names = [
        order.part.name
        for order, watering in zip(season.orders, season.works.waterings, strict=True)
        if not order.is_watered and watering.wanted.sum() > 0
    ]
    if not names:
        return ()
    said = say(
        "season-nothing-waters",
        "Nothing waters {names}: lead a line there, or say on Lay that you water by hand.",
        names=", ".join(f"“{name}”" for name in names),
    )
    return (said,)


def _days(is_stressed: NDArray[np.bool_], years: float) -> float:
    return float(is_stressed.sum()) / years
