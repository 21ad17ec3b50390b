"""The whole chain, roof to timer, for one garden and one weather record."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from euhydra.core.weather import DailyWeather
from euhydra.garden.drinker import Drinker
from euhydra.garden.model import Garden
from euhydra.garden.sentences import Sentence, say
from euhydra.planner.answers import Gap, Mark, PlanError, Verdict
from euhydra.planner.catch.answer import CatchAnswer, answer_catch
from euhydra.planner.catch.order import order_of
from euhydra.planner.lay import proposed_zones
from euhydra.planner.lay.answer import LayAnswer, answer_lay
from euhydra.planner.lay.proposed_zones import Proposal
from euhydra.planner.need import daily
from euhydra.planner.need.daily import Need
from euhydra.planner.push.answer import PushAnswer, answer_push
from euhydra.planner.season import lived, replay, usual_levels
from euhydra.planner.season.replay import Season
from euhydra.planner.season.watering import Watered
from euhydra.planner.store.answer import StoreAnswer, answer_store
from euhydra.planner.time import choosing_years
from euhydra.planner.time.answer import TimeAnswer, answer_time
from euhydra.planner.time.programme import Programme
from euhydra.planner.water import solving, wetted_ground, zones
from euhydra.planner.water.zones import Zone


@dataclass(frozen=True)
class ZoneChain:
    """How the water is pushed through one zone, and what its timer is set to."""

    zone: Zone
    push: PushAnswer | Gap
    time: TimeAnswer | Gap

    @property
    def running(self) -> TimeAnswer | None:
        """What runs by its settings; None where nothing is set, or where it only stands by."""
        return self.time if isinstance(self.time, TimeAnswer) and not self.time.stands_by else None


@dataclass(frozen=True)
class PlantChain:
    """What one bed or group of pots needs, and the zone that waters it first."""

    part: Drinker
    need: Need | Gap
    push: PushAnswer | Gap
    time: TimeAnswer | Gap


@dataclass(frozen=True, repr=False)  # a failed assertion would print all years of it for minutes
class Chain:
    """Every station's answer, or what it waits for."""

    garden: Garden
    record: DailyWeather | None
    catch: CatchAnswer | Gap
    season: Season | Gap
    store: StoreAnswer | Gap
    planted: tuple[PlantChain, ...]
    zones: tuple[ZoneChain, ...]

    @cached_property
    def lay(self) -> LayAnswer:
        """What each plant gets from the lines as they are drawn."""
        return answer_lay(self.garden)

    @cached_property
    def proposal(self) -> Proposal:
        """What may be opened together."""
        return proposed_zones.propose(self.garden)

    def zone(self, at: str = "") -> ZoneChain | Gap:
        """The zone called so, or that which waters what is called so first, or the first of all."""
        found = [
            zone
            for zone in self.zones
            if at in ("", zone.zone.id) or any(part.id == at for part in zone.zone.watered)
        ]
        if found:
            return next((zone for zone in found if zone.running or zone.zone.id == at), found[0])
        loose = next((p for p in self.planted if at in ("", p.part.id)), None)
        if loose is None:
            return self.zones[0] if self.zones else NO_BED
        return Gap(zones.no_water(loose.part.name))

    def plant(self, part_id: str | None = None) -> PlantChain | Gap:
        """The bed or group of pots called so, or the first."""
        if not self.planted:
            return NO_BED
        return next((p for p in self.planted if p.part.id == part_id), self.planted[0])


NO_WEATHER = Gap(
    say(
        "chain-no-weather",
        "There is no weather yet: type the usual months, or bring a daily file.",
    )
)
WORKED_ON = Gap(say("chain-worked-on", "It is being worked out."))
NO_BED = Gap(say("chain-no-bed", "There is no bed yet: add one."))


@dataclass(frozen=True, repr=False)  # a failed assertion would print all years of it for minutes
class ChainBegun:
    """What is known before any timer is set: needs, and each zone as it is pushed."""

    garden: Garden
    record: DailyWeather | None
    firsts: Mapping[str, Zone | None]
    needs: Mapping[str, Need | Gap]
    pushed: tuple[ZoneChain, ...]

    @property
    def first_answers(self) -> Chain:
        """Catch, Need and Push; the others wait."""
        planted = _planted(self.garden, self.needs, self.firsts, self.pushed)
        return Chain(
            self.garden,
            self.record,
            NO_WEATHER if self.record is None else _catch(self.garden, self.record, planted),
            WORKED_ON,
            WORKED_ON,
            planted,
            self.pushed,
        )

    def finished(self) -> Chain:
        """With timers, seasons and stores."""
        garden, record = self.garden, self.record
        levels = _levels(garden, record, self.needs, self.firsts, self.pushed)
        found = tuple(_timed(each, self.needs, self.firsts, record, levels) for each in self.pushed)
        planted = _planted(garden, self.needs, self.firsts, found)
        if record is None:
            return Chain(garden, None, NO_WEATHER, NO_WEATHER, NO_WEATHER, planted, found)
        season = _season(garden, record, planted)
        return Chain(
            garden,
            record,
            _catch(garden, record, planted),
            season,
            _store(garden, season),
            planted,
            found if isinstance(season, Gap) else tuple(_lived(zone, season) for zone in found),
        )


