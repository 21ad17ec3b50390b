"""What the log teaches: factors on outlets, roofs and thirst, with how sure they are."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import timedelta
from itertools import pairwise

import numpy as np

from euhydra.core import calibration
from euhydra.core.calibration import Estimate, SoilTest
from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.uniformity import low_quarter_uniformity
from euhydra.garden import edits
from euhydra.garden.edits import Collection
from euhydra.garden.logbook import Entry
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Pipe
from euhydra.garden.stores import Store
from euhydra.garden.timers import Timer
from euhydra.planner import first_run, piping, solving, spouts, zones
from euhydra.planner.answers import Amount, Figure, PlanError, Sentence, Working, say
from euhydra.planner.chain import ZoneChain
from euhydra.planner.hindcast import BedTrack, Hindcast

BUCKET, METER, STICK = 0.10, 0.05, 0.10
"""Noise of a flow by bucket, of litres by meter, of a dip, as a share. [-] Our choice."""

OUTLETS_PRIOR, ROOF_PRIOR = 0.25, 0.25
"""How far the factors may lie from 1 before anything is measured. [-] Our choice."""

ROOF_BOUNDS, OUTLET_BOUNDS, NEED_BOUNDS = (0.3, 1.0), (0.5, 1.5), (0.6, 1.6)
"""Within these a value is likely; beyond them something else is wrong first. Our choice."""

NO_TEST = 0.2
"""How far thirst may lie from 1 before any test. [-] Our choice."""

NEARLY_FULL = 0.97
"""From this share of a store on, it may have spilled, and a dip tells nothing of the roof. [-]"""

LEAST_RAIN_L = 5.0
"""Litres from a roof below which an interval tells nothing. [L]"""


@dataclass(frozen=True)
class Lesson:
    """Something learned, and what would be changed by it.

    kind : `outlets`, `roof` or `thirst`; with `part_id` it names the lesson.
    now, then : The garden's value, and what it would be. [-]
    bounds : Within which `then` is likely.
    """

    kind: str
    part_id: str
    title: str
    estimate: Estimate
    now: float
    bounds: tuple[float, float]
    how: str

    @property
    def key(self) -> str:
        """Names it on the page."""
        return f"{self.kind}-{self.part_id}"

    @property
    def then(self) -> float:
        """The value that it teaches. [-]"""
        return round(self.now * self.estimate.value, 3)

    @property
    def is_beyond(self) -> bool:
        """Whether that is unlikely, so that it is not taken without being asked twice."""
        return not self.bounds[0] <= self.then <= self.bounds[1]

    @property
    def figure(self) -> Figure:
        """The value with its working."""
        e = self.estimate
        return Figure(
            self.title, Amount(self.then, "plain"),
            Working(
                "the plan's value × the factor that explains the log best",
                {
                    "in the plan": Amount(self.now, "plain"), "factor": Amount(round(e.value, 3), "plain"),
                    "lowest likely factor": Amount(round(e.low, 3), "plain"),
                    "highest likely factor": Amount(round(e.high, 3), "plain"),
                    "measurements": Amount(e.count, "plain"),
                },
                "Least squares with a prior about the plan's value; thirst from how likely each finger test is",
                (self.how, "The range holds it 19 times in 20, if the measuring was fair."),
            ),
        )  # fmt: skip

    @property
    def said(self) -> Sentence:
        """In a sentence."""
        e = self.estimate
        return say(
            f"{self.title}: {{then}} instead of {{now}}, likely between {{low}} and {{high}}.",
            then=(self.then, "plain"), now=(round(self.now, 3), "plain"),
            low=(round(self.now * e.low, 2), "plain"), high=(round(self.now * e.high, 2), "plain"),
        )  # fmt: skip


def lessons(told: Hindcast) -> list[Lesson]:
    """Everything that the log has measurements of."""
    found = [*_outlets(told), *_roofs(told), *_thirst(told)]
    return [lesson for lesson in found if lesson.estimate.count > 0]


def apply(garden: Garden, lesson: Lesson) -> Garden:
    """The garden with what was learned."""
    if lesson.kind == "thirst":
        part = next(p for p in garden.planted if p.id == lesson.part_id)
        where: Collection = "beds" if part in garden.beds else "pots"
        taught = type(part).model_validate(part.model_dump() | {"need_factor": lesson.then})
        return edits.put(garden, where, taught)
    if lesson.kind == "roof":
        roof = next(r for r in garden.roofs if r.id == lesson.part_id)
        dumped = roof.model_dump() | {"runoff_coefficient": lesson.then}
        return edits.put(garden, "roofs", type(roof).model_validate(dumped))
    for pipe in _giving(garden, lesson.part_id):
        dumped = pipe.model_dump() | {"outlet_factor": lesson.then}
        garden = edits.put(garden, "pipes", type(pipe).model_validate(dumped))
    return garden


def _giving(garden: Garden, zone_id: str) -> list[Pipe]:
    zone = next(z for z in zones.zones_of(garden) if z.id == zone_id)
    return [pipe for pipe in zone.pipes if piping.gives(pipe)]


def _outlets(told: Hindcast) -> Iterator[Lesson]:
    for chain in told.chain.zones:
        pairs = [*flow_pairs(chain, told.log), *_metered(told, chain), *_cups(chain, told.log)]
        giving = [pipe for pipe in chain.zone.pipes if piping.gives(pipe)]
        if not pairs or not giving:
            continue
        solved, measured, _ = (np.array(column) for column in zip(*pairs, strict=True))
        # A ratio, so that a litre of a bucket and a cubic metre of a meter weigh alike.
        ratio = measured / solved
        estimate = calibration.factor(np.ones_like(ratio), ratio, BUCKET, OUTLETS_PRIOR)
        yield Lesson(
            "outlets", chain.zone.id, f"What the outlets of “{chain.zone.name}” give, as a share of what is printed",
            estimate, giving[0].outlet_factor, OUTLET_BOUNDS,
            "From flows by bucket, catch cups, and a meter at the timer.",
        )  # fmt: skip


FlowPair = tuple[float, float, int]
"""Solved, measured, and which entry of the log."""


def flow_pairs(chain: ZoneChain, log: Sequence[Entry]) -> list[FlowPair]:
    """Flows of all of a zone by bucket beside what is solved at the store's level then."""
    zone, found = chain.zone, []
    head = next((p.id for p in zone.way.parts if isinstance(p, Timer)), zone.source.id)
    for i, entry in enumerate(log):
        if entry.kind != "flow" or entry.word != "whole" or entry.part_id != head:
            continue
        level, _ = first_run.level_of(zone, log[: i + 1])
        try:
            solved = solving.solve_zone(zone, round(level, 3)).flow
        except PlanError:
            continue
        if solved > 0:
            found.append((solved, first_run.measured_flow(entry), i))
    return found


