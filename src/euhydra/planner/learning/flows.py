"""What the lines of a zone give, whether one clogs, all do, it leaks, or its timer runs otherwise."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from datetime import timedelta

import numpy as np
from numpy.typing import NDArray

from euhydra.core import evidence
from euhydra.core.evidence import Fit, Mixed
from euhydra.garden.pipes import Fitting
from euhydra.garden.plumbing import FittingRole
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

Floats = NDArray[np.float64]

ZONE_SPREAD, LINE_SPREAD = 0.08, 0.05
"""How far a zone's outlets, and one line's among them, may lie from what is printed. [-] Our choice."""

LEAST_FALL = 0.08
"""Share that has to be missing before a clog or a setting is worth a word. [-] Our choice."""

LEAST_LEAK = 2.0
"""[L d⁻¹]"""

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
        done = ("flush", "repair")
        self._mends = sorted(
            self.ran.told.day(e.at)
            for e in self.ran.told.log
            if e.kind in done
            and (e.part_id in own or e.part_id is None)
            and self.ran.told.holds(e.at)
        )

    def found(self) -> ZoneFlow:
        measured = self.log.all()
        lines = np.ones((len(self.zone.lines), self.days))
        even = np.ones(self.days)
        if not measured:
            return ZoneFlow(self.zone, lines, even, np.zeros(self.days), ())
        held, fit, chance_of = self._explained(measured)
        strays = [k for k, off in enumerate(fit.rest) if abs(off) > evidence.STRAY]
        if 0 < len(strays) <= len(measured) // FEWEST_FOR_A_STRAY:
            stray_entries = tuple(measured[k].entry for k in strays)
            measured = [m for k, m in enumerate(measured) if k not in strays]
            held, fit, chance_of = self._explained(measured)
        else:
            stray_entries = ()
        return self._told(measured, held, fit, chance_of, stray_entries)

    def _explained(
        self, measured: list[Measured]
    ) -> tuple[list[Explanation], Fit, list[tuple[float, Mixed, list[Explanation]]]]:
        """Faults that are earned, one after another; how everything is left by them."""
        self.noise_times = 1.0
        held, fit, earned = self._search(measured)
        scatter = float(np.sqrt(np.mean(fit.rest**2)))
        if len(measured) >= 6 and scatter > 1.25:
            self.noise_times = scatter
            held, fit, earned = self._search(measured)
        return held, fit, earned

    def _search(
        self, measured: list[Measured]
    ) -> tuple[list[Explanation], Fit, list[tuple[float, Mixed, list[Explanation]]]]:
        side = SideBySide(measured)
        held: list[Explanation] = []
        earned: list[tuple[float, Mixed, list[Explanation]]] = []
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
            earned.append(
                (total, size, [tried[k] for k in best if chance[k] > 0.01 * chance[best].sum()])
            )
        return held, fit, earned

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
        held: Sequence[Explanation],
        fit: Fit,
        earned: Sequence[tuple[float, Mixed, list[Explanation]]],
        strays: tuple[int, ...],
    ) -> ZoneFlow:
        many = len(self.zone.lines)
        lines = (fit.mean[0] + fit.mean[1 : 1 + many])[:, None] * np.ones((many, self.days))
        setting, leak = np.ones(self.days), np.zeros(self.days)
        claims: list[Claim] = []
        for place, (fault, (chance, size, likes)) in enumerate(zip(held, earned, strict=True)):
            amount = fit.mean[1 + many + place]
            if fault.kind is ClaimKind.LEAK:
                leak = leak + amount * fault.course
            elif fault.kind is ClaimKind.SETTING:
                setting = setting + amount * fault.course / fit.mean[0]
            elif fault.line is None:
                lines = lines + amount * fault.course
            else:
                lines[fault.line] += amount * fault.course
            claims += self._claim(fault, chance, size, likes, fit)
        lines = np.maximum(lines, 0.02) / self.zone.planned[:, None]
        if not held and len(measured) >= 3:
            claims += self._of_outlets(fit)
        return ZoneFlow(
            self.zone,
            lines,
            np.maximum(setting, 0.0),
            leak,
            tuple(claims),
            strays,
            len(measured),
            tuple((first, last, used) for first, last, used, _ in self.log.readings()),
        )

    def _claim(
        self, fault: Explanation, chance: float, size: Mixed, likes: Sequence[Explanation], fit: Fit
    ) -> Iterator[Claim]:
        own = 0.0 if fault.line is None else float(fit.mean[1 + fault.line])
        usual = float(fit.mean[0]) + own
        told = self.ran.told
        begins = float(np.mean([f.begins for f in likes]))
        first = told.record.days[0].astype(object) + timedelta(days=max(0, round(begins)))
        is_over = fault.course[-1] == 0
        until = None
        if is_over:
            at_work = np.flatnonzero(fault.course)
            until = told.record.days[int(at_work[-1])].astype(object) if len(at_work) else first
        part_id, name = self._about(fault)
        if fault.kind is ClaimKind.LEAK:
            if size.low > LEAST_LEAK / 2 and size.value > LEAST_LEAK:
                yield Claim(
                    fault.kind, part_id, name, size.value, size.low, size.high, first, until, chance
                )
            return
        now = float(fault.course.max())
        value, low, high = (usual + x * now for x in (size.value, size.low, size.high))
        planned = self.zone.planned[slice(None) if fault.line is None else fault.line].mean()
        is_taken_over = low <= planned <= high or abs(value - planned) < LEAST_FALL
        if abs(size.value * now) >= LEAST_FALL and (
            fault.kind is ClaimKind.SETTING or not is_taken_over
        ):
            if fault.kind is ClaimKind.SETTING:
                value, low, high = (1 + x * now / usual for x in (size.value, size.low, size.high))
            yield Claim(fault.kind, part_id, name, value, max(low, 0.0), high, first, until, chance)

    def _about(self, fault: Explanation) -> tuple[str, str]:
        zone = self.zone.zone
        names = {pipe.id: pipe.name for pipe in zone.pipes}
        if fault.line is not None:
            line = list(self.zone.lines)[fault.line]
            return line, names[line]
        if fault.kind is ClaimKind.FILTER:
            if len(self.zone.lines) == 1 and not zone.has_filter:
                line = next(iter(self.zone.lines))
                return line, names[line]
            for piece in zone.pieces:
                if isinstance(piece, Fitting) and piece.role is FittingRole.FILTERS:
                    return piece.id, zone.name
        return self.zone.head_id, zone.head.name if zone.head else zone.name

    def _of_outlets(self, fit: Fit) -> Iterator[Claim]:
        found = fit.of(np.concatenate([[1.0], self.zone.weights]))
        if found.is_off(float(self.zone.planned.mean()), LEAST_FALL):
            yield Claim(
                ClaimKind.OUTLETS,
                self.zone.head_id,
                self.zone.zone.name,
                found.value,
                found.low,
                found.high,
                None,
                None,
                evidence.EARNED,
            )


def _alike(one: Explanation, other: Explanation) -> bool:
    return one.kind is other.kind and one.line == other.line and one.begins == other.begins
