"""Whether wick and mix lift the water that stands under a planter to where its plants drink."""

from collections.abc import Iterator
from dataclasses import dataclass

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.garden import catalogue, plumbing
from euhydra.garden.catalogue import SoilTexture
from euhydra.garden.model import Garden
from euhydra.garden.pots import Pots
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Figure, Mark, Verdict, Working
from euhydra.planner.need.daily import Need
from euhydra.planner.need.rising import HIGHEST, TOP_MAY_DRY, Rise

LAW = "Steady flow up from a water table, q = Ks ÷ (e^(α L) − 1): Gardner (1958), from memory"

MIXES = ("potting-mix", "coir-mix", "compost-mix", "gritty-mix", "loam")
"""Fillings whose lift is told side by side."""

SOIL_SEALS = ("loam",)
"""Fillings told only to be warned of: field soil slumps and seals. Common practice."""


@dataclass(frozen=True)
class MixLift:
    """A filling, how high it lifts what these plants drink, and whether that is to the top. [m]

    seals : Whether it slumps and seals in a pot, however well it lifts.
    """

    mix: SoilTexture
    height: float
    is_enough: bool
    seals: bool

    @property
    def told(self) -> Amount:
        """That height."""
        return Amount(self.height, "height")


@dataclass(frozen=True)
class Lifting:
    """How water rises in planters that stand in water or over it."""

    figures: tuple[Figure, ...]
    mixes: tuple[MixLift, ...]
    verdict: Verdict


def lifting_of(need: Need, garden: Garden) -> Lifting | None:
    """Of what drinks from below on a hot day; None of what does not."""
    pots = need.part
    if not isinstance(pots, Pots) or pots.is_in_ground or not drinks_from_below(garden, pots):
        return None
    rise = Rise(pots, need.hot_day_litres / LITRES_PER_CUBIC_METRE / max(pots.plants, 1))
    return Lifting(tuple(_figures(rise)), tuple(_mixes(rise)), _verdict(rise))


def drinks_from_below(garden: Garden, pots: Pots) -> bool:
    """Whether water stands under them: their own, or what a float keeps."""
    if pots.reserve_m3 > 0 or pots.is_joined:
        return True
    drippers = plumbing.drippers()
    fed = (pipe.dripper for pipe in garden.pipes if pipe.waters == pots.id)
    return any(kind is not None and drippers[kind].keeps_level for kind in fed)


def _mixes(rise: Rise) -> Iterator[MixLift]:
    """Fillings side by side, its own first."""
    for name in dict.fromkeys((rise.mix.id, *MIXES)):
        mix = catalogue.find(catalogue.soils(), name)
        yield MixLift(mix, rise.height(mix), rise.is_enough(mix), name in SOIL_SEALS)


def _figures(rise: Rise) -> Iterator[Figure]:
    pots, mix = rise.pots, rise.mix
    hot = {"one drinks on a hot day": Amount(rise.drinks, "volume")}
    yield Figure(
        f"{mix.name} lifts that",
        Amount(rise.height(mix), "height"),
        Working(
            "L = ln(1 + Ks ÷ q) ÷ α, where q = a hot day ÷ width of the pot",
            hot
            | {
                "width of one": Amount(pots.across_m, "height"),
                "Ks": Amount(mix.lift.conductivity, "intake"),
                "α, a metre": Amount(mix.lift.alpha, "plain"),
            },
            LAW,
            (
                f"At most {HIGHEST:g} m is told. Fresh, evenly filled mix; it settles and lifts less with the years.",
            ),
        ),
    )
    yield Figure(
        "The mix stands over its water",
        Amount(pots.over_the_water_m, "height"),
        Working(
            "as typed, or as deep as the mix",
            {"width of one": Amount(pots.across_m, "height")},
            "Your measure",
        ),
    )
    yield Figure(
        "Its wick brings a day",
        Amount(rise.wick_gives, "volume"),
        Working(
            "q × the wick's own section, from its foot up to the mix",
            {
                "wick, across": Amount(pots.wick_across_m, "height"),
                "from its foot to the mix": Amount(pots.wick_m, "height"),
                "Ks": Amount(rise.wick_lift.conductivity, "intake"),
                "α, a metre": Amount(rise.wick_lift.alpha, "plain"),
            },
            LAW,
            ("The water stands just at its foot, the hardest case.",),
        ),
    )


def _verdict(rise: Rise) -> Verdict:
    pots, mix = rise.pots, rise.mix
    if rise.wick_short > 0:
        return Verdict(
            Mark.BUT,
            say(
                "need-wick-too-thin",
                "The wick of “{pots}” is too thin: it brings {share} less than one drinks on a hot day. {across} "
                "across would do.",
                pots=pots.name,
                share=Amount(rise.wick_short, "share"),
                across=Amount(rise.widest, "height"),
            ),
        )
    if rise.is_enough(mix):
        return Verdict(
            Mark.WORKS,
            say(
                "need-mix-lifts",
                "Its mix lifts a hot day's water {height}: plants drink from below all season.",
                height=Amount(rise.height(mix), "height"),
            ),
        )
    return Verdict(
        Mark.BUT,
        say(
            "need-mix-too-tall",
            "“{pots}” stand too tall over their water: {mix} lifts a hot day's water {height}, and {dry} at the top "
            "stay dry. {cure}",
            pots=pots.name,
            mix=mix.name,
            height=Amount(rise.height(mix), "height"),
            dry=Amount(pots.over_the_water_m - rise.height(mix), "height"),
            cure=_cure(rise),
        ),
    )


def _cure(rise: Rise) -> Sentence:
    """A filling that lifts to the top, or less mix over the water."""
    better = [found for found in _mixes(rise) if found.is_enough and found.mix.id in MIXES[:2]]
    if better:
        return say(
            "need-other-mix",
            "{mix} would lift it to the top.",
            mix=max(better, key=_height).mix.name,
        )
    return say(
        "need-less-mix",
        "Let no more than {height} of mix stand over the water, or water young plants from above.",
        height=Amount(rise.height(rise.mix) + TOP_MAY_DRY, "height"),
    )


def _height(found: MixLift) -> float:
    return found.height
