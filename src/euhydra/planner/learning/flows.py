"""What the lines of a zone give: by bucket, cups and meter, whether one clogs, all do, or its timer runs otherwise."""

from bisect import bisect_left
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from datetime import timedelta
from functools import cached_property
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from euhydra.core import evidence
from euhydra.core.constants import LITRES_PER_CUBIC_METRE, SECONDS_PER_HOUR
from euhydra.core.evidence import Fit, Mixed
from euhydra.garden.logbook import LogEntry
from euhydra.garden.pipes import Fitting
from euhydra.garden.plumbing import FittingRole
from euhydra.planner.learning.claim import Claim, ClaimKind
from euhydra.planner.learning.ran import Ran, ZoneRan
from euhydra.planner.steps import first_run

Floats = NDArray[np.float64]

CUP, BUCKET, METER = 0.045, 0.065, 0.035
"""Noise of catch cups, of a bucket, of a meter, the model's own with it, as a share. [-] Our choice."""

STORED, SHORT = 0.08, 0.6
"""More of it where a store's level is between: at the least, and where all of it ran short. [-] Our choice."""

UNDIPPED = 0.12
"""More of it where nobody dips the store. [-] Our choice."""

LEAST_METERED = 4.0
"""Noise of the litres between two readings, at the least. [L]"""

ZONE_SPREAD, LINE_SPREAD = 0.08, 0.05
"""How far a zone's outlets, and one line's among them, may lie from what is printed. [-] Our choice."""

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

LEAST_FALL = 0.08
"""Share that has to be missing before a clog or a setting is worth a word. [-] Our choice."""

LEAST_LEAK = 2.0
"""[L d⁻¹]"""

FEWEST_FOR_A_STRAY = 5
"""Measurements to each that may be passed over as a stray. Our choice."""

MOST_APART = 150
"""Measurements of a zone from which on those of the same days are taken together."""

LEAST_NOISE = 0.03
"""Of many taken together: the model's own. [-] Our choice."""

MOST_FAULTS = 3


@dataclass(frozen=True)
class Measured:
    """One measurement of a zone.

    first, last : Days that it is of; one alone for cups and buckets.
    by_line : What each line adds to it, were it to give what is printed.
    is_metered : Whether it is litres between two readings.
    value, noise : In litres if metered, else a share of what the plan has it give.
    """

    first: int
    last: int
    by_line: Floats
    is_metered: bool
    value: float
    noise: float
    entry: int


@dataclass(frozen=True)
class Explanation:
    """One explanation: what, of which line (all for None), and how much of it there is on each day. [-]"""

    kind: ClaimKind
    line: int | None
    begins: int
    course: Floats
    prior: float


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
    deviation: float
    claims: tuple[Claim, ...]
    strays: tuple[int, ...] = ()
    count: int = 0
    metered: tuple[tuple[int, int, float], ...] = ()

    @property
    def factor(self) -> Floats:
        """What the zone gives of what the plan gives for what is set, on each day. [-]"""
        return np.asarray(self.ran.weights @ self.lines * self.setting)


@dataclass(frozen=True)
class _Measurements:
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


