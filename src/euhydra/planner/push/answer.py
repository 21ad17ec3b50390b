"""Push: whether height is enough, and if not, the smallest change that makes it so."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from euhydra.core.delivery import DrainCurve
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.sources import Tap
from euhydra.planner.answers import Figure, Mark, Verdict, Working, worst_of
from euhydra.planner.need.daily import Need
from euhydra.planner.push import air, grading, lengths, porous, shortfalls
from euhydra.planner.push.drives import Drive, compare
from euhydra.planner.push.float_chain import FloatChain, chains_of
from euhydra.planner.push.lengths import LengthLimit
from euhydra.planner.push.shortfalls import EVEN, Duty, Shortfall
from euhydra.planner.push.slowing import Slowing, slowings_of
from euhydra.planner.water import solving, zones
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.zones import Zone

SOLVER_SOURCE = (
    "Darcy–Weisbach, laminar to rough, every outlet solved as q = k·Hˣ; "
    "Todini and Pilati (1988), Swamee–Jain"
)


@dataclass(frozen=True)
class LevelFigures:
    """One level of the store, or the open tap: its name and its figures."""

    name: str
    state: ZoneState
    figures: tuple[Figure, ...]


@dataclass(frozen=True)
class PushAnswer:
    """The zone at every level, its delivery curve, and the verdict on gravity.

    duty : What it has to give on its hardest mean day; None while that is not known, or where floats take
        what they want.
    needs : Of what it waters.
    """

    zone: Zone
    levels: tuple[LevelFigures, ...]
    duty: Duty | None
    faults: tuple[Shortfall, ...]
    needs: tuple[Need, ...] = ()

    @cached_property
    def chains(self) -> tuple[FloatChain, ...]:
        """Its chains of planters behind a float."""
        return tuple(chains_of(self.zone, self.needs))

    def chain_of(self, part_id: str) -> FloatChain | None:
        """The chain of these planters; None where each has a float of its own, or none."""
        return next((chain for chain in self.chains if chain.pots.id == part_id), None)

    def at(self, name: str) -> LevelFigures:
        """The level called `name`."""
        return next(level for level in self.levels if level.name == name)

    @property
    def usual(self) -> LevelFigures:
        """The level at which times are reckoned."""
        return self.at(self.zone.usual_level)

    @cached_property
    def curve(self) -> DrainCurve:
        """Delivery against the level of the store. [L], [L/h]"""
        return solving.drain_curve(self.zone)

    @cached_property
    def air(self) -> tuple[Sentence, ...]:
        """Where air is drawn in or stays, and what to do."""
        return air.air_in(self.zone)

    @cached_property
    def verdict(self) -> Verdict:
        """Whether it works as it stands, why, and what would cure it."""
        own = _with_air(_verdict(self.zone, self.duty, self.faults), self.air, self.zone)
        return worst_of([*(chain.verdict for chain in self.chains), own])

    @cached_property
    def mark(self) -> Mark:
        """The verdict's mark, without looking for cures of the pipes."""
        if self.chains:
            return self.verdict.mark
        if not self.faults:
            return Mark.BUT if self.air else Mark.WORKS
        return Mark.FAILS if any(fault.is_fatal for fault in self.faults) else Mark.BUT

    @cached_property
    def drives(self) -> tuple[Drive, ...]:
        """Gravity and pump side by side."""
        return compare(self.zone, self.duty)

    @cached_property
    def slowings(self) -> tuple[Slowing, ...]:
        """Its drilled pipes: whether friction or the slowing water rules in each."""
        return tuple(slowings_of(self.usual.state))

    @cached_property
    def best_grading(self) -> Sentence | None:
        """What graded holes would make of its drilled pipes."""
        return grading.best_grading(self.zone) if self.slowings else None

    @cached_property
    def limits(self) -> tuple[LengthLimit, ...]:
        """How long each kind of line in it may be, solved and as people say."""
        return lengths.limits_of(self.zone)


def answer_push(zone: Zone, needs: Sequence[Need]) -> PushAnswer:
    """Heads and flows at every level of the store; gravity or not."""
    levels = [_level(zone, name, share) for name, share in zone.levels.items()]
    if zone.has_filter:
        name = f"{zone.usual_level}, {zones.CLOGGED}"
        levels.append(_level(zone, name, zone.levels[zone.usual_level], is_dirty=True))
    usual = next(level for level in levels if level.name == zone.usual_level)
    duty = None if zone.keeps_level else shortfalls.duty_of(usual.state, needs)
    faults = shortfalls.find_shortfalls(zone, duty)
    return PushAnswer(zone, tuple(levels), duty, faults, tuple(needs))


def _verdict(zone: Zone, duty: Duty | None, found: tuple[Shortfall, ...]) -> Verdict:
    if not found:
        return Verdict(Mark.WORKS, works_by(zone), tuple(_good_reasons(zone, duty)))
    reasons = tuple(fault.reason for fault in found)
    if any(fault.is_fatal for fault in found):
        return Verdict(Mark.FAILS, _fails(zone, found), reasons)
    summary = say(
        "push-height-enough-until",
        "Height is enough until the {zone_noun} is nearly empty.",
        zone_noun=zone.noun,
    )
    return Verdict(Mark.BUT, summary, reasons)


