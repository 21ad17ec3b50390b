"""How planters that water themselves are built: trough or float box, tubes, wicks, first filling."""

from euhydra.garden.pots import KeptBy, Pots
from euhydra.garden.sentences import Amount, Sentence, counted, say, words
from euhydra.planner.steps.step import Step

WATER_KG = 1000.0
"""Of a cubic metre of water. [kg m⁻³] Near enough for planks."""

OVER_LEVEL = 0.03
"""Overflow hole over the level at which the float shuts. [m] Common practice: a finger and a half."""

POSTS_APART = 0.9
"""Most between the posts under a trough. [m] Common practice: planks bend."""

VALVE_HOLE = 0.021
"""Hole for the thread of a small float valve. [m] Common practice: half-inch thread."""

GROMMET = 0.007
"""By so much the hole of a tube's grommet is wider than the tube inside. [m] A guess: wall and rubber."""

DRAIN_HOLE = 0.008
"""Holes in a floor through which mix stands in the water. [m] Common practice."""

START = say(
    "steps-chain-start",
    "Fill it, look for drips for ten minutes, and see that the float shuts. Then water the mix once from above, so that "
    "the wick begins to draw; from then on only if salts show on it.",
)


def of_planters(pots: Pots) -> Step:
    """The trough that they stand in, or the float box and the tubes that join them."""
    return _trough(pots) if pots.kept_by is KeptBy.TROUGH else _chain(pots)


def _trough(pots: Pots) -> Step:
    litres_a_metre = pots.trough_m3 / pots.trough_m
    return Step(
        f"trough-{pots.id}",
        f"Trough of “{pots.name}”",
        (
            say(
                "steps-trough-planks",
                "Lay {length} of gutter level on two planks, on posts no more than {apart} apart: full, {apart} of it weigh "
                "{mass}, and the planters beside. Plastic or coated steel: bare aluminium does not seal.",
                length=Amount(pots.trough_m, "length"),
                apart=Amount(POSTS_APART, "length"),
                mass=Amount(litres_a_metre * POSTS_APART * WATER_KG, "mass"),
            ),
            say(
                "steps-trough-ends",
                "Seal its ends; an overflow hole {over} over its floor, a finger under the rim, and fine mesh over it; a "
                "lid with holes for the planters, against sun, children and mosquitoes.",
                over=Amount(pots.set_level_m + OVER_LEVEL, "tape"),
            ),
            say(
                "steps-trough-float",
                "At the end where the hose comes a hole of {hole} for the float valve, or as wide as its thread is: screw it "
                "in so that it shuts at {level}.",
                hole=Amount(VALVE_HOLE, "bore"),
                level=Amount(pots.set_level_m, "tape"),
            ),
            _wick(pots),
            START,
        ),
        "drill, hole saw, sealant, level, saw",
        60.0 + 10 * pots.count,
        (pots.id,),
        ("drilling", "lids", "weight"),
        ("planters", "outlets"),
    )


def _chain(pots: Pots) -> Step:
    return Step(
        f"chain-{pots.id}",
        f"Float box and planters of “{pots.name}”",
        (
            say(
                "steps-chain-floor",
                "Set box and {planters} on one floor, level from end to end, {joint} of tube from each to the next.",
                planters=counted(pots.count, "planter"),
                joint=Amount(pots.joint_m, "tape"),
            ),
            say(
                "steps-chain-holes",
                "In each wall between them, low down, a hole of {hole} for the grommet of a tube {bore} wide inside (measure "
                "yours); in each planter an overflow hole {over} over its floor.",
                hole=Amount(pots.joint_bore_m + GROMMET, "bore"),
                bore=Amount(pots.joint_bore_m, "bore"),
                over=Amount(pots.set_level_m + OVER_LEVEL, "tape"),
            ),
            _wick(pots),
            say(
                "steps-chain-float",
                "A hole of {hole} in the box for the float valve, or as wide as its thread is: screw it in so that it shuts at "
                "{level}; lid and fine mesh over box and overflows.",
                hole=Amount(VALVE_HOLE, "bore"),
                level=Amount(pots.set_level_m, "tape"),
            ),
            START,
        ),
        "drill, hole saw, file, level",
        45.0 + 15 * pots.count,
        (pots.id,),
        ("drilling", "lids"),
        ("planters", "outlets"),
    )


def _wick(pots: Pots) -> Sentence:
    """What brings the water to the mix, and how it is set in."""
    foot = Amount(pots.foot_m, "tape")
    across = Amount(pots.wick_across_m, "bore")
    match pots.wick:
        case "fabric":
            return say(
                "steps-wick-of-fabric",
                "Wash the cloth; draw strips that are {across} across together through the floor of each planter, their ends "
                "{foot} over the bottom of the water. Fill with potting mix, never with garden soil, which seals.",
                across=across,
                foot=foot,
            )
        case "open-floor":
            return say(
                "steps-wick-open-floor",
                "Drill the floor of each planter full of holes of {hole}, and let it stand {foot} over the bottom of the "
                "water. Fill with potting mix, never with garden soil, which seals.",
                hole=Amount(DRAIN_HOLE, "bore"),
                foot=foot,
            )
    return say(
        "steps-wick-net-pot",
        "Cut a hole of {across} in the floor of each planter and hang the {wick} in it, its foot {foot} over the bottom of "
        "the water. Press it full of potting mix, then fill the planter; never with garden soil, which seals.",
        wick=words("insert" if pots.wick == "insert" else "net pot"),
        across=across,
        foot=foot,
    )
