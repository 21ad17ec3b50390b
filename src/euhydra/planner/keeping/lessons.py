"""What the log teaches: factors on outlets, roofs and thirst, with how sure they are."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from euhydra.core import calibration
from euhydra.core.calibration import Estimate, SoilTest
from euhydra.garden import edits
from euhydra.garden.kinds import kind_of
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Pipe
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Figure, Working
from euhydra.planner.catch import spouts
from euhydra.planner.keeping import measurements
from euhydra.planner.keeping.hindcast import BedTrack, Hindcast
from euhydra.planner.water import laws, zones

BUCKET, METER, STICK = 0.10, 0.05, 0.10
"""Noise of a flow by bucket, of litres by meter, of a dip, as a share. [-] Our choice."""

OUTLETS_PRIOR, ROOF_PRIOR = 0.25, 0.25
"""How far the factors may lie from 1 before anything is measured. [-] Our choice."""

ROOF_BOUNDS, OUTLET_BOUNDS, NEED_BOUNDS = (0.3, 1.0), (0.5, 1.5), (0.6, 1.6)
"""Within these a value is likely; beyond them something else is wrong first. Our choice."""

NO_TEST = 0.2
"""How far thirst may lie from 1 before any test. [-] Our choice."""


SAID = {
    "outlets": (
        "keeping-learned-outlets",
        "The outlets of “{about}” give {then} of what is printed",
    ),
    "roof": ("keeping-learned-roof", "“{about}” brings {then} of its rain"),
    "thirst": ("keeping-learned-thirst", "“{about}” drinks {then} of what the tables say"),
}
"""What each kind of lesson comes to: its code, and its words."""


@dataclass(frozen=True)
class Lesson:
    """Something learned, and what would be changed by it.

    kind : `outlets`, `roof` or `thirst`; with `part_id` it names the lesson.
    about : Name of the part, or of what its zone waters.
    now, then : The garden's value, and what it would be. [-]
    bounds : Within which `then` is likely.
    """

    kind: str
    part_id: str
    title: str
    about: str
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
    def likely(self) -> tuple[float, float]:
        """Between which values it lies 19 times in 20. [-]"""
        return self.now * self.estimate.low, self.now * self.estimate.high

    @property
    def is_beyond(self) -> bool:
        """Whether that is unlikely, so that it is not taken without being asked twice."""
        return not self.bounds[0] <= self.then <= self.bounds[1]

    @property
    def figure(self) -> Figure:
        """The value with its working."""
        e = self.estimate
        return Figure(
            self.title,
            Amount(self.then, "share"),
            Working(
                "the plan's value × the factor that explains the log best",
                {
                    "in the plan": Amount(self.now, "share"),
                    "factor": Amount(round(e.value, 3), "plain"),
                    "lowest likely factor": Amount(round(e.low, 3), "plain"),
                    "highest likely factor": Amount(round(e.high, 3), "plain"),
                    "measurements": Amount(e.count, "plain"),
                },
                "Least squares with a prior about the plan's value; thirst from how likely each finger test is",
                (self.how, "The range holds it 19 times in 20, if the measuring was fair."),
            ),
        )

    @property
    def said(self) -> Sentence:
        """In a sentence."""
        low, high = self.likely
        code, template = SAID[self.kind]
        return say(
            code,
            template + ", not {now} (likely {low} to {high}).",
            about=self.about,
            then=Amount(self.then, "share"),
            now=Amount(self.now, "share"),
            low=Amount(low, "share"),
            high=Amount(high, "share"),
        )


def lessons(told: Hindcast) -> list[Lesson]:
    """Everything that the log has measurements of."""
    found = [*_outlets(told), *_roofs(told), *_thirst(told)]
    return [lesson for lesson in found if lesson.estimate.count > 0]


def apply(garden: Garden, lesson: Lesson) -> Garden:
    """The garden with what was learned."""
    if lesson.kind == "thirst":
        part = next(p for p in garden.planted if p.id == lesson.part_id)
        taught = type(part).model_validate(part.model_dump() | {"need_factor": lesson.then})
        return edits.put(garden, kind_of(part).collection, taught)
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
    return [pipe for pipe in zone.pipes if laws.gives(pipe)]


def _outlets(told: Hindcast) -> Iterator[Lesson]:
    for chain in told.chain.zones:
        pairs = [
            *measurements.flow_pairs(chain, told.log),
            *measurements.meter_pairs(told, chain),
            *measurements.cup_pairs(chain, told.log),
        ]
        own = {part.id for part in (*chain.zone.way.parts, *chain.zone.pipes)}
        mended = measurements.mended_at(told.log, own)
        pairs = measurements.since(pairs, told.log, mended)
        giving = [pipe for pipe in chain.zone.pipes if laws.gives(pipe)]
        if not pairs or not giving:
            continue
        solved, found, _ = (np.array(column) for column in zip(*pairs, strict=True))
        # A ratio, so that a litre of a bucket and a cubic metre of a meter weigh alike.
        ratio = found / solved
        weights = calibration.weights_of(measurements.ages_of(pairs, told))
        estimate = calibration.factor(np.ones_like(ratio), ratio, BUCKET, OUTLETS_PRIOR, weights)
        yield Lesson(
            "outlets",
            chain.zone.id,
            f"What the outlets of “{chain.zone.name}” give of what is printed",
            chain.zone.name,
            estimate,
            giving[0].outlet_factor,
            OUTLET_BOUNDS,
            "From flows by bucket, catch cups, and a meter at the timer, since it was last flushed or "
            "mended; one of two months ago counts half.",
        )


def _roofs(told: Hindcast) -> Iterator[Lesson]:
    garden = told.chain.garden
    for tank, group in enumerate(told.season.groups):
        ids = {store.id for store in group.stores}
        roofs = {s.roof_id for s in garden.downspouts if s.leads_to in ids}
        pairs = [p for store in group.stores for p in measurements.dip_pairs(told, tank, store)]
        spouts_here = {s.id for s in garden.downspouts if s.leads_to in ids}
        mended = measurements.mended_at(told.log, {*roofs, *spouts_here, *ids})
        pairs = measurements.since(pairs, told.log, mended)
        if not pairs or not roofs:
            continue
        brought, came, _ = (np.array(column) for column in zip(*pairs, strict=True))
        weights = calibration.weights_of(measurements.ages_of(pairs, told))
        estimate = calibration.factor(brought, came, STICK, ROOF_PRIOR, weights)
        for roof in garden.roofs:
            if roof.id in roofs:
                yield Lesson(
                    "roof",
                    roof.id,
                    f"What “{roof.name}” brings of its rain",
                    roof.name,
                    estimate,
                    spouts.runoff_coefficient(roof),
                    ROOF_BOUNDS,
                    "From dips before and after rain, with what was drawn meanwhile, since it was last mended; a full "
                    "store tells nothing, and a dip of two months ago counts half.",
                )


def _thirst(told: Hindcast) -> Iterator[Lesson]:
    for track in told.tracks:
        part = track.way.need.part
        yield Lesson(
            "thirst",
            part.id,
            f"What “{part.name}” drinks of what the tables say",
            part.name,
            thirst_of(told, track, measurements.soil_tests(told, part.id)),
            part.need_factor,
            NEED_BOUNDS,
            "From finger tests: dry, right or muddy, against the root zone day by day.",
        )


def thirst_of(told: Hindcast, track: BedTrack, tests: Sequence[SoilTest]) -> Estimate:
    """The factor on a bed's drinking by some of its finger tests."""
    if not tests:
        return calibration.Estimate(1.0, NO_TEST, 0)
    return calibration.thirst_factor(told.gone_by_thirst(track), tests)
