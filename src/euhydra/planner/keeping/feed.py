"""Feed: what to measure out for a barrel, a reserve or an injector, and the flush after it."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from math import pi
from types import MappingProxyType

from euhydra.core import feeding
from euhydra.core.feeding import Dose
from euhydra.garden import catalogue
from euhydra.garden.logbook import LogEntry
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.pipes import Pump
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.sources import Tap
from euhydra.garden.store_groups import Group, groups_of
from euhydra.planner.answers import Figure, Mark, PlanError, Verdict, Working
from euhydra.planner.dates import day_in_words
from euhydra.planner.keeping.hindcast import Hindcast
from euhydra.planner.water import laws, zones
from euhydra.planner.water.zones import Zone

NOTHING_KNOWN: Mapping[str, float] = MappingProxyType({})

MOST_STRENGTH = 0.05
"""Concentrate in water from which on roots burn with most feeds. [-] Common practice: 50 mL a litre."""

USUAL_RATIO = 100.0
"""Parts of water to one of stock of a garden injector. [-] Common practice."""

BY_THE_CAN = 0.01
"""Volume from which on nobody measures by the jug. [m³]"""

THROUGH_A_TAP = 0.1
"""Water that is fed with through an injector, where nothing is typed yet. [m³]"""

FLUSH_TIMES = 3.0
"""So many times what the lines hold is run clear after feeding. [-] Common practice."""


class FeedWay(StrEnum):
    """How feed gets into the water."""

    BARREL = "barrel"
    RESERVE = "reserve"
    INJECTOR = "injector"


@dataclass(frozen=True)
class FedWater:
    """What may be fed through, and how.

    name : What it is called: linked stores are one water.
    volume : Of its water, as it is filled now as far as that is known. [m³]
    dipped_on : Day of the last dip; None where none is known.
    is_reckoned : Whether the plan's sums say how full it is today, from that dip on if there is one.
    """

    part: Part
    way: FeedWay
    name: str
    volume: float
    dipped_on: date | None = None
    is_reckoned: bool = False

    @property
    def key(self) -> str:
        """Names it on the page."""
        return f"{self.way}:{self.part.id}"


@dataclass(frozen=True)
class FeedAnswer:
    """What to measure out.

    flush : Clear water to run after it, of the zones on that source.
    goes_to : What it may be written down for: the vessel itself, or what an injector waters.
    """

    way: FeedWay
    dose: Dose
    figure: Figure
    flush: Figure | None
    goes_to: tuple[Part, ...]
    verdict: Verdict

    @property
    def topped_with(self) -> Amount:
        """Water that fills an injector's bottle up."""
        return _measured_out(self.dose.stock_water)


def answer_feed(
    garden: Garden, vessel: FedWater, volume: float, strength: float, ratio: float
) -> FeedAnswer:
    """The dose.

    Parameters
    ----------
    volume : Water to be fed with. [m³]
    strength : Concentrate in it. [-]
    ratio : Of the injector. [-]

    Raises
    ------
    PlanError : where it cannot be mixed so.
    """
    if strength > MOST_STRENGTH:
        raise PlanError(
            say(
                "keeping-stronger-any-feed",
                "That is stronger than any feed is used: read the label again: how much for how much water.",
            )
        )
    if vessel.way is FeedWay.INJECTOR:
        try:
            dose = feeding.by_injector(volume, strength, ratio)
        except ValueError:
            raise PlanError(
                say(
                    "keeping-injector-draw-pure",
                    "The injector would have to draw more than pure concentrate: choose a smaller ratio or "
                    "a weaker feed.",
                )
            ) from None
    else:
        dose = feeding.into_water(volume, strength)
    own = [z for z in zones.zones_of(garden) if vessel.part.id in _vessels_of(z)]
    watered = {part.id: part for zone in own for part in zone.watered}
    goes_to = tuple(watered.values()) if vessel.way is FeedWay.INJECTOR else (vessel.part,)
    return FeedAnswer(
        vessel.way,
        dose,
        _figure(vessel.way, volume, strength, ratio, dose),
        _flush(own),
        goes_to,
        _verdict(vessel, dose),
    )


def _figure(way: FeedWay, volume: float, strength: float, ratio: float, dose: Dose) -> Figure:
    inputs = {
        "water": Amount(volume, "volume"),
        "strength": Amount(strength, "share"),
    }
    if way is FeedWay.INJECTOR:
        inputs |= {
            "parts of water to one of stock": Amount(ratio, "plain"),
            "water for the stock": _measured_out(dose.stock_water),
        }
    return Figure(
        "Concentrate",
        _measured_out(dose.concentrate),
        Working(
            "water × strength; for an injector the stock is water ÷ ratio, filled up with water",
            inputs,
            "Dilution: the label's strength",
            ("Half strength twice is safer than full strength once (common practice).",),
        ),
    )