def begin_chain(garden: Garden, record: DailyWeather | None) -> ChainBegun:
    """What is soon worked out."""
    drawn = zones.zones_of(garden)
    firsts = {part.id: _first_zone(garden, part, drawn) for part in garden.planted}
    needs = {
        part.id: NO_WEATHER
        if record is None
        else daily.need_of(part, garden, record, _wetted(part, firsts[part.id]))
        for part in garden.planted
    }
    return ChainBegun(garden, record, firsts, needs, tuple(_pushed(zone, needs) for zone in drawn))


def run_chain(garden: Garden, record: DailyWeather | None) -> Chain:
    """Answer every station that has what it needs; the others say what they wait for."""
    return begin_chain(garden, record).finished()


def _planted(
    garden: Garden,
    needs: Mapping[str, Need | Gap],
    firsts: Mapping[str, Zone | None],
    found: tuple[ZoneChain, ...],
) -> tuple[PlantChain, ...]:
    return tuple(_plant(part, needs[part.id], firsts[part.id], found) for part in garden.planted)


def _lived(zone: ZoneChain, season: Season) -> ZoneChain:
    """A zone whose settings are told with how its beds fared."""
    if isinstance(zone.time, Gap):
        return zone
    return replace(zone, time=lived.with_season(zone.time, season))


def _first_zone(garden: Garden, part: Drinker, drawn: Sequence[Zone]) -> Zone | None:
    """The zone that waters a bed or pots before any other: what is on two is not watered twice."""
    order = [source.id for source in order_of(garden, part).sources]
    own = [
        zone
        for zone in drawn
        if zone.drum is None and any(each.id == part.id for each in zone.watered)
    ]
    place = {source: i for i, source in enumerate(order)}
    return min(own, key=lambda zone: place.get(zone.source.id, len(order)), default=None)


def _wetted(part: Drinker, first: Zone | None) -> float:
    """Share of a bed that its lines wet; all of it where nothing runs to it yet, or by hand. [-]"""
    if first is None:
        return 1.0
    try:
        state = solving.solve_zone(first, first.levels[first.usual_level])
    except PlanError:
        return 1.0
    # Lines of which next to nothing comes wet nothing: then the roots' ground is all of it.
    return wetted_ground.wetted_shares(state).get(part.id, 1.0) or 1.0


def _pushed(zone: Zone, needs: Mapping[str, Need | Gap]) -> ZoneChain:
    """A zone solved; its timer waits."""
    known = _known(zone, needs)
    try:
        push = answer_push(zone, () if zone.drum else known)
    except PlanError as error:
        return ZoneChain(zone, Gap.of(error), Gap.of(error))
    return ZoneChain(zone, push, NO_WEATHER)


def _known(zone: Zone, needs: Mapping[str, Need | Gap]) -> list[Need]:
    """What its beds and pots need, so far as that is known."""
    return [n for part in zone.watered if isinstance(n := needs[part.id], Need)]


def _levels(
    garden: Garden,
    record: DailyWeather | None,
    needs: Mapping[str, Need | Gap],
    firsts: Mapping[str, Zone | None],
    pushed: tuple[ZoneChain, ...],
) -> Mapping[str, tuple[float, ...]]:
    """Store volume from which a run begins, of each month, by the id of the zone. [L]"""
    if record is None:
        return {}
    planted = _planted(garden, needs, firsts, pushed)
    return usual_levels.usual_levels(garden, record, ways_of(planted))


def _timed(
    each: ZoneChain,
    needs: Mapping[str, Need | Gap],
    firsts: Mapping[str, Zone | None],
    record: DailyWeather | None,
    levels: Mapping[str, tuple[float, ...]],
) -> ZoneChain:
    """A zone whose timer is set."""
    zone, push = each.zone, each.push
    if isinstance(push, Gap):
        return each
    known = _known(zone, needs)
    if not zone.watered:
        nothing = say(
            "chain-zone-waters-nothing",
            "“{zone}” waters no bed and no pots yet: lead its lines to one.",
            zone=zone.name,
        )
        return ZoneChain(zone, push, Gap(nothing))
    if zone.runs_by_itself:
        return ZoneChain(zone, push, Gap(runs_by_itself(zone), Mark.WORKS))
    if not known or record is None:
        return ZoneChain(zone, push, NO_WEATHER)
    own = [need for need in known if firsts[need.part.id] == zone]
    many = choosing_years.years_like(record, zone.garden.place)
    chosen_on = [daily.need_of(need.part, zone.garden, many, need.wetted) for need in own or known]
    try:
        answer = answer_time(
            zone, push.curve, push.usual.state, own or known, chosen_on, levels.get(zone.id, ())
        )
    except PlanError as error:
        return ZoneChain(zone, push, Gap.of(error))
    return ZoneChain(zone, push, answer if own else standing_by(answer, known, firsts))


