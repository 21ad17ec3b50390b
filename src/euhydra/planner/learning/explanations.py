"""What may be otherwise in a zone: a line or its filter that clogs, a dial, a leak; and what each would add."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from euhydra.core import evidence
from euhydra.planner.learning.claim import ClaimKind
from euhydra.planner.learning.measured import Measured

Floats = NDArray[np.float64]

EVERY_D = 4
"""Days from one beginning that is tried to the next."""

RAMPS = (25.0, 60.0)
"""Days in which what clogs slowly may do so."""

BEFORE = {
    ClaimKind.CLOG: 0.10,
    ClaimKind.FILTER: 0.05,
    ClaimKind.SETTING: 0.05,
    ClaimKind.LEAK: 0.05,
}
"""Chance that a zone has such a fault in a season, before anything is measured. [-] Our choice."""

CLOGS = (ClaimKind.CLOG, ClaimKind.FILTER)
"""Explanations by which less comes out."""

SIZES = {
    ClaimKind.CLOG: (-0.4, 0.25),
    ClaimKind.FILTER: (-0.35, 0.2),
    ClaimKind.SETTING: (-0.2, 0.4),
    ClaimKind.LEAK: (25.0, 30.0),
}
"""Mean and spread of how large it is. [-], of a leak [L d⁻¹]. Our choice."""


@dataclass(frozen=True)
class Explanation:
    """One explanation: what, of which line (all for None), and how much of it there is on each day. [-]"""

    kind: ClaimKind
    line: int | None
    begins: int
    course: Floats
    prior: float


@dataclass(frozen=True)
class SideBySide:
    """All of a zone side by side, so that many explanations are soon tried."""

    of: Sequence[Measured]

    @cached_property
    def value(self) -> Floats:
        return np.array([m.value for m in self.of])

    @cached_property
    def noise(self) -> Floats:
        return np.array([m.noise for m in self.of])

    @cached_property
    def by_line(self) -> Floats:
        return np.array([m.by_line for m in self.of])

    @cached_property
    def whole(self) -> Floats:
        return np.asarray(self.by_line.sum(axis=1))

    @cached_property
    def usual(self) -> Floats:
        """Columns of what all lines give, and of each."""
        return np.column_stack([self.whole, self.by_line])

    @cached_property
    def _days(self) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
        first = np.array([m.first for m in self.of])
        return first, np.array([max(m.last, m.first + 1) for m in self.of])

    @cached_property
    def _is_metered(self) -> NDArray[np.bool_]:
        return np.array([m.is_metered for m in self.of])

    def column(self, fault: Explanation) -> Floats:
        """What it adds to each, were its size 1."""
        first, last = self._days
        so_far = np.concatenate([[0.0], np.cumsum(fault.course)])
        at_work = so_far[last] - so_far[first]
        if fault.kind is ClaimKind.LEAK:
            return np.where(self._is_metered, at_work, 0.0)
        share = at_work / (last - first)
        if fault.kind is ClaimKind.SETTING:
            return np.where(self._is_metered, self.whole * share, 0.0)
        return np.asarray(
            share * (self.whole if fault.line is None else self.by_line[:, fault.line])
        )


def explanations(
    measured: Sequence[Measured], lines: int, days: int, mends: Sequence[int]
) -> Iterator[Explanation]:
    """Every explanation that is tried, with its chance beforehand.

    Parameters
    ----------
    lines : Of the zone.
    mends : Days on which it was flushed or repaired, in their order.
    """
    first = min(m.first for m in measured)
    begins = np.arange(first - EVERY_D, days - 1, EVERY_D)
    has_meter = any(m.is_metered for m in measured)
    has_lines = any((m.by_line > 0).sum() < lines for m in measured)
    seen = min((m.first for m in measured if not m.is_metered), default=days)
    all_days = np.arange(days, dtype=float)
    for begin in begins.tolist():
        ends = next((mend for mend in mends if mend > begin), np.inf)
        courses = [evidence.step(all_days, begin, ends)]
        courses += [evidence.ramp(all_days, begin, length, ends) for length in RAMPS]
        share = 1.0 / (len(begins) * len(courses))
        for course in courses:
            if begin > seen:  # what was so from the first is no change
                yield Explanation(
                    ClaimKind.FILTER, None, begin, course, BEFORE[ClaimKind.FILTER] * share
                )
            for line in range(lines) if lines > 1 and (begin > seen or has_lines) else ():
                prior = BEFORE[ClaimKind.CLOG] * share / lines
                yield Explanation(ClaimKind.CLOG, line, begin, course, prior)
        if has_meter:
            for kind in (ClaimKind.SETTING, ClaimKind.LEAK):
                yield Explanation(kind, None, begin, courses[0], BEFORE[kind] / len(begins))
