"""A chain of planters behind a float box: levels at the peak hour, who starves first, how many it carries."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

from euhydra.core import planters
from euhydra.core.planter_day import PlanterDay
from euhydra.garden.pots import Pots
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Figure, Mark, Verdict, Working
from euhydra.planner.need.daily import Need
from euhydra.planner.push.planter_chain import ALL_BUT, PEAK_SHARE, ChainLevels, PlanterChain
from euhydra.planner.water.zones import Zone

BLOCKED = 0.75
"""Share of a tube's area that roots and mix take by the end of a season, at worst. [-] Common practice."""

RULES_OF_THUMB = (6, 12)
"""Plants on one float: tomatoes, and peppers or aubergines. Common practice."""


@dataclass(frozen=True)
class FloatChain:
    """A group of planters joined behind one float.

    mean, peak : A mean hour of a mean day, and the peak hour of a hot one, with clean tubes.
    blocked : The peak hour with tubes blocked as at the season's end.
    carries, carries_blocked : Most planters of this thirst, with clean tubes and with blocked ones.
    """

    chain: PlanterChain
    mean: ChainLevels
    peak: ChainLevels
    blocked: ChainLevels
    carries: int
    carries_blocked: int

    @property
    def pots(self) -> Pots:
        """The planters."""
        return self.chain.pots

    @cached_property
    def day(self) -> PlanterDay:
        """The last of a week of hot days, hour by hour, with clean tubes."""
        return self.chain.day(self.chain.hot_day)

    @cached_property
    def figures(self) -> tuple[Figure, ...]:
        """What is read off it."""
        return tuple(_figures(self))

    @cached_property
    def verdict(self) -> Verdict:
        """Whether one float carries them."""
        return _verdict(self)


def chains_of(zone: Zone, needs: tuple[Need, ...]) -> Iterator[FloatChain]:
    """Every chain of planters on a zone, with the store nearly empty, the hardest that it meets.

    Raises
    ------
    PlanError : if the zone could not be solved.
    """
    for need in needs:
        part = need.part
        if isinstance(part, Pots) and part.is_joined and zone.keeps_level:
            yield _judged(PlanterChain(zone, part, need))


def _judged(chain: PlanterChain) -> FloatChain:
    peak = chain.peak_draw
    return FloatChain(
        chain,
        chain.levels(chain.mean_draw, 0.0),
        chain.levels(peak, 0.0),
        chain.levels(peak, BLOCKED),
        chain.carries(peak, 0.0) if peak > 0 else planters.MOST_PLANTERS,
        chain.carries(peak, BLOCKED) if peak > 0 else planters.MOST_PLANTERS,
    )


LAW = (
    "Float valve k·√H, shut in a straight line; tubes: Darcy–Weisbach with K = 1.5, water of 20 °C"
)


def _figures(found: FloatChain) -> Iterator[Figure]:
    chain, pots = found.chain, found.pots
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
    yield Figure(
        "All of them, in the peak hour",
        Amount(chain.peak_draw * pots.count, "flow"),
        Working(
            "planters × a hot day × share of the peak hour",
            draw,
            "Our own Need; peak share from memory",
        ),
    )
    yield from _level_figures(found, draw, tubes)
    yield Figure(
        "One float carries" if chain.is_trough else "One float carries, with clean tubes",
        Amount(found.carries, "plain"),
        Working(
            "most planters of this thirst of which none is under its foot in the peak hour",
            draw
            | tubes
            | {
                "with blocked tubes": Amount(found.carries_blocked, "plain"),
                "rule for tomatoes": Amount(RULES_OF_THUMB[0], "plain"),
                "rule for peppers": Amount(RULES_OF_THUMB[1], "plain"),
            },
            f"{LAW}; rules: common practice",
            (
                "The rules are what tubes half and more blocked carry, or of 4 to 6 mm: clean wide ones carry more.",
            ),
        ),
    )
    yield from _water_figures(chain)


def _level_figures(
    found: FloatChain, draw: dict[str, Amount], tubes: dict[str, Amount]
) -> Iterator[Figure]:
    clean, late = found.peak, found.blocked
    if found.mean.levels:
        yield Figure(
            "In the last one, a mean hour",
            Amount(max(found.mean.levels[-1], 0.0), "height"),
            Working(
                "level in the box − what every tube on the way takes",
                tubes | {"one draws in a mean hour": Amount(found.mean.draw, "flow")},
                LAW,
            ),
        )
    if clean.levels:
        yield Figure(
            "In the peak hour" if found.chain.is_trough else "In the last one, peak hour",
            Amount(max(clean.levels[-1], 0.0), "height"),
            Working(
                "level in the box − what every tube on the way takes",
                tubes | draw | {"level in the box": Amount(clean.box or 0.0, "height")},
                LAW,
                ("With the store nearly empty, as if the peak hour lasted.",),
            ),
        )
    lowest = found.day.box if found.chain.is_trough else found.day.levels[:, -1]
    yield Figure(
        "Lowest in a hot week",
        Amount(float(lowest.min()), "height"),
        Working(
            "what stands there + what comes − what is drunk, every hour",
            tubes
            | draw
            | {
                "open water under one": Amount(found.pots.under_m2, "area"),
                "drunk of what they ask that day": Amount(found.day.share, "share"),
            },
            f"{LAW}; implicit in time",
            (
                "The water under them is a buffer: it falls in the sun and comes back at night, as far as the tubes let it.",
            ),
        ),
    )
    if late.levels and not found.chain.is_trough:
        yield Figure(
            "The same, tubes three quarters blocked",
            Amount(max(late.levels[-1], 0.0), "height"),
            Working("bore × √(1 − blocked)", tubes | {"blocked": Amount(BLOCKED, "share")}, LAW),
        )