@dataclass(frozen=True)
class CupTest:
    """Catch cups along a line or in a bed, beside what is solved there.

    solved, measured : Mean of one outlet. [m³ s⁻¹]
    solved_even, measured_even : Low-quarter uniformity. [-]
    entry : Position in the log.
    """

    name: str
    solved: float
    measured: float
    solved_even: float
    measured_even: float
    entry: int


def cup_tests(chain: ZoneChain, log: Sequence[Entry]) -> list[CupTest]:
    """Every catch-cup test in a zone."""
    zone, found = chain.zone, []
    along = first_run.outlets_along(zone)
    names = {part.id: part.name for part in (*zone.pipes, *zone.watered)}
    for i, entry in enumerate(log):
        if entry.kind != "cups" or entry.part_id not in names:
            continue
        in_bed = [k for k, o in enumerate(zone.outlets) if o.waters == entry.part_id]
        outlets = along.get(entry.part_id, in_bed)
        level, _ = first_run.level_of(zone, log[: i + 1])
        try:
            flows = solving.solve_zone(zone, round(level, 3)).outlet_flow[outlets]
        except PlanError:
            continue
        seconds, *volumes = (value or 0.0 for value in entry.amounts)
        cups = np.array(volumes)
        if len(flows) and float(flows.mean()) > 0:
            found.append(CupTest(
                names[entry.part_id], float(flows.mean()), float(cups.mean()) / seconds,
                low_quarter_uniformity(flows), low_quarter_uniformity(cups), i,
            ))  # fmt: skip
    return found


