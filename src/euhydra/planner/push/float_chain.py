"""A chain of planters behind a float box: levels at the peak hour, who starves first, how many it carries."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from euhydra.core import planters
from euhydra.core.constants import LITRES_PER_CUBIC_METRE, SECONDS_PER_DAY, SECONDS_PER_HOUR
from euhydra.core.planters import PlanterTube
from euhydra.garden import catalogue, plumbing
from euhydra.garden.plumbing import Dripper
from euhydra.garden.pots import KeptBy, Pots
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Cure, Figure, Mark, PlanError, Verdict, Working
from euhydra.planner.need.daily import Need
from euhydra.planner.water import solving, zones
from euhydra.planner.water.zones import Zone

Floats = NDArray[np.float64]

PEAK_SHARE = 0.12
"""Share of a clear summer day's water that its peak hour takes. [-] Sine of the sun's height, from memory."""

HOT = 0.95
"""Share of the growing days that drink less than a hot day. [-] Our choice."""

BLOCKED = 0.75
"""Share of a tube's area that roots and mix take by the end of a season, at worst. [-] Common practice."""

RULES_OF_THUMB = (6, 12)
"""Plants on one float: tomatoes, and peppers or aubergines. Common practice."""

NEAR = 1e-4
"""Share by which a float valve's flow may miss the draw when its opening is sought. [-]"""

MOST_TRIES = 40
"""Tries of finding the opening before it is given up."""

WIDER = (1.25, 1.6, 2.0)
"""Times as wide that joining tubes are tried. [-]"""


@dataclass(frozen=True)
class ChainLevels:
    """The chain at one draw.

    draw : Of one planter. [m³ s⁻¹]
    box : Level in the box over its floor; None where the valve does not give the draw. [m]
    levels : In each planter, from the box on. [m]
    starved : Planters below the foot of their wick, counted from 1.
    """

    draw: float
    box: float | None
    levels: tuple[float, ...]
    starved: tuple[int, ...]


@dataclass(frozen=True)
class FloatChain:
    """A group of planters joined behind one float.

    mean, peak : A mean hour of a mean day, and the peak hour of a hot one, with clean tubes.
    blocked : The peak hour with tubes blocked as at the season's end.
    carries, carries_blocked : Most planters of this thirst, with clean tubes and with blocked ones.
    """

    pots: Pots
    mean: ChainLevels
    peak: ChainLevels
    blocked: ChainLevels
    carries: int
    carries_blocked: int
    figures: tuple[Figure, ...]
    verdict: Verdict


def chains_of(zone: Zone, needs: tuple[Need, ...]) -> Iterator[FloatChain]:
    """Every chain of planters on a zone, with the store nearly empty, the hardest that it meets.

    Raises
    ------
    PlanError : if the zone could not be solved.
    """
    for need in needs:
        part = need.part
        if isinstance(part, Pots) and part.is_joined and zone.keeps_level:
            yield _answer(_Chain(zone, part, need))


