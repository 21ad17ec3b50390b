"""What the faults that were found in a zone come to: one claim for each line, filter, timer or leak."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from euhydra.core import evidence
from euhydra.core.evidence import TWICE_OFF, Fit, Mixed
from euhydra.garden.pipes import Fitting
from euhydra.garden.plumbing import FittingRole
from euhydra.planner.learning.claim import Claim, ClaimKind
from euhydra.planner.learning.explanations import Explanation
from euhydra.planner.learning.ran import Ran, ZoneRan

Floats = NDArray[np.float64]

LEAST_FALL = 0.08
"""Share that has to be missing before a clog or a setting is worth a word. [-] Our choice."""

LEAST_LEAK = 2.0
"""[L d⁻¹]"""


@dataclass(frozen=True)
class Earned:
    """A fault that is likely 19 to 1.

    held : Its likeliest course.
    likes : Others of it that are likely too, that one among them.
    size : Of all those. [-], of a leak [L d⁻¹]
    """

    held: Explanation
    likes: Sequence[Explanation]
    chance: float
    size: Mixed

    @property
    def begins(self) -> int:
        """Index of the day on which it began, more or less. [d]"""
        return max(0, round(float(np.mean([each.begins for each in self.likes]))))


def zone_claims(ran: Ran, zone: ZoneRan, earned: Sequence[Earned], fit: Fit) -> Iterator[Claim]:
    """Claims of a zone; a line that clogged and was flushed is one of them, not two.

    Parameters
    ----------
    fit : What all lines, and each, give beside the faults.
    """
    same: dict[tuple[ClaimKind, int | None], list[Earned]] = {}
    for each in earned:
        if each.held.kind is ClaimKind.LEAK:
            yield from _leak(ran, zone, each)
        else:
            same.setdefault((each.held.kind, each.held.line), []).append(each)
    for (kind, line), steps in same.items():
        usual = float(fit.mean[0]) + (0.0 if line is None else float(fit.mean[1 + line]))
        yield from _Course(ran, zone, kind, line, steps, usual).claims()


def outlets_claim(zone: ZoneRan, fit: Fit) -> Iterator[Claim]:
    """What all outlets of a zone give that shows no change, where that is not as planned."""
    found = fit.of(np.concatenate([[1.0], zone.weights]))
    if found.is_off(float(zone.planned.mean()), LEAST_FALL):
        yield Claim(
            ClaimKind.OUTLETS,
            zone.head_id,
            zone.zone.name,
            found.value,
            found.low,
            found.high,
            None,
            None,
            evidence.EARNED,
        )


def _leak(ran: Ran, zone: ZoneRan, earned: Earned) -> Iterator[Claim]:
    size = earned.size
    if size.low > LEAST_LEAK / 2 and size.value > LEAST_LEAK:
        name = zone.zone.head.name if zone.zone.head else zone.zone.name
        first, last = _day(ran, earned.begins), _last_day(ran, earned.held.course)
        yield Claim(
            ClaimKind.LEAK,
            zone.head_id,
            name,
            size.value,
            size.low,
            size.high,
            first,
            last,
            earned.chance,
        )


@dataclass(frozen=True)
class _Course:
    """What one line, filter or timer gave through the year.

    steps : Faults of it, each a step or a slope; one that gives more undoes the one before.
    usual : What it gives without them. [-]
    """

    ran: Ran
    zone: ZoneRan
    kind: ClaimKind
    line: int | None
    steps: Sequence[Earned]
    usual: float

    def claims(self) -> Iterator[Claim]:
        gives = self.usual + sum(each.size.value * each.held.course for each in self.steps)
        gives = np.asarray(gives) / (self.usual if self.kind is ClaimKind.SETTING else 1.0)
        now, worst = float(gives[-1]), float(gives.min())
        off = now - self._planned
        goes_on = any(each.held.course[-1] > 0 for each in self.steps)
        if goes_on and self._is_clear(off):
            if off < 0 or self.kind is ClaimKind.SETTING:
                yield self._claim(now, self._since(off), None)
            else:
                yield from self._loses(off)
        elif self._is_clear(worst - self._planned) and worst < self._planned:
            yield self._claim(worst, self._since(-1.0), self._until(gives))

    @property
    def _planned(self) -> float:
        if self.kind is ClaimKind.SETTING:
            return 1.0
        return float(self.zone.planned[slice(None) if self.line is None else self.line].mean())

    @property
    def _deviation(self) -> float:
        scale = self.usual if self.kind is ClaimKind.SETTING else 1.0
        sizes = [each.size.deviation * each.held.course.max() for each in self.steps]
        return float(np.hypot.reduce(sizes)) / scale

    def _is_clear(self, off: float) -> bool:
        """Whether so much too little or too much is worth a word, and more than chance. [-]"""
        return abs(off) >= LEAST_FALL and abs(off) > TWICE_OFF * self._deviation

    def _claim(self, value: float, since: date | None, until: date | None) -> Claim:
        part_id, name = self._about
        slack = TWICE_OFF * self._deviation
        low, high = max(value - slack, 0.0), value + slack
        chance = min(each.chance for each in self.steps)
        return Claim(self.kind, part_id, name, value, low, high, since, until, chance)

    def _loses(self, more: float) -> Iterator[Claim]:
        """A line that gives more than its outlets can: one came off, or it is cut."""
        begins = max(self.steps, key=lambda each: each.size.value).begins
        months = self.ran.told.record.month
        litres = float(self.zone.litres(months)[begins:].mean())
        litres *= 1.0 if self.line is None else float(self.zone.weights[self.line])
        part_id, name = self._about
        slack = TWICE_OFF * self._deviation
        value, low, high = (x * litres for x in (more, more - slack, more + slack))
        if value > LEAST_LEAK:
            chance = min(each.chance for each in self.steps)
            since = _day(self.ran, begins)
            yield Claim(ClaimKind.LEAK, part_id, name, value, low, high, since, None, chance)

    def _since(self, off: float) -> date | None:
        """First day of the step that does most of it; None where it was so from the first."""
        likewise = [each for each in self.steps if each.size.value * off > 0]
        if not likewise:
            return None
        return _day(self.ran, max(likewise, key=lambda each: abs(each.size.value)).begins)

    def _until(self, gives: Floats) -> date:
        """Last day on which it gave as little as ever."""
        least = np.flatnonzero(gives <= gives.min() + LEAST_FALL / 2)
        return _day(self.ran, int(least[-1]))

    @property
    def _about(self) -> tuple[str, str]:
        zone = self.zone.zone
        names = {pipe.id: pipe.name for pipe in zone.pipes}
        if self.line is not None:
            line = list(self.zone.lines)[self.line]
            return line, names[line]
        if self.kind is ClaimKind.FILTER:
            if len(self.zone.lines) == 1 and not zone.has_filter:
                line = next(iter(self.zone.lines))
                return line, names[line]
            for piece in zone.pieces:
                if isinstance(piece, Fitting) and piece.role is FittingRole.FILTERS:
                    return piece.id, zone.name
        return self.zone.head_id, zone.head.name if zone.head else zone.name


def _day(ran: Ran, place: int) -> date:
    first: date = ran.told.record.days[0].astype(object)
    return first + timedelta(days=place)


def _last_day(ran: Ran, course: Floats) -> date | None:
    """Last day on which a fault is at work; None where it still is."""
    at_work = np.flatnonzero(course)
    return None if course[-1] > 0 or not len(at_work) else _day(ran, int(at_work[-1]))