def _cups(chain: ZoneChain, log: Sequence[Entry]) -> list[FlowPair]:
    return [(test.solved, test.measured, test.entry) for test in cup_tests(chain, log)]


def _metered(told: Hindcast, chain: ZoneChain) -> list[FlowPair]:
    """Litres between two readings of a meter at the timer, beside what was run meanwhile."""
    head = next((p.id for p in chain.zone.way.parts if isinstance(p, Timer)), None)
    ways = [
        (i, way) for i, way in enumerate(told.season.ways)
        if way.time is not None and way.time.zone.id == chain.zone.id
    ]  # fmt: skip
    readings = [
        (i, e) for i, e in enumerate(told.log) if e.kind == "meter" and e.part_id == head and head
    ]
    found = []
    for (_, before), (i, after) in pairwise(readings):
        if after.word == "new" or not ways:
            continue
        first, last = told.day(before.at), told.day(after.at)
        run = sum(float(told.tracks[k].watered[first:last].sum()) for k, _ in ways)
        used = ((after.amounts[0] or 0.0) - (before.amounts[0] or 0.0)) * LITRES_PER_CUBIC_METRE
        if run > LEAST_RAIN_L:
            found.append((run, used, i))
    return found


def _roofs(told: Hindcast) -> Iterator[Lesson]:
    garden = told.chain.garden
    for tank, group in enumerate(told.season.groups):
        ids = {store.id for store in group.stores}
        roofs = {s.roof_id for s in garden.downspouts if s.leads_to in ids}
        pairs = [p for store in group.stores for p in _dip_pairs(told, tank, store)]
        if not pairs or not roofs:
            continue
        brought, came = (np.array(column) for column in zip(*pairs, strict=True))
        estimate = calibration.factor(brought, came, STICK, ROOF_PRIOR)
        for roof in garden.roofs:
            if roof.id in roofs:
                yield Lesson(
                    "roof", roof.id, f"Share of the rain that comes down from “{roof.name}”",
                    estimate, spouts.runoff_coefficient(roof), ROOF_BOUNDS,
                    "From dips before and after rain, with what was drawn meanwhile; a full store tells nothing.",
                )  # fmt: skip


def _dip_pairs(told: Hindcast, tank: int, store: Store) -> list[tuple[float, float]]:
    """Litres that the roof should have brought between two dips, and those that came."""
    group, works = told.season.groups[tank], told.season.works
    dips = [e for e in told.log if e.kind == "dip" and e.part_id == store.id]
    drawn = told.season.run.drawn_from(tank)
    capacity = works.tanks[tank].capacity
    found = []
    for before, after in pairwise(dips):
        first, last = told.day(before.at), told.day(after.at)
        volumes = [
            group.level.volume_at(store.base_m + (e.amounts[0] or 0.0)) * LITRES_PER_CUBIC_METRE
            for e in (before, after)
        ]
        brought = float(works.tanks[tank].inflow[first:last].sum())
        used = float(drawn[first:last].sum())
        spilled = max(volumes[0] + brought - used, volumes[1]) > NEARLY_FULL * capacity
        if last > first and brought > LEAST_RAIN_L and not spilled:
            found.append((brought, volumes[1] - volumes[0] + used))
    return found


def _thirst(told: Hindcast) -> Iterator[Lesson]:
    for track in told.tracks:
        part = track.way.need.part
        yield Lesson(
            "thirst", part.id, f"What “{part.name}” drinks, as a share of what the tables say",
            thirst_of(told, track, soil_tests(told, part.id)), part.need_factor, NEED_BOUNDS,
            "From finger tests: dry, right or muddy, against the root zone day by day.",
        )  # fmt: skip


def soil_tests(told: Hindcast, part_id: str) -> list[SoilTest]:
    """Finger tests of one bed. In the morning they tell of last evening."""
    return [
        SoilTest(told.day(e.at - timedelta(hours=12)), e.word)
        for e in told.log
        if e.kind == "finger" and e.part_id == part_id
    ]


def thirst_of(told: Hindcast, track: BedTrack, tests: Sequence[SoilTest]) -> Estimate:
    """The factor on a bed's drinking by some of its finger tests."""
    if not tests:
        return calibration.Estimate(1.0, NO_TEST, 0)
    return calibration.thirst_factor(told.gone_by_thirst(track), tests)