@dataclass(frozen=True)
class _Chain:
    """A chain to be tried, with other tubes or fewer planters."""

    zone: Zone
    pots: Pots
    need: Need
    tube_factor: float = 1.0
    boxes: int = 1
    raised_m: float = 0.0

    @property
    def dripper(self) -> Dripper:
        pipe = next(o.pipe for o in self.zone.outlets if o.waters == self.pots.id)
        return catalogue.find(plumbing.drippers(), pipe.dripper or "")

    @property
    def daily(self) -> Floats:
        """What one planter drinks on each day in season. [m³ d⁻¹]"""
        litres = self.need.crop_et[self.need.is_growing] * self.need.area_m2 / self.pots.count
        return np.asarray(litres / LITRES_PER_CUBIC_METRE)

    @property
    def hot_day(self) -> float:
        """[m³ d⁻¹]"""
        return float(np.quantile(self.daily, HOT)) if self.daily.size else 0.0

    @property
    def count(self) -> int:
        """Planters behind one box."""
        return -(-self.pots.count // self.boxes)

    def tube(self, blocked: float) -> PlanterTube:
        bore = self.pots.joint_bore_m * self.tube_factor
        return planters.joining(self.pots.joint_m, bore, blocked)

    def opening(self, draw: float) -> float | None:
        """Share of the valve's opening that gives so much, solved on the network; None if none does. [-]"""
        if draw <= 0:
            return 0.0
        full = self._gives(1.0)
        if full < draw:
            return None
        share = draw / full
        for _ in range(MOST_TRIES):
            given = self._gives(share)
            if abs(given - draw) <= NEAR * draw:
                break
            share = min(1.0, share * draw / given)
        return share

    def _gives(self, opening: float) -> float:
        """Of the valve, opened so far. [m³ s⁻¹]"""
        zone = zones.raised(self.zone, self.raised_m) if self.raised_m else self.zone
        pipe = next(p for p in zone.pipes if p.waters == self.pots.id and p.dripper)
        part = pipe.model_copy(update={"outlet_factor": pipe.outlet_factor * opening})
        state = solving.solve_zone(zones.in_garden(zone, pipes={pipe.id: part}), _level(zone))
        return state.flow * state.share_to(self.pots.id)

    def levels(self, draw: float, blocked: float, count: int | None = None) -> ChainLevels:
        """Steady levels with each planter drawing so much. [m³ s⁻¹], [-]"""
        several = self.count if count is None else count
        opening = self.opening(several * self.boxes * draw if count is None else several * draw)
        if opening is None:
            return ChainLevels(draw, None, (), ())
        box = self.pots.set_level_m - self.dripper.band_m * opening
        if self.pots.kept_by is KeptBy.TROUGH:
            levels = np.full(several, box)  # one water
        else:
            levels = planters.chain_levels(box, self.tube(blocked), np.full(several, draw))
        dry = planters.starved(levels, self.pots.foot_m)
        return ChainLevels(draw, box, tuple(levels.tolist()), tuple(dry))

    def carries(self, draw: float, blocked: float) -> int:
        """Most planters, counted up from one by halves of the way, of which none is starved."""
        low, high = 0, planters.MOST_PLANTERS + 1
        while high - low > 1:
            middle = (low + high) // 2
            found = self.levels(draw, blocked, middle)
            low, high = (middle, high) if _serves(found) else (low, middle)
        return low


def _level(zone: Zone) -> float:
    return zones.NEARLY_EMPTY if zone.group else 1.0


def _serves(levels: ChainLevels) -> bool:
    return levels.box is not None and not levels.starved


def _answer(chain: _Chain) -> FloatChain:
    mean = float(chain.daily.mean()) / SECONDS_PER_DAY if chain.daily.size else 0.0
    peak = chain.hot_day * PEAK_SHARE / SECONDS_PER_HOUR
    clean, late = chain.levels(peak, 0.0), chain.levels(peak, BLOCKED)
    carries = chain.carries(peak, 0.0) if peak > 0 else planters.MOST_PLANTERS
    carries_late = chain.carries(peak, BLOCKED) if peak > 0 else planters.MOST_PLANTERS
    return FloatChain(
        chain.pots,
        chain.levels(mean, 0.0),
        clean,
        late,
        carries,
        carries_late,
        tuple(_figures(chain, peak, clean, late, carries, carries_late)),
        _verdict(chain, peak, clean, late, carries, carries_late),
    )


def _figures(
    chain: _Chain,
    peak: float,
    clean: ChainLevels,
    late: ChainLevels,
    carries: int,
    carries_late: int,
) -> Iterator[Figure]:
    pots = chain.pots
    draw = {
        "one planter on a hot day": Amount(chain.hot_day, "volume"),
        "share of it in the peak hour": Amount(PEAK_SHARE, "share"),
        "planters": Amount(pots.count, "plain"),
    }
    tubes = {
        "tube from one to the next": Amount(pots.joint_m, "length"),
        "its inside width": Amount(pots.joint_bore_m, "bore"),
        "the float shuts at": Amount(pots.set_level_m, "height"),
        "foot of the wick": Amount(pots.foot_m, "height"),
    }
    law = "Float valve k·√H, shut in a straight line; tubes: Darcy–Weisbach with K = 1.5, water of 20 °C"
    yield Figure(
        "All of them, in the peak hour",
        Amount(peak * pots.count, "flow"),
        Working(
            "planters × a hot day × share of the peak hour",
            draw,
            "Our own Need; peak share from memory",
        ),
    )
    if clean.levels:
        yield Figure(
            "Level in the last one, clean tubes",
            Amount(max(clean.levels[-1], 0.0), "height"),
            Working(
                "level in the box − what every tube on the way takes",
                tubes | draw | {"level in the box": Amount(clean.box or 0.0, "height")},
                law,
                ("With the store nearly empty.",),
            ),
        )
    if late.levels:
        yield Figure(
            "The same, tubes three quarters blocked",
            Amount(max(late.levels[-1], 0.0), "height"),
            Working("bore × √(1 − blocked)", tubes | {"blocked": Amount(BLOCKED, "share")}, law),
        )
    yield Figure(
        "One float carries, clean to blocked",
        Amount(carries, "plain"),
        Working(
            "most planters of this thirst of which none is under its foot in the peak hour",
            draw
            | tubes
            | {
                "with blocked tubes": Amount(carries_late, "plain"),
                "rule for tomatoes": Amount(RULES_OF_THUMB[0], "plain"),
                "rule for peppers": Amount(RULES_OF_THUMB[1], "plain"),
            },
            f"{law}; rules: common practice",
            (
                "The rules are what tubes half and more blocked carry, or of 4 to 6 mm: clean wide ones carry more.",
            ),
        ),
    )


def _verdict(
    chain: _Chain,
    peak: float,
    clean: ChainLevels,
    late: ChainLevels,
    carries: int,
    carries_late: int,
) -> Verdict:
    pots = chain.pots
    if clean.box is None:
        summary = say(
            "push-float-does-not-suffice",
            "The float valve of “{pots}” does not give what they drink in the peak hour, {draw}, when the store is "
            "nearly empty.",
            pots=pots.name,
            draw=Amount(peak * pots.count, "flow"),
        )
        return Verdict(Mark.FAILS, summary, (), _cures(chain, peak))
    if clean.starved:
        summary = say(
            "push-chain-starves",
            "The chain of “{pots}” is too long or too thirsty: planters from number {first} on stand dry in the peak "
            "hour of a hot day.",
            pots=pots.name,
            first=clean.starved[0],
        )
        return Verdict(Mark.FAILS, summary, (), _cures(chain, peak))
    works = say(
        "push-chain-works",
        "One float carries all {count} of “{pots}”: with clean tubes it would carry {carries}.",
        count=pots.count,
        pots=pots.name,
        carries=carries,
    )
    if late.box is None or late.starved:
        reason = say(
            "push-chain-late",
            "With tubes three quarters blocked by roots it carries {carries}: rinse them at the season's end, and "
            "when the last ones droop.",
            carries=carries_late,
        )
        return Verdict(Mark.BUT, works, (reason,), _cures(chain, peak, BLOCKED))
    return Verdict(Mark.WORKS, works, (_compared(carries_late),))


def _compared(carries: int) -> Sentence:
    return say(
        "push-chain-compared",
        "Even with tubes three quarters blocked it carries {carries}; the common rule is {tomatoes} tomatoes or "
        "{peppers} peppers on one float.",
        carries=carries,
        tomatoes=RULES_OF_THUMB[0],
        peppers=RULES_OF_THUMB[1],
    )


def _cures(chain: _Chain, peak: float, blocked: float = 0.0) -> tuple[Cure, ...]:
    """Single changes after which none starves, each solved again, the smallest first."""
    cures = []
    for change, other in _tried(chain):
        try:
            found = other.levels(peak, blocked)
        except PlanError:
            continue
        if _serves(found):
            outcome = say(
                "push-chain-then",
                "Then the last stands {over} over its wick's foot in the peak hour.",
                over=Amount(found.levels[-1] - chain.pots.foot_m, "height"),
            )
            cures.append(Cure(change, outcome))
    return tuple(cures[:3])


def _tried(chain: _Chain) -> Iterator[tuple[Sentence, _Chain]]:
    zone, pots, need = chain.zone, chain.pots, chain.need
    for factor in WIDER if pots.kept_by is KeptBy.CHAIN else ():
        yield (
            say(
                "push-wider-joints",
                "Tubes {bore} wide inside from one to the next.",
                bore=Amount(pots.joint_bore_m * factor, "bore"),
            ),
            _Chain(zone, pots, need, tube_factor=factor),
        )
    yield (
        say("push-second-float", "A second float box on the same line, for half of them."),
        _Chain(zone, pots, need, boxes=2),
    )
    if zone.group is not None:
        for by in (0.3, 0.6):
            yield (
                say("push-raise-for-float", "Raise the store by {by}.", by=Amount(by, "height")),
                _Chain(zone, pots, need, raised_m=by),
            )