def _verdict(vessel: FedWater, dose: Dose) -> Verdict:
    into = {
        FeedWay.BARREL: "into “{part}”",
        FeedWay.RESERVE: "into the reserves of “{part}”, shared out evenly",
        FeedWay.INJECTOR: "into the injector's bottle",
    }[vessel.way]
    then = ", filled up with {water} of water." if dose.stock_water > 0 else ", and stir."
    summary = say(
        "keeping-dose",
        "{dose} of concentrate " + into + then,
        part=vessel.name,
        dose=_measured_out(dose.concentrate),
        water=_measured_out(dose.stock_water),
    )
    if not isinstance(vessel.part, Tap):
        return Verdict(Mark.WORKS, summary, tuple(_cares(vessel, dose)))
    return Verdict(
        Mark.BUT,
        summary,
        (
            say(
                "keeping-line-joined-drinking",
                "This line is joined to drinking water: only behind the backflow device that your "
                "supplier names for chemicals; a plain one is not enough.",
            ),
        ),
    )


def _cares(vessel: FedWater, dose: Dose) -> Iterator[Sentence]:
    """Young plants burn, and feed that stands goes off."""
    yield say(
        "keeping-half-before-fruit",
        "Before the first fruit take half: {half}. The label rules (common practice).",
        half=_measured_out(dose.concentrate / 2),
    )
    if vessel.is_reckoned:
        yield say(
            "keeping-fed-as-reckoned",
            "About {volume} stand in it today, by the plan's sums{since}: look before you pour.",
            volume=Amount(vessel.volume, "volume"),
            since=f" since the dip of {day_in_words(vessel.dipped_on)}" if vessel.dipped_on else "",
        )
    elif vessel.dipped_on is not None:
        yield say(
            "keeping-fed-as-dipped",
            "For {volume}, as dipped on {day}.",
            volume=Amount(vessel.volume, "volume"),
            day=day_in_words(vessel.dipped_on),
        )
    if vessel.way is not FeedWay.INJECTOR:
        yield say(
            "keeping-feed-not-left-standing",
            "Use it up within some days: feed left standing turns green and smells, and no one may drink from it.",
        )


def _measured_out(volume: float) -> Amount:
    """By the jug, or by the can where it is more. [m³]"""
    return Amount(volume, "cupful" if volume < BY_THE_CAN else "volume")


def _flush(own: Sequence[Zone]) -> Figure | None:
    """Clear water for every line of some zones."""
    inside = sum(pi / 4 * laws.bore_of(p) ** 2 * p.lies_m for z in own for p in z.pipes)
    if inside <= 0:
        return None
    return Figure(
        "Clear water after it",
        Amount(FLUSH_TIMES * inside, "volume"),
        Working(
            "three times what the lines hold (common practice), so that no salt dries in an outlet",
            {"the lines hold": Amount(inside, "volume")},
            "Sum of bore² × π/4 × length",
        ),
    )


def _vessels_of(zone: Zone) -> set[str]:
    """Whatever its water, or what it waters, is kept in."""
    stores = {store.id for store in zone.group.stores} if zone.group else set()
    return {zone.source.id, *stores, *(part.id for part in zone.watered)}


def vessels(
    garden: Garden,
    log: Sequence[LogEntry] = (),
    told: Hindcast | None = None,
    water: Mapping[str, float] = NOTHING_KNOWN,
) -> list[FedWater]:
    """What may be fed through. An injector works by pressure: of a tap, or behind a pump.

    Parameters
    ----------
    log : Oldest first; the last dip says how much water there is.
    told : The plan under this year's weather up to today.
    water : In the stores of each level today, by the log: by what has come and gone since the last dip; by the id of
        their group. [m³]
    """
    known = water if told is not None and told.is_kept_up else NOTHING_KNOWN
    found = [
        _group_fed(group, log, known.get(group.id))
        for group in groups_of(garden.stores)
        if not _lives(garden, group)
    ]
    found += [
        FedWater(p, FeedWay.RESERVE, p.name, p.container.reserve_m3 * p.plants)
        for p in garden.planted
        if p.container and p.container.reserve_m3 > 0
    ]
    pumped = [z for z in zones.zones_of(garden) if any(isinstance(p, Pump) for p in z.way.parts)]
    pushed = {part.id: part for part in (*garden.taps, *(z.source for z in pumped))}
    found += [
        FedWater(part, FeedWay.INJECTOR, part.name, THROUGH_A_TAP) for part in pushed.values()
    ]
    return found


def _lives(garden: Garden, group: Group) -> bool:
    """Whether it is open water from which nothing is watered: feed would only turn a pond green."""
    drawn = zones.sources_in_use(garden) | {part.hand_from for part in garden.planted}
    kinds = catalogue.store_kinds()
    return all(
        catalogue.find(kinds, store.kind).is_open and store.id not in drawn
        for store in group.stores
    )


def _group_fed(group: Group, log: Sequence[LogEntry], known: float | None) -> FedWater:
    """Stores of one level as they are filled now: by the log, else by the last dip; else full."""
    stores = {store.id: store for store in group.stores}
    first = group.stores[0]
    dips = [e for e in log if e.kind == "dip" and e.part_id in stores and e.amounts[0] is not None]
    if not dips:
        now = group.capacity_m3 if known is None else known
        return FedWater(first, FeedWay.BARREL, group.name, now, is_reckoned=known is not None)
    last = max(dips, key=lambda entry: entry.at)
    if known is not None:
        return FedWater(first, FeedWay.BARREL, group.name, known, last.at.date(), is_reckoned=True)
    height = stores[last.part_id or ""].base_m + (last.amounts[0] or 0.0)
    volume = min(group.level.volume_at(height), group.capacity_m3)
    return FedWater(first, FeedWay.BARREL, group.name, volume, last.at.date())
