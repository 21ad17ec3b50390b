"""Which water a bed takes, in which order, and why."""

from dataclasses import dataclass

from euhydra.garden import catalogue, plantings
from euhydra.garden.catalogue import CropKind, GreywaterRule
from euhydra.garden.drinker import Drinker
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.sources import Greywater, Tap, TapKind
from euhydra.garden.stores import Store
from euhydra.planner.catch import washing_week
from euhydra.planner.same import GARDENS_KEPT, Asked, by_itself, kept
from euhydra.planner.water import zones

CHOSEN = "Your own order."
WARM = "It likes warm water: stored water first, the cold tap last (common practice)."
COLD = "Cold water does it no harm: the well first, so that stored water is kept for others (common practice)."
STORED = "Stored water first, the tap last."
ONE = "One line leads to it."
AT_ONCE = "Greywater comes before all, since it must not be kept."
HELPED = "What is lacking then comes by hand."
BY_HAND = "By hand, every so many days."
NOTHING = "Nothing waters it: no line leads to it, and nobody waters it by hand."


@dataclass(frozen=True)
class SourceOrder:
    """The sources of a bed or pots, first choice first; the reason; and what they may not have.

    sources : Those that a line leads from, greywater before them.
    hand : What somebody waters from by hand: after all of these, or deep on some days before them.
    unjoined : What the bed names as a source though no line leads from there.
    """

    part: Drinker
    sources: tuple[Part, ...]
    hand: Store | Tap | None
    reason: str
    refused: tuple[tuple[Greywater, GreywaterRule], ...]
    unjoined: tuple[Part, ...] = ()

    @property
    def all(self) -> tuple[Part, ...]:
        """Its sources, and what it has by hand: last, or first where that is a deep watering on some days."""
        if self.hand is None:
            return self.sources
        return (self.hand, *self.sources) if self.is_deep else (*self.sources, self.hand)

    @property
    def is_deep(self) -> bool:
        """Whether the hand gives a deep watering on some days, whatever the line gave."""
        return self.is_helped and self.part.deep_m3 is not None

    @property
    def hand_at(self) -> int | None:
        """Place of the hand among all of them."""
        if self.hand is None:
            return None
        return 0 if self.is_deep else len(self.sources)

    @property
    def is_helped(self) -> bool:
        """Whether somebody helps out by hand beside something that waters it by itself."""
        return self.hand is not None and bool(self.sources)

    @property
    def is_by_hand(self) -> bool:
        """Whether a hand waters it, beside nothing but washing water."""
        has_lines = any(not isinstance(source, Greywater) for source in self.sources)
        return self.hand is not None and not has_lines

    @property
    def is_washed_only(self) -> bool:
        """Whether washing water is all that it gets."""
        has_others = any(not isinstance(source, Greywater) for source in self.all)
        return self.is_watered and not has_others

    @property
    def is_watered(self) -> bool:
        """Whether it gets water from anything."""
        return bool(self.all)


def order_of(garden: Garden, part: Drinker) -> SourceOrder:
    """The part's own order of what is joined to it, or that which suits its crops."""
    known = _known_orders(by_itself(garden))
    if part not in known:
        known[part] = _order_of(garden, part)
    return known[part]


@kept(GARDENS_KEPT)
def _known_orders(same: Asked[Garden]) -> dict[Drinker, SourceOrder]:
    """Those of a garden that were asked for so far: every station asks for those of all beds."""
    return {}


def _order_of(garden: Garden, part: Drinker) -> SourceOrder:
    rule = greywater_rule(garden, part)
    led = [grey for grey in garden.greywaters if part in washing_week.led_to(garden, grey)]
    refused = () if rule.is_allowed else tuple((grey, rule) for grey in led)
    greywaters = led if rule.is_allowed else []
    piped = {zone.source.id for zone in zones.zones_to(garden, part.id)}
    lasting: tuple[Store | Tap, ...] = (*garden.stores, *garden.taps)
    joined = [source for source in lasting if source.id in piped]
    hand = next((source for source in lasting if source.id == part.hand_from), None)
    known: dict[str, Part] = {p.id: p for p in (*joined, *greywaters)}
    chosen = tuple(known[source] for source in part.sources if source in known)
    loose = tuple(s for s in lasting if s.id in part.sources and s.id not in piped)
    if chosen:
        return SourceOrder(part, chosen, hand, _reason(CHOSEN, [], joined, hand), refused, loose)
    likes_it_warm = any(crop.likes_it_warm for crop in _crops_in(garden, part))
    found = tuple(_by_liking(joined, likes_it_warm))
    is_well_first = bool(found) and isinstance(found[0], Tap) and found[0].kind is TapKind.WELL
    liking = WARM if likes_it_warm else COLD if is_well_first else STORED
    why = liking if len(found) > 1 else ONE if found else ""
    reason = _reason(why, greywaters, joined, hand)
    return SourceOrder(part, (*greywaters, *found), hand, reason, refused, loose)


def _by_liking(joined: list[Store | Tap], likes_it_warm: bool) -> list[Store | Tap]:
    stores: list[Store | Tap] = [source for source in joined if isinstance(source, Store)]
    taps = [source for source in joined if isinstance(source, Tap)]
    wells = [tap for tap in taps if tap.kind is TapKind.WELL]
    mains = [tap for tap in taps if tap.kind is TapKind.MAINS]
    return [*stores, *wells, *mains] if likes_it_warm else [*wells, *stores, *mains]


def _reason(
    why: str, greywaters: list[Greywater], joined: list[Store | Tap], hand: Store | Tap | None
) -> str:
    parts = [why, AT_ONCE if greywaters else ""]
    if hand:
        parts.append(HELPED if joined or greywaters else BY_HAND)
    return " ".join(filter(None, parts)) or NOTHING


def greywater_rule(garden: Garden, part: Drinker) -> GreywaterRule:
    """Whether everything that grows there may take greywater; what forbids it comes first."""
    rules = [
        catalogue.find(catalogue.greywater_rules(), crop.eaten) for crop in _crops_in(garden, part)
    ]
    return next((rule for rule in rules if not rule.is_allowed), rules[0])


def _crops_in(garden: Garden, part: Drinker) -> list[CropKind]:
    others = [p.crop for p in garden.plantings if p.bed_id == part.id]
    return [plantings.find_crop(garden.own_crops, crop) for crop in (part.crop, *others)]
