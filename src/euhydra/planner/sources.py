"""Which water a bed takes, in which order, and why."""

from dataclasses import dataclass

from euhydra.garden import catalogue
from euhydra.garden.beds import Bed
from euhydra.garden.catalogue import GreywaterRule
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.sources import Greywater, Tap, TapKind
from euhydra.garden.stores import Store
from euhydra.planner import zones

CHOSEN = "Your own order."
WARM = "It likes warm water: stored water first, the cold tap last (common practice)."
COLD = "Cold water does it no harm: the well first, so that stored water is kept for others (common practice)."
STORED = "Stored water first, the tap last."
AT_ONCE = " Greywater comes before all, since it must not be kept."


@dataclass(frozen=True)
class SourceOrder:
    """A bed's sources, first choice first; the reason; and what it may not have."""

    bed: Bed
    sources: tuple[Part, ...]
    reason: str
    refused: tuple[tuple[Greywater, GreywaterRule], ...]


def order_of(garden: Garden, bed: Bed) -> SourceOrder:
    """The bed's own order, or that which suits its crop."""
    rule = greywater_rule(bed)
    led = [grey for grey in garden.greywaters if grey.bed_id == bed.id]
    refused = () if rule.is_allowed else tuple((grey, rule) for grey in led)
    greywaters = led if rule.is_allowed else []
    if bed.sources:
        known: dict[str, Part] = {p.id: p for p in (*garden.stores, *garden.taps, *greywaters)}
        chosen = tuple(known[source] for source in bed.sources if source in known)
        return SourceOrder(bed, chosen, CHOSEN, refused)
    piped = {zone.source.id for zone in zones.zones_to(garden, bed.id)}
    stores: list[Store] = [s for s in garden.stores if s.id in piped]
    wells = [tap for tap in garden.taps if tap.kind is TapKind.WELL]
    mains = [tap for tap in garden.taps if tap.kind is TapKind.MAINS]
    likes_it_warm = catalogue.find(catalogue.crops(), bed.crop).likes_it_warm
    dry: list[Store | Tap] = (
        [*stores, *wells, *mains] if likes_it_warm else [*wells, *stores, *mains]
    )
    reason = WARM if likes_it_warm else COLD if wells else STORED
    if greywaters:
        reason += AT_ONCE
    return SourceOrder(bed, (*greywaters, *dry), reason, refused)


def greywater_rule(bed: Bed) -> GreywaterRule:
    """Whether the bed's crop may take greywater."""
    eaten = catalogue.find(catalogue.crops(), bed.crop).eaten
    return catalogue.find(catalogue.greywater_rules(), eaten)
