"""Which water a bed takes, in which order, and why."""

from dataclasses import dataclass

from euhydra.garden import catalogue, plantings
from euhydra.garden.catalogue import CropKind, GreywaterRule
from euhydra.garden.drinker import Drinker
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.sources import Greywater, Tap, TapKind
from euhydra.garden.stores import Store
from euhydra.planner.water import zones

CHOSEN = "Your own order."
WARM = "It likes warm water: stored water first, the cold tap last (common practice)."
COLD = "Cold water does it no harm: the well first, so that stored water is kept for others (common practice)."
STORED = "Stored water first, the tap last."
AT_ONCE = " Greywater comes before all, since it must not be kept."


@dataclass(frozen=True)
class SourceOrder:
    """The sources of a bed or pots, first choice first; the reason; and what they may not have."""

    part: Drinker
    sources: tuple[Part, ...]
    reason: str
    refused: tuple[tuple[Greywater, GreywaterRule], ...]


def order_of(garden: Garden, part: Drinker) -> SourceOrder:
    """The part's own order, or that which suits its crops."""
    rule = greywater_rule(garden, part)
    led = [grey for grey in garden.greywaters if grey.bed_id == part.id]
    refused = () if rule.is_allowed else tuple((grey, rule) for grey in led)
    greywaters = led if rule.is_allowed else []
    if part.sources:
        known: dict[str, Part] = {p.id: p for p in (*garden.stores, *garden.taps, *greywaters)}
        chosen = tuple(known[source] for source in part.sources if source in known)
        return SourceOrder(part, chosen, CHOSEN, refused)
    piped = {zone.source.id for zone in zones.zones_to(garden, part.id)}
    stores: list[Store] = [s for s in garden.stores if s.id in piped]
    wells = [tap for tap in garden.taps if tap.kind is TapKind.WELL]
    mains = [tap for tap in garden.taps if tap.kind is TapKind.MAINS]
    likes_it_warm = any(crop.likes_it_warm for crop in _crops_in(garden, part))
    dry: list[Store | Tap] = (
        [*stores, *wells, *mains] if likes_it_warm else [*wells, *stores, *mains]
    )
    reason = WARM if likes_it_warm else COLD if wells else STORED
    if greywaters:
        reason += AT_ONCE
    return SourceOrder(part, (*greywaters, *dry), reason, refused)


def greywater_rule(garden: Garden, part: Drinker) -> GreywaterRule:
    """Whether everything that grows there may take greywater; what forbids it comes first."""
    rules = [
        catalogue.find(catalogue.greywater_rules(), crop.eaten) for crop in _crops_in(garden, part)
    ]
    return next((rule for rule in rules if not rule.is_allowed), rules[0])


def _crops_in(garden: Garden, part: Drinker) -> list[CropKind]:
    others = [p.crop for p in garden.plantings if p.bed_id == part.id]
    return [plantings.find_crop(garden.own_crops, crop) for crop in (part.crop, *others)]