def runs_by_itself(zone: Zone) -> Sentence:
    """What is set on the lines of a drum, or on a float: nothing."""
    if zone.drum is None:
        return say(
            "chain-float-runs",
            "Nothing is set on “{zone}”: a float lets in what they drink, day and night. Push says how many it carries.",
            zone=zone.name,
        )
    return say(
        "chain-runs-by-itself",
        "Nothing is set on “{zone}”: “{drum}” empties into it whenever you wash. Greywater says whether it keeps up.",
        zone=zone.name,
        drum=zone.source.name,
    )


def standing_by(
    answer: TimeAnswer, needs: Sequence[Need], firsts: Mapping[str, Zone | None]
) -> TimeAnswer:
    """The settings of a zone whose beds all have another zone before it: for when that one is dry."""
    part = needs[0].part
    first = firsts[part.id]
    assert first is not None
    summary = say(
        "time-stands-by",
        "Leave it off: “{part}” is watered from “{source}” first. Set it so only while that is empty.",
        part=part.name,
        source=first.source.name,
    )
    verdict = Verdict(Mark.BUT, summary, answer.verdict.reasons)
    return replace(answer, stands_by=True, verdict=verdict)


def _plant(
    part: Drinker, wanted: Need | Gap, first: Zone | None, found: tuple[ZoneChain, ...]
) -> PlantChain:
    """The bed or pots on the zone that waters them before any other."""
    own = next((z for z in found if first is not None and z.zone.id == first.id), None)
    if own is None:
        gap = Gap(zones.no_water(part.name))
        return PlantChain(part, wanted, gap, gap)
    return PlantChain(part, wanted, own.push, own.time)


def _catch(
    garden: Garden, record: DailyWeather, planted: tuple[PlantChain, ...]
) -> CatchAnswer | Gap:
    needs = [p.need for p in planted if isinstance(p.need, Need)]
    try:
        return answer_catch(garden, record, needs)
    except PlanError as error:
        return Gap.of(error)


def ways_of(planted: tuple[PlantChain, ...]) -> tuple[Watered, ...]:
    """Beds and pots so far as they are connected."""
    return tuple(
        Watered(
            p.need,
            p.push if isinstance(p.push, PushAnswer) else None,
            p.time if isinstance(p.time, TimeAnswer) else None,
        )
        for p in planted
        if isinstance(p.need, Need)
    )


def followed(
    chain: Chain, programmes: Mapping[str, Programme], evenness: float | None = None
) -> Season | Gap:
    """The season of a garden whose owner holds to other programmes, by the id of the zone.

    Parameters
    ----------
    evenness : Share that the worst-fed quarter of each line keeps; None as it is solved. [-]
    """
    if chain.record is None:
        return NO_WEATHER
    planted = tuple(
        replace(plant, time=replace(plant.time, programme=programmes[plant.time.zone.id]))
        if isinstance(plant.time, TimeAnswer) and plant.time.zone.id in programmes
        else plant
        for plant in chain.planted
    )
    ways = tuple(replace(way, evenness=evenness) for way in ways_of(planted))
    try:
        return replay.replay(chain.garden, chain.record, ways)
    except PlanError as error:
        return Gap.of(error)


def _season(garden: Garden, record: DailyWeather, planted: tuple[PlantChain, ...]) -> Season | Gap:
    if not planted:
        return NO_BED
    try:
        season = replay.replay(garden, record, ways_of(planted))
    except PlanError as error:
        return Gap.of(error)
    if not any(order.is_watered for order in season.orders):
        push = planted[0].push
        return (
            push
            if isinstance(push, Gap)
            else Gap(say("chain-no-bed-is-watered", "No bed takes water from anywhere yet."))
        )
    return season


def _store(garden: Garden, season: Season | Gap) -> StoreAnswer | Gap:
    if not garden.stores:
        return Gap(say("chain-no-store", "There is no store yet: add one."))
    if not garden.roofs and not any(store.topped_by for store in garden.stores):
        return Gap(
            say(
                "chain-no-roof",
                "Nothing fills your stores yet: describe a roof, or say what they are topped up from.",
            )
        )
    return season if isinstance(season, Gap) else answer_store(season)