def _water_figures(chain: PlanterChain) -> Iterator[Figure]:
    """How fast the float refills them, and how long everything lasts without rain."""
    pots = chain.pots
    own = pots.under_m3 * pots.plants
    if chain.full > 0:
        yield Figure(
            "Empty, they are full again in",
            Amount(own / chain.full, "hours"),
            Working(
                "water under all of them ÷ what the valve gives wide open",
                {"under all": Amount(own, "volume"), "valve wide open": Amount(chain.full, "flow")},
                "Solved network, store nearly empty",
                (
                    "The valve closes by and by as the level comes up: the last finger takes longer.",
                ),
            ),
        )
    if (a_day := chain.thirstiest_day) > 0:
        yield Figure(
            "Store and planters last without rain",
            Amount.days((own + chain.stored) / a_day),
            Working(
                "(water over the tap of a full store + water under all of them) ÷ a day of the thirstiest month",
                {
                    "over the tap": Amount(chain.stored, "volume"),
                    "under all": Amount(own, "volume"),
                    "they drink a day": Amount(a_day, "volume"),
                    "of it the sun, from open water": Amount(chain.dries_a_day, "volume"),
                },
                "Mass balance; open water 1.05 ET0 (FAO-56 table 12)",
                ("What else the store waters comes off that.",),
            ),
        )


def _verdict(found: FloatChain) -> Verdict:
    chain, pots, clean, late = found.chain, found.pots, found.peak, found.blocked
    if clean.box is None:
        summary = say(
            "push-float-does-not-suffice",
            "The float valve of “{pots}” does not give what they drink in the peak hour, {draw}, when the store is "
            "nearly empty.",
            pots=pots.name,
            draw=Amount(chain.peak_draw * pots.count, "flow"),
        )
        return Verdict(_mark(found), summary, (_buffered(found),))
    if clean.starved:
        summary = say(
            "push-chain-starves",
            "The chain of “{pots}” is too long or too thirsty: planters from number {first} on get less than they "
            "drink in the peak hour of a hot day.",
            pots=pots.name,
            first=clean.starved[0],
        )
        return Verdict(_mark(found), summary, (_buffered(found),))
    if chain.is_trough:
        return Verdict(
            Mark.WORKS,
            say(
                "push-trough-works",
                "One float keeps “{pots}” full: {count} of {most} that it would carry.",
                pots=pots.name,
                count=pots.count,
                most=found.carries,
            ),
        )
    works = say(
        "push-chain-works",
        "One float carries all {count} of “{pots}”: with clean tubes it would carry {carries}.",
        count=pots.count,
        pots=pots.name,
        carries=found.carries,
    )
    if not late.serves:
        reason = say(
            "push-chain-late",
            "With tubes three quarters blocked by roots it carries {carries}: rinse them at the season's end, and "
            "when the last ones droop.",
            carries=found.carries_blocked,
        )
        return Verdict(Mark.BUT, works, (reason,))
    return Verdict(Mark.WORKS, works, (_compared(found.carries_blocked),))


def _mark(found: FloatChain) -> Mark:
    """Short for an hour is no failure while the water under them carries them over a hot week."""
    return Mark.BUT if _is_carried(found) else Mark.FAILS


def _is_carried(found: FloatChain) -> bool:
    return found.day.share > 1 - ALL_BUT


def _buffered(found: FloatChain) -> Sentence:
    """What the water under them makes of it."""
    if _is_carried(found):
        return say(
            "push-chain-buffer-carries",
            "The water under them carries them over a week of such days all the same.",
        )
    return say(
        "push-chain-buffer-short",
        "In a week of such days all together miss {short} of their water, whatever stands under them.",
        short=Amount(1 - found.day.share, "share"),
    )


def _compared(carries: int) -> Sentence:
    return say(
        "push-chain-compared",
        "Even with tubes three quarters blocked it carries {carries}; the common rule is {tomatoes} tomatoes or "
        "{peppers} peppers on one float.",
        carries=carries,
        tomatoes=RULES_OF_THUMB[0],
        peppers=RULES_OF_THUMB[1],
    )