def _with_air(verdict: Verdict, found: tuple[Sentence, ...], zone: Zone) -> Verdict:
    """Air is told before anything good, and after what does not work for want of head."""
    seeps = porous.at_little_head(zone)
    if not found:
        return replace(verdict, reasons=(*verdict.reasons, *seeps))
    if verdict.mark is Mark.WORKS:
        return Verdict(Mark.BUT, found[0], (*found[1:], verdict.summary, *verdict.reasons, *seeps))
    return replace(verdict, reasons=(*verdict.reasons, *found, *seeps))


def works_by(zone: Zone) -> Sentence:
    """That height, tap or pump is enough."""
    if zone.pumps:
        return say("push-pump-enough-zone", "The pump is enough for this zone.")
    if isinstance(zone.source, Tap):
        return say("push-tap-enough-pump", "The tap is enough: no pump needed.")
    return say("push-height-enough-pump", "Height is enough: no pump needed.")


def _fails(zone: Zone, found: tuple[Shortfall, ...]) -> Sentence:
    if any(fault.cause == "pressure" for fault in found):
        return say("push-too-much-pressure", "There is more pressure than the lines bear.")
    if all(fault.cause == "evenness" for fault in found):
        return say("push-water-but-shared", "The water is there, but is not shared well.")
    if zone.pumps:
        return say("push-pump-enough-stands", "The pump is not enough as it stands.")
    if isinstance(zone.source, Tap):
        return say("push-tap-stands", "The tap does not do it as it stands.")
    return say("push-height-enough-stands", "Height is not enough as it stands.")


def _good_reasons(zone: Zone, duty: Duty | None) -> list[Sentence]:
    if zone.group:
        reasons = [
            say(
                "push-head-over-highest",
                "Head over the highest outlet: {full} with the {zone_noun} full, {empty} nearly empty.",
                zone_noun=zone.noun,
                full=Amount(zone.head_at(1.0), "head"),
                empty=Amount(zone.head_at(zones.NEARLY_EMPTY), "head"),
            )
        ]
    else:
        reasons = [
            say(
                "push-head-over-highest-outlet",
                "Head over the highest outlet with all shut: {head}.",
                head=Amount(zone.head_at(1), "head"),
            )
        ]
    even = "Even then the" if zone.group else "The"
    reasons.append(
        say(
            "push-weakest-outlet-gets",
            "{even_2} weakest outlet gets at least {even} of its due.",
            even_2=even,
            even=Amount(EVEN, "share"),
        )
    )
    if duty:
        reasons.append(
            say(
                "push-hardest-months-day",
                "The hardest month's {litres} a day take {hours}.",
                litres=Amount(duty.need_m3, "volume"),
                hours=Amount.hours(shortfalls.hours_for(zone, duty)),
            )
        )
    return reasons


def _level(zone: Zone, name: str, share: float, is_dirty: bool = False) -> LevelFigures:
    state = solving.solve_zone(zone, share, is_dirty)
    return LevelFigures(name, state, _level_figures(zone, state))


def _level_figures(zone: Zone, state: ZoneState) -> tuple[Figure, ...]:
    drip = zone.outlets[0].law
    heights = {
        "height of the water": Amount(zone.surface_at(state.share), "head"),
        "height of the highest outlet": Amount(zone.outlet_m, "head"),
    }
    losses = {
        "lost before the first outlet": Amount(state.lost_before_outlets, "height"),
        "from there to the weakest": Amount(state.lost_among_outlets, "height"),
    }
    law = {
        "first outlet gives": Amount(drip.flow_m3_s, "flow"),
        "at a head of": Amount(drip.at_head_m, "head"),
        "exponent x": Amount(drip.exponent, "plain"),
        "number of outlets": Amount(len(state.outlet_flow), "plain"),
    }
    even = {
        "lowest outlet": Amount(float(state.outlet_flow.min()), "flow"),
        "mean outlet": Amount(state.mean_flow, "flow"),
        "weakest over its due": Amount(state.lowest_share, "share"),
    }
    return (
        Figure(
            "Head",
            Amount(zone.head_at(state.share), "head"),
            Working(
                "height of the water − height of the highest outlet",
                heights | losses,
                "Hydrostatics; 10.2 m of water is 1 bar",
            ),
        ),
        Figure(
            "Whole zone",
            Amount(state.flow, "flow"),
            Working("sum of the solved outlets", heights | losses | law, SOLVER_SOURCE),
        ),
        Figure(
            "One outlet",
            Amount(state.mean_flow, "flow"),
            Working(
                "q = k·Hˣ at its solved head, mean of all",
                law | even,
                f"{SOLVER_SOURCE}; outlets as the kinds of line say",
            ),
        ),
        Figure(
            "Evenness",
            Amount(state.low_quarter, "share"),
            Working(
                "mean of the weakest quarter ÷ mean of all, each outlet against its due",
                even
                | {
                    "with the maker's variation": Amount(state.emission_uniformity, "share"),
                    "maker's variation": Amount(
                        max(o.law.variation for o in zone.outlets), "share"
                    ),
                },
                "Low-quarter uniformity: Merriam and Keller (1978); with variation: Karmeli and Keller (1975)",
            ),
        ),
    )