@dataclass(frozen=True)
class WaterThere:
    """A zone's store through the year.

    morning : Before each day's watering. [L]
    met : Of what was asked of it on each day, what was there. [-]
    """

    morning: Floats
    met: Floats


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
        measured = _merged(list(self._measured()))
        lines = np.ones((len(self.zone.lines), self.days))
        even = np.ones(self.days)
        if not measured:
            return ZoneFlow(self.zone, lines, even, np.zeros(self.days), ZONE_SPREAD, ())
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
        side = _Measurements(measured)
        held: list[Explanation] = []
        earned: list[tuple[float, Mixed, list[Explanation]]] = []
        fit = self._fit(side, held)
        while len(held) < MOST_FAULTS:
            tried = [f for f in self._faults(measured) if not any(_alike(f, h) for h in held)]
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

    def _faults(self, measured: Sequence[Measured]) -> Iterator[Explanation]:
        """Every explanation that is tried, with its chance beforehand."""
        first = min(m.first for m in measured)
        begins = np.arange(first - EVERY_D, self.days - 1, EVERY_D)
        many = len(self.zone.lines)
        has_meter = any(m.is_metered for m in measured)
        has_lines = any((m.by_line > 0).sum() < many for m in measured)
        seen = min((m.first for m in measured if not m.is_metered), default=self.days)
        all_days = np.arange(self.days, dtype=float)
        for begin in begins.tolist():
            ends = next((mend for mend in self._mends if mend > begin), np.inf)
            courses = [evidence.step(all_days, begin, ends)]
            courses += [evidence.ramp(all_days, begin, length, ends) for length in RAMPS]
            share = 1.0 / (len(begins) * len(courses))
            for course in courses:
                if begin > seen:  # what was so from the first is no change
                    yield Explanation(
                        ClaimKind.FILTER, None, begin, course, BEFORE[ClaimKind.FILTER] * share
                    )
                for line in range(many) if many > 1 and (begin > seen or has_lines) else ():
                    prior = BEFORE[ClaimKind.CLOG] * share / many
                    yield Explanation(ClaimKind.CLOG, line, begin, course, prior)
            if has_meter:
                for kind in (ClaimKind.SETTING, ClaimKind.LEAK):
                    yield Explanation(kind, None, begin, courses[0], BEFORE[kind] / len(begins))

    def _fit(self, measured: "_Measurements", faults: Sequence[Explanation]) -> Fit:
        return evidence.fit(*self._posed(measured, faults))

    def _posed(
        self, measured: "_Measurements", faults: Sequence[Explanation]
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
            float(fit.deviation[0]),
            tuple(claims),
            strays,
            len(measured),
            tuple((first, last, used) for first, last, used, _ in self._readings()),
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

    def _measured(self) -> Iterator[Measured]:
        yield from self._buckets()
        yield from self._cups()
        yield from self._meters()

    def _solved(self, place: int) -> Floats | None:
        """Flow of each outlet at the level of that day. [m³ s⁻¹]"""
        way = self.ran.told.season.ways[self.zone.ways[0]]
        if way.push is None:
            return None
        usual = way.push.usual.state
        if self.zone.zone.group is None:
            return usual.outlet_flow
        curve = self.zone.time.design.curve
        if self.water is None:
            level, _ = first_run.level_of(self.zone.zone, self._beside(place))
            volume = curve.dead + level * (curve.full - curve.dead)
        else:
            volume = float(self.water.morning[self.ran.told.day(self.ran.told.log[place].at)])
        flow = float(np.interp(volume, curve.volume, curve.flow)) / SECONDS_PER_HOUR
        times = flow / LITRES_PER_CUBIC_METRE / max(usual.flow, 1e-12)
        return np.asarray(usual.outlet_flow * times)

    @cached_property
    def _dips(self) -> Sequence[tuple[int, LogEntry]]:
        group = self.zone.zone.group
        return self.ran.of_kind("dip", *(store.id for store in group.stores)) if group else ()

    def _beside(self, place: int) -> list[LogEntry]:
        """An entry, and the last dip of its store before it."""
        before = bisect_left(self._dips, place, key=lambda dip: dip[0])
        dips = [entry for _, entry in self._dips[max(0, before - 1) : before]]
        return [*dips, self.ran.told.log[place]]

    def _at_once(
        self, place: int, entry: LogEntry, outlets: list[int], measured: float, noise: float
    ) -> Iterator[Measured]:
        flow = self._solved(place)
        if flow is None or not outlets or float(flow[outlets].sum()) <= 0:
            return
        of = set(outlets)
        solved = float(flow[outlets].sum())
        by_line = np.array(
            [
                float(flow[[o for o in own if o in of]].sum()) / solved
                for own in self.zone.lines.values()
            ]
        )
        day = self.ran.told.day(entry.at)
        ratio = measured / solved
        yield Measured(
            day, day, by_line / self.zone.planned, False, ratio, noise * max(ratio, 0.3), place
        )

    def _buckets(self) -> Iterator[Measured]:
        everything = [o for own in self.zone.lines.values() for o in own]
        own = {self.zone.head_id: everything} | self.zone.lines
        for place, entry in self.ran.of_kind("flow", *own):
            if entry.word == "whole":
                flow = first_run.measured_flow(entry)
                yield from self._at_once(place, entry, own[entry.part_id or ""], flow, BUCKET)

    def _cups(self) -> Iterator[Measured]:
        outlets = self.zone.zone.outlets
        own = dict(self.zone.lines)
        for part in self.zone.zone.watered:
            own[part.id] = [k for k, o in enumerate(outlets) if o.waters == part.id]
        for place, entry in self.ran.of_kind("cups", *own):
            seconds, *volumes = (value or 0.0 for value in entry.amounts)
            about = own[entry.part_id or ""]
            mean = float(np.mean(volumes)) / seconds
            yield from self._at_once(place, entry, about, mean * len(about), CUP)

    def _meters(self) -> Iterator[Measured]:
        if self._dips and self.water is None:
            return  # what the dips say of its store is still to come
        months = self.ran.told.record.month
        litres = self.zone.litres(months)
        if self.water is not None:
            litres = self.zone.litres(months, self.water.morning) * self.water.met
        for first, last, used, place in self._readings():
            run = float(litres[first:last].sum())
            noise = max(LEAST_METERED, METER * max(run, used))
            if self.zone.zone.group is not None and self.water is None:
                noise = max(noise, UNDIPPED * run)
            if self.water is not None:
                # How much water there was is known the less the nearer it was to its end.
                short = 1.0 - float(self.water.met[first:last].min())
                noise = max(noise, (STORED + SHORT * short) * run)
            by_line = run * self.zone.weights / self.zone.planned
            yield Measured(first, last, by_line, True, used, noise, place)

    def _readings(self) -> Iterator[tuple[int, int, float, int]]:
        """First day, day after the last, litres between two readings, and the later one's place in the log."""
        if self.zone.head_id in self.ran.shared_heads:
            return
        readings = self.ran.of_kind("meter", self.zone.head_id)
        for (_, before), (place, after) in pairwise(readings):
            first, last = self.ran.next_run(before.at), self.ran.next_run(after.at)
            if after.word != "new" and last > first:
                used = (after.amounts[0] or 0.0) - (before.amounts[0] or 0.0)
                yield first, last, used * LITRES_PER_CUBIC_METRE, place


def _merged(measured: list[Measured]) -> list[Measured]:
    """Where there are very many, those of a few days that tell of the same taken together."""
    if len(measured) <= MOST_APART:
        return measured
    together: dict[object, list[Measured]] = {}
    for m in measured:
        apart = m.entry if m.is_metered else m.by_line.tobytes()
        together.setdefault((m.is_metered, m.first // EVERY_D, apart), []).append(m)
    return [_mean_of(same) for same in together.values()]


def _mean_of(same: list[Measured]) -> Measured:
    if len(same) == 1:
        return same[0]
    weight = np.array([m.noise**-2 for m in same])
    value = float(weight @ np.array([m.value for m in same]) / weight.sum())
    noise = max(float(weight.sum() ** -0.5), LEAST_NOISE * abs(value))
    return replace(same[-1], value=value, noise=noise)


def _alike(one: Explanation, other: Explanation) -> bool:
    return one.kind is other.kind and one.line == other.line and one.begins == other.begins
