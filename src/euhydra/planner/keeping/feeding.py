"""Feed: what to measure out for a barrel, a reserve or an injector, and the flush after it."""

from dataclasses import dataclass
from math import pi

from euhydra.core import feeding
from euhydra.core.feeding import Dose
from euhydra.garden.grounds import Pots
from euhydra.garden.model import Garden
from euhydra.planner import piping, zones
from euhydra.planner.answers import Amount, Figure, Mark, PlanError, Sentence, Verdict, Working
from euhydra.planner.zones import Zone

MOST_STRENGTH = 0.05
"""Concentrate in water from which on roots burn with most feeds. [-] Common practice: 50 mL a litre."""

USUAL_RATIO = 100.0
"""Parts of water to one of stock of a garden injector. [-] Common practice."""

BY_THE_CAN = 0.001
"""Volume from which on nobody counts in cups. [m³]"""

FLUSH_TIMES = 3.0
"""So many times what the lines hold is run clear after feeding. [-] Common practice."""


@dataclass(frozen=True)
class FeedAnswer:
    """What to measure out.

    flush : Clear water to run after it, of the zones on that source.
    is_mains : Whether it would run through a line joined to drinking water.
    """

    way: str
    dose: Dose
    figure: Figure
    flush: Figure | None
    is_mains: bool
    verdict: Verdict


def answer_feed(
    garden: Garden, vessel_id: str, way: str, volume: float, strength: float, ratio: float
) -> FeedAnswer:
    """The dose.

    Parameters
    ----------
    vessel_id : A store or a tap, or a group of pots with reserves.
    way : `barrel`, `reserve` or `injector`.
    volume : Water to be fed with. [m³]
    strength : Concentrate in it. [-]
    ratio : Of the injector. [-]

    Raises
    ------
    PlanError : where it cannot be mixed so.
    """
    if strength > MOST_STRENGTH:
        raise PlanError(
            "That is stronger than any feed is used: read the label again, in mL for each litre."
        )
    if way == "injector":
        try:
            dose = feeding.by_injector(volume, strength, ratio)
        except ValueError:
            raise PlanError(
                "The injector would have to draw more than pure concentrate: choose a smaller ratio or a weaker feed."
            ) from None
    else:
        dose = feeding.into_water(volume, strength)
    is_mains = any(tap.id == vessel_id for tap in garden.taps)
    return FeedAnswer(
        way, dose, _figure(way, volume, strength, ratio, dose), _flush(garden, vessel_id), is_mains,
        _verdict(way, dose, is_mains),
    )  # fmt: skip


def _figure(way: str, volume: float, strength: float, ratio: float, dose: Dose) -> Figure:
    inputs = {
        "water": Amount(volume, "volume"), "strength, mL a litre": Amount(strength * 1000, "plain"),
    }  # fmt: skip
    if way == "injector":
        inputs |= {
            "parts of water to one of stock": Amount(ratio, "plain"),
            "water for the stock": _measured_out(dose.stock_water),
        }
    return Figure(
        "Concentrate", _measured_out(dose.concentrate),
        Working(
            "water × strength; for an injector the stock is water ÷ ratio, filled up with water",
            inputs, "Dilution: the label's strength", ("Half strength twice is safer than full strength once (common practice).",),
        ),
    )  # fmt: skip


def _verdict(way: str, dose: Dose, is_mains: bool) -> Verdict:
    into = {
        "barrel": "into the barrel",
        "reserve": "into the reserves, shared out evenly",
        "injector": "into the injector's bottle",
    }[way]
    template = f"{{dose}} of concentrate {into}"
    template += ", filled up with {water} of water." if dose.stock_water > 0 else ", and stir."
    summary = Sentence(
        template,
        {"dose": _measured_out(dose.concentrate), "water": _measured_out(dose.stock_water)},
    )
    if not is_mains:
        return Verdict(Mark.WORKS, summary)
    return Verdict(
        Mark.BUT, summary,
        (Sentence("This line is joined to drinking water: only behind the backflow device that your supplier names for chemicals; a plain one is not enough."),),
    )  # fmt: skip


def _measured_out(volume: float) -> Amount:
    """By the cup, or by the can where it is more than a litre."""
    return Amount(volume, "cupful" if volume < BY_THE_CAN else "volume")


def _flush(garden: Garden, vessel_id: str) -> Figure | None:
    """Clear water for every line on that source."""
    own = [
        z for z in zones.zones_of(garden)
        if vessel_id in _vessels_of(z)
    ]  # fmt: skip
    inside = sum(pi / 4 * piping.bore_of(p) ** 2 * p.lies_m for z in own for p in z.pipes)
    if inside <= 0:
        return None
    return Figure(
        "Clear water after it", Amount(FLUSH_TIMES * inside, "volume"),
        Working(
            "three times what the lines hold (common practice), so that no salt dries in an outlet",
            {"the lines hold": Amount(inside, "volume")}, "Sum of bore² × π/4 × length",
        ),
    )  # fmt: skip


def _vessels_of(zone: Zone) -> set[str]:
    """Whatever its water, or what it waters, is kept in."""
    stores = {store.id for store in zone.group.stores} if zone.group else set()
    return {zone.source.id, *stores, *(part.id for part in zone.watered)}


def vessels(garden: Garden) -> list[tuple[str, str, float]]:
    """Id, name and usual volume of what may be fed through. [m³]"""
    found = [(s.id, s.name, s.total_m3) for s in garden.stores]
    found += [(t.id, t.name, 0.1) for t in garden.taps]
    found += [(p.id, p.name, p.reserve_m3 * p.plants) for p in garden.pots if _has_reserve(p)]
    return found


def _has_reserve(pots: Pots) -> bool:
    return not pots.is_in_ground and pots.reserve_m3 > 0
