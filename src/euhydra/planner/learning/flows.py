"""What the lines of a zone give, whether one clogs, all do, it leaks, or its timer runs otherwise."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from euhydra.core import evidence
from euhydra.core.evidence import Fit, Mixed
from euhydra.planner.learning.claim import Claim, ClaimKind
from euhydra.planner.learning.explanations import (
    BEFORE,
    CLOGS,
    SIZES,
    Explanation,
    SideBySide,
    explanations,
)
from euhydra.planner.learning.measured import Measured, WaterThere, ZoneMeasured
from euhydra.planner.learning.ran import Ran, ZoneRan
from euhydra.planner.learning.zone_claims import Earned, outlets_claim, zone_claims

Floats = NDArray[np.float64]

ZONE_SPREAD, LINE_SPREAD = 0.08, 0.05
"""How far a zone's outlets, and one line's among them, may lie from what is printed. [-] Our choice."""

FEWEST_FOR_A_STRAY = 5
"""Measurements to each that may be passed over as a stray. Our choice."""

MOST_FAULTS = 3


@dataclass(frozen=True)
class ZoneFlow:
    """What a zone's log says.

    lines : What each line gives of what the plan has it give, on each day. [line, day]
    setting : What its timer runs of what it is set to, on each day. [-]
    leak : Litres lost downstream of its meter on each day. [L]
    strays : Places in the log of measurements that fit nothing.
    count : Measurements that went in.
    metered : First day, day after the last, and litres between two readings of its meter.
    """

    ran: ZoneRan
    lines: Floats
    setting: Floats
    leak: Floats
    claims: tuple[Claim, ...]
    strays: tuple[int, ...] = ()
    count: int = 0
    metered: tuple[tuple[int, int, float], ...] = ()

    @property
    def factor(self) -> Floats:
        """What the zone gives of what the plan gives for what is set, on each day. [-]"""
        return np.asarray(self.ran.weights @ self.lines * self.setting)


def drawn_by(flow: ZoneFlow, litres: Floats) -> Floats:
    """What a zone took on each day: as its meter has it where it has one, else as its lines give. [L]

    Parameters
    ----------
    litres : By its setting, were its lines to give what the plan has them give. [L]
    """
    drawn = litres * flow.factor + flow.leak
    for first, last, used in flow.metered:
        told = float(drawn[first:last].sum())
        if told > 0:
            drawn[first:last] *= used / told
        else:
            drawn[first:last] = used / (last - first)
    return np.asarray(drawn)


def zone_flow(ran: Ran, zone: ZoneRan, water: WaterThere | None = None) -> ZoneFlow:
    """Weigh every explanation of what was measured in a zone.

    Parameters
    ----------
    water : In its store by its dips; None before they are read, and where there are none.
    """
    return _Weighing(ran, zone, water).found()


@dataclass
class _Weighing:
    ran: Ran
    zone: ZoneRan
    water: WaterThere | None = None
    noise_times: float = 1.0
    _mends: list[int] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.log = ZoneMeasured(self.ran, self.zone, self.water)
        self.days = len(self.ran.told.record.days)
        own = {part.id for part in self.zone.zone.way.parts}
        self._mends = sorted(
            self.ran.told.day(e.at)
            for kind in ("flush", "repair")
            for e in self.ran.told.by_kind.of(kind)
            if (e.part_id in own or e.part_id is None) and self.ran.told.holds(e.at)
        )

    def found(self) -> ZoneFlow:
        measured = self.log.all()
        lines = np.ones((len(self.zone.lines), self.days))
        even = np.ones(self.days)
        if not measured:
            return ZoneFlow(self.zone, lines, even, np.zeros(self.days), ())
        fit, earned = self._explained(measured)
        strays = [k for k, off in enumerate(fit.rest) if abs(off) > evidence.STRAY]
        if 0 < len(strays) <= len(measured) // FEWEST_FOR_A_STRAY:
            stray_entries = tuple(measured[k].entry for k in strays)
            measured = [m for k, m in enumerate(measured) if k not in strays]
            fit, earned = self._explained(measured)
        else:
            stray_entries = ()
        return self._told(measured, fit, earned, stray_entries)

    def _explained(self, measured: list[Measured]) -> tuple[Fit, list[Earned]]:
        """Faults that are earned, one after another; how everything is left by them."""
        self.noise_times = 1.0
        fit, earned = self._search(measured)
        scatter = float(np.sqrt(np.mean(fit.rest**2)))
        if len(measured) >= 6 and scatter > 1.25:
            self.noise_times = scatter
            fit, earned = self._search(measured)
        return fit, earned

    def _search(self, measured: list[Measured]) -> tuple[Fit, list[Earned]]:
        side = SideBySide(measured)
        held: list[Explanation] = []
        earned: list[Earned] = []
        fit = self._fit(side, held)
        while len(held) < MOST_FAULTS:
            tried = [
                f
                for f in explanations(measured, len(self.zone.lines), self.days, self._mends)
                if not any(_alike(f, h) for h in held)
            ]
            if not tried:
                break
            found = evidence.added(
                *self._posed(side, held),
                np.column_stack([side.column(f) for f in tried]),
                *np.array([SIZES[f.kind] for f in tried]).T,
            )
            none = 1.0 - sum(BEFORE[kind] for kind in {f.kind for f in tried})
            chance = evidence.chances(
                [fit.log_evidence, *found.log_evidence], [none, *(f.prior for f in tried)]
            )[1:]
            groups: dict[tuple[ClaimKind, int | None], list[int]] = {}
            for k, fault in enumerate(tried):
                groups.setdefault((fault.kind, fault.line), []).append(k)
            best = max(groups.values(), key=lambda ks: float(chance[ks].sum()))
            total = float(chance[best].sum())
            somewhere = [k for k, f in enumerate(tried) if f.kind in CLOGS]
            filters = [k for k in somewhere if tried[k].line is None]
            if total < evidence.EARNED and filters:
                # That it clogs may be earned, and where not: then it is said of the zone.
                total, best = float(chance[somewhere].sum()), filters
            if total < evidence.EARNED:
                break
            size = Mixed.of(chance[best], found.mean[best], found.deviation[best])
            top = max(best, key=lambda k: chance[k])
            held.append(tried[top])
            fit = self._fit(side, held)
            likes = [tried[k] for k in best if chance[k] > 0.01 * chance[best].sum()]
            earned.append(Earned(tried[top], likes, total, size))
        return fit, _beside_each_other(earned, fit)

    def _fit(self, measured: SideBySide, faults: Sequence[Explanation]) -> Fit:
        return evidence.fit(*self._posed(measured, faults))

    def _posed(
        self, measured: SideBySide, faults: Sequence[Explanation]
    ) -> tuple[Floats, Floats, Floats, Floats, Floats]:
        """Columns, measurements, noise, and what the parameters are beforehand."""
        many = len(self.zone.lines)
        columns = np.column_stack([measured.usual, *(measured.column(f) for f in faults)])
        sizes = [SIZES[f.kind] for f in faults]
        mean = np.array([1.0, *([0.0] * many), *(m for m, _ in sizes)])
        spread = np.array([ZONE_SPREAD, *([LINE_SPREAD] * many), *(s for _, s in sizes)])
        return columns, measured.value, measured.noise * self.noise_times, mean, spread

    def _told(
        self,
        measured: Sequence[Measured],
        fit: Fit,
        earned: Sequence[Earned],
        strays: tuple[int, ...],
    ) -> ZoneFlow:
        many = len(self.zone.lines)
        lines = (fit.mean[0] + fit.mean[1 : 1 + many])[:, None] * np.ones((many, self.days))
        setting, leak = np.ones(self.days), np.zeros(self.days)
        for place, each in enumerate(earned):
            fault, amount = each.held, fit.mean[1 + many + place]
            if fault.kind is ClaimKind.LEAK:
                leak = leak + amount * fault.course
            elif fault.kind is ClaimKind.SETTING:
                setting = setting + amount * fault.course / fit.mean[0]
            elif fault.line is None:
                lines = lines + amount * fault.course
            else:
                lines[fault.line] += amount * fault.course
        lines = np.maximum(lines, 0.02) / self.zone.planned[:, None]
        claims = tuple(zone_claims(self.ran, self.zone, earned, fit))
        if not earned and len(measured) >= 3:
            claims = tuple(outlets_claim(self.zone, fit))
        return ZoneFlow(
            self.zone,
            lines,
            np.maximum(setting, 0.0),
            leak,
            claims,
            strays,
            len(measured),
            tuple((first, last, used) for first, last, used, _ in self.log.readings()),
        )


def _beside_each_other(earned: Sequence[Earned], fit: Fit) -> list[Earned]:
    """Each as large as it is beside the others: those found first were sized without them."""
    if len(earned) < 2:
        return list(earned)
    sizes = fit.mean[-len(earned) :].tolist()
    return [
        replace(each, size=Mixed(size, each.size.deviation))
        for each, size in zip(earned, sizes, strict=True)
    ]


def _alike(one: Explanation, other: Explanation) -> bool:
    return one.kind is other.kind and one.line == other.line and one.begins == other.begins
