"""The whole chain, roof to timer, for one garden and one weather record."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

from euhydra.core.weather import DailyWeather
from euhydra.garden.beds import Bed
from euhydra.garden.model import Garden
from euhydra.planner import catch, laid, need, pushing, seasons, storing, timing, zones, zoning
from euhydra.planner.answers import PlanError
from euhydra.planner.catch import CatchAnswer
from euhydra.planner.laid import LayAnswer
from euhydra.planner.need import Need
from euhydra.planner.pushing import PushAnswer
from euhydra.planner.seasons import Way
from euhydra.planner.storing import StoreAnswer
from euhydra.planner.timing import TimeAnswer
from euhydra.planner.zones import Zone
from euhydra.planner.zoning import Proposal


@dataclass(frozen=True)
class Gap:
    """A station that cannot answer yet, and what it waits for."""

    message: str


@dataclass(frozen=True)
class ZoneChain:
    """How the water is pushed through one zone, and what its timer is set to."""

    zone: Zone
    push: PushAnswer | Gap
    time: TimeAnswer | Gap


@dataclass(frozen=True)
class BedChain:
    """What one bed needs, and the zone that waters it first."""

    bed: Bed
    need: Need | Gap
    push: PushAnswer | Gap
    time: TimeAnswer | Gap


@dataclass(frozen=True)
class Chain:
    """Every station's answer, or what it waits for."""

    garden: Garden
    record: DailyWeather | None
    catch: CatchAnswer | Gap
    store: StoreAnswer | Gap
    beds: tuple[BedChain, ...]
    zones: tuple[ZoneChain, ...]

    @cached_property
    def lay(self) -> LayAnswer:
        """What each plant gets from the lines as they are drawn."""
        return laid.answer_lay(self.garden)

    @cached_property
    def proposal(self) -> Proposal:
        """What may be opened together."""
        return zoning.propose(self.garden)

    def zone(self, at: str = "") -> ZoneChain | Gap:
        """The zone called so, or the first that waters what is called so, or the first of all."""
        for zone in self.zones:
            if at in ("", zone.zone.id) or any(part.id == at for part in zone.zone.watered):
                return zone
        loose = next((b for b in self.beds if at in ("", b.bed.id)), None)
        if loose is None:
            return self.zones[0] if self.zones else NO_BED
        return Gap(zones.no_water(loose.bed.name))

    def bed(self, bed_id: str | None = None) -> BedChain | Gap:
        """The bed called so, or the first."""
        if not self.beds:
            return NO_BED
        return next((b for b in self.beds if b.bed.id == bed_id), self.beds[0])


NO_WEATHER = Gap("There is no weather yet: type the usual months, or bring a daily file.")
NO_BED = Gap("There is no bed yet: add one.")


def run_chain(garden: Garden, record: DailyWeather | None) -> Chain:
    """Answer every station that has what it needs; the others say what they wait for."""
    needs = {
        bed.id: NO_WEATHER if record is None else need.need_of(bed, garden.place, record)
        for bed in garden.beds
    }
    found = tuple(_zone(zone, needs) for zone in zones.zones_of(garden))
    beds = tuple(_bed(bed, needs[bed.id], found) for bed in garden.beds)
    if record is None:
        return Chain(garden, None, NO_WEATHER, NO_WEATHER, beds, found)
    return Chain(
        garden, record, _catch(garden, record, beds), _store(garden, record, beds), beds, found
    )


def _zone(zone: Zone, needs: Mapping[str, Need | Gap]) -> ZoneChain:
    known = [n for bed in zone.beds if isinstance(n := needs[bed.id], Need)]
    push: PushAnswer | Gap
    try:
        push = pushing.answer_push(zone, known)
    except PlanError as error:
        push = Gap(str(error))
    if isinstance(push, Gap):
        return ZoneChain(zone, push, push)
    if zone.beds and not known:
        return ZoneChain(zone, push, NO_WEATHER)
    try:
        return ZoneChain(zone, push, timing.answer_time(zone, push.curve, push.usual.state, known))
    except PlanError as error:
        return ZoneChain(zone, push, Gap(str(error)))


def _bed(bed: Bed, wanted: Need | Gap, found: tuple[ZoneChain, ...]) -> BedChain:
    """The bed on the first zone that waters it, in the order of its sources."""
    order = {source: i for i, source in enumerate(bed.sources)}
    own = [z for z in found if any(part.id == bed.id for part in z.zone.watered)]
    own.sort(key=lambda z: order.get(z.zone.source.id, len(order)))
    if not own:
        gap = Gap(zones.no_water(bed.name))
        return BedChain(bed, wanted, gap, gap)
    return BedChain(bed, wanted, own[0].push, own[0].time)


def _catch(garden: Garden, record: DailyWeather, beds: tuple[BedChain, ...]) -> CatchAnswer | Gap:
    needs = [b.need for b in beds if isinstance(b.need, Need)]
    try:
        return catch.answer_catch(garden, record, needs)
    except PlanError as error:
        return Gap(str(error))


def ways_of(beds: tuple[BedChain, ...]) -> tuple[Way, ...]:
    """The beds so far as they are connected."""
    return tuple(
        Way(
            b.need,
            b.push if isinstance(b.push, PushAnswer) else None,
            b.time if isinstance(b.time, TimeAnswer) else None,
        )
        for b in beds
        if isinstance(b.need, Need)
    )


def _store(garden: Garden, record: DailyWeather, beds: tuple[BedChain, ...]) -> StoreAnswer | Gap:
    if not beds:
        return NO_BED
    try:
        season = seasons.replay(garden, record, ways_of(beds))
    except PlanError as error:
        return Gap(str(error))
    if not any(order.sources for order in season.orders):
        push = beds[0].push
        return push if isinstance(push, Gap) else Gap("No bed takes water from a store yet.")
    return storing.answer_store(season)
