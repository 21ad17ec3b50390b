"""Whether wick and mix lift the water that stands under a planter to where its plants drink."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import isinf, pi

from euhydra.core.constants import LITRES_PER_CUBIC_METRE, SECONDS_PER_DAY
from euhydra.core.wicking import Lift
from euhydra.garden import catalogue, plumbing
from euhydra.garden.catalogue import SoilTexture
from euhydra.garden.model import Garden
from euhydra.garden.pots import Pots
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Figure, Mark, Verdict, Working
from euhydra.planner.need.daily import Need

LAW = "Steady flow up from a water table, q = Ks ÷ (e^(α L) − 1): Gardner (1958), from memory"

MIXES = ("potting-mix", "coir-mix", "compost-mix", "gritty-mix", "loam")
"""Fillings whose lift is told side by side."""

TOP_MAY_DRY = 0.05
"""Top of the mix that may stay dry while roots drink under it. [m] Common practice: a mulch."""

SOIL_SEALS = ("loam",)
"""Fillings told only to be warned of: field soil slumps and seals. Common practice."""

HIGHEST = 0.6
"""Lift above which no more is told. [m] No planter is that deep."""


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
    rise = _Rise(pots, need.hot_day_litres / LITRES_PER_CUBIC_METRE / max(pots.plants, 1))
    return Lifting(tuple(_figures(rise)), tuple(rise.mixes()), _verdict(rise))


def drinks_from_below(garden: Garden, pots: Pots) -> bool:
    """Whether water stands under them: their own, or what a float keeps."""
    if pots.reserve_m3 > 0 or pots.is_joined:
        return True
    drippers = plumbing.drippers()
    fed = (pipe.dripper for pipe in garden.pipes if pipe.waters == pots.id)
    return any(kind is not None and drippers[kind].keeps_level for kind in fed)


@dataclass(frozen=True)
class _Rise:
    """Planters alike, of which one drinks so much on a hot day. [m³ d⁻¹]"""

    pots: Pots
    drinks: float

    @property
    def flow(self) -> float:
        """Through the whole width of one, day and night: the mix holds what the sun asks at noon. [m s⁻¹]"""
        return self.drinks / SECONDS_PER_DAY / self.pots.plan_m2

    @property
    def mix(self) -> SoilTexture:
        return self.pots.ground

    def height(self, mix: SoilTexture) -> float:
        """How high a filling lifts it. [m]"""
        found = mix.lift.greatest(self.flow)
        return HIGHEST if isinf(found) else min(found, HIGHEST)

    def is_enough(self, mix: SoilTexture) -> bool:
        return self.height(mix) + TOP_MAY_DRY >= self.pots.over_the_water_m

    def mixes(self) -> Iterator[MixLift]:
        for name in dict.fromkeys((self.mix.id, *MIXES)):
            mix = catalogue.find(catalogue.soils(), name)
            yield MixLift(mix, self.height(mix), self.is_enough(mix), name in SOIL_SEALS)

    @property
    def wick_lift(self) -> Lift:
        return catalogue.find(catalogue.wick_kinds(), self.pots.wick).lift or self.mix.lift

    @property
    def wick_area(self) -> float:
        """[m²]"""
        return pi / 4 * self.pots.wick_across_m**2

    @property
    def wick_gives(self) -> float:
        """Through the wick's own width, its foot just in the water. [m³ d⁻¹]"""
        return self.wick_lift.flow(self.pots.wick_m) * self.wick_area * SECONDS_PER_DAY

    @property
    def wick_short(self) -> float:
        """Share of a hot day that the wick does not bring. [-]"""
        return max(0.0, 1 - self.wick_gives / self.drinks) if self.drinks > 0 else 0.0

    @property
    def widest(self) -> float:
        """Width of wick that just brings it. [m]"""
        return float(self.pots.wick_across_m * (self.drinks / self.wick_gives) ** 0.5)


def _figures(rise: _Rise) -> Iterator[Figure]:
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


def _verdict(rise: _Rise) -> Verdict:
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


def _cure(rise: _Rise) -> Sentence:
    """A filling that lifts to the top, or less mix over the water."""
    better = [found for found in rise.mixes() if found.is_enough and found.mix.id in MIXES[:2]]
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
