"""The garden put together as waterworks: tanks, supplies, and what each bed draws from them."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from euhydra.core import planters, weather
from euhydra.core.constants import LITRES_PER_CUBIC_METRE, MM_PER_M
from euhydra.core.delivery import DrainCurve
from euhydra.core.tried_days import Gives
from euhydra.core.waterworks import Line, Tank, TopUp, Transfer, Watering
from euhydra.core.weather import DailyWeather
from euhydra.garden import catalogue
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.pots import Pots
from euhydra.garden.sources import Greywater, Tap
from euhydra.garden.store_groups import Group, group_below
from euhydra.garden.stores import Store
from euhydra.planner.catch import spouts, washing_week
from euhydra.planner.catch.order import SourceOrder
from euhydra.planner.catch.taps import daily_litres
from euhydra.planner.need.daily import Need
from euhydra.planner.season import kept_runs
from euhydra.planner.season.watering import Watered
from euhydra.planner.time import programme
from euhydra.planner.water import solving, zones

Floats = NDArray[np.float64]

HOURS_A_DAY = 24.0
"""[h]"""

ANYONE = ""
"""In place of the id of what a supply is for: whoever wants it."""

CAN_FLOW = 600.0
"""Litres an hour that a person carries in cans. [L h⁻¹] Common practice: a can a minute."""


def tank_of(garden: Garden, group: Group, groups: tuple[Group, ...], record: DailyWeather) -> Tank:
    ids = {store.id for store in group.stores}
    taker = group_below(group, groups, garden.downspouts)
    below = groups.index(taker) if taker else None
    capacity = group.capacity_m3 * LITRES_PER_CUBIC_METRE
    kinds = catalogue.store_kinds()
    own = [s for s in group.stores if catalogue.find(kinds, s.kind).is_open]
    open_m2 = sum(store.plan_m2 * store.count for store in own)
    dries = None
    if open_m2 > 0:
        place = garden.place
        et0 = weather.reference_et(record, place.latitude_deg, place.elevation_m)
        dries = planters.OPEN_WATER * et0 * open_m2
    return Tank(
        capacity,
        dead_litres(garden, group),
        capacity,
        group.stores[0].rule,
        spouts.inflow_of(garden, ids, record) + record.precip * open_m2,
        below,
        dries,
    )


def dead_litres(garden: Garden, group: Group) -> float:
    """Water under the lowest tap in use, or under the lowest there is. [L]"""
    piped = zones.sources_in_use(garden)
    taps = [s for s in group.stores if s.id in piped] or list(group.stores)
    return min(group.dead_m3(store) for store in taps) * LITRES_PER_CUBIC_METRE


@dataclass(frozen=True)
class Assembly:
    """What the waterworks are put together from.

    tanks : In the order of `groups`.
    supply_at : Places of supplies, by id of a tap, and of a drum with that of what it is led to.
    """

    garden: Garden
    record: DailyWeather
    groups: tuple[Group, ...]
    tanks: tuple[Tank, ...]
    supply_at: Mapping[tuple[str, str], int]

    def tank_at(self, store_id: str) -> int:
        return next(i for i, g in enumerate(self.groups) if any(s.id == store_id for s in g.stores))

    def available(self, supply: Part, part_id: str, needs: Mapping[str, Need]) -> Floats:
        if isinstance(supply, Tap) and part_id != ANYONE:
            if part_id not in needs:
                return np.zeros(len(self.record.days))
            return np.asarray(np.minimum(deep_litres(needs[part_id]), daily_litres(supply)))
        if isinstance(supply, Tap):
            left = np.full(len(self.record.days), daily_litres(supply))
            for part, to in supplies_of(self.garden):
                if part.id == supply.id and to in needs:
                    left = left - deep_litres(needs[to])
            return np.asarray(np.maximum(left, 0.0))
        assert isinstance(supply, Greywater)
        return greywater_litres(self.garden, supply, part_id, self.record)

    def watering(self, way: Watered, order: SourceOrder) -> Watering:
        is_stored = bool(order.sources) and isinstance(order.sources[0], Store)
        if way.keeps_level:
            hours, wanted = _by_float(way)
        else:
            hours, wanted = _runs(way, is_stored) if way.time else self._by_hand(way, order)
        listed = [self._source(part, way, hours) for part in order.sources]
        if order.hand is not None and order.is_deep:
            deep = deep_litres(way.need)
            listed.insert(0, self._deep(order.hand, way.need.part.id, deep))
            return Watering(wanted + deep, tuple(listed))
        if order.hand is not None:
            listed.append(self._carried(order.hand, len(hours)))
        return Watering(wanted, tuple(listed), _limit(way, wanted))

    def _deep(self, hand: Store | Tap, part_id: str, litres: Floats) -> Line | int:
        """So many litres by hand on certain days, and none on others."""
        if isinstance(hand, Tap):
            return self.supply_at[hand.id, part_id]
        carried = self._carried(hand, len(litres))
        assert isinstance(carried, Line)
        return replace(carried, hours=litres / CAN_FLOW, is_timed=True)

    def _carried(self, hand: Store | Tap, days: int) -> Line | int:
        """What somebody brings by hand: at most an hour of cans a day from a store."""
        if isinstance(hand, Tap):
            return self.supply_at[hand.id, ANYONE]
        tank = self.tank_at(hand.id)
        ends = [self.tanks[tank].dead, self.tanks[tank].capacity]
        curve = DrainCurve.of(ends, [CAN_FLOW, CAN_FLOW])
        return Line(tank, curve, np.ones(days), is_timed=False)

    def _source(self, part: Part, way: Watered, hours: Floats) -> Line | int:
        if not isinstance(part, Store):
            only = way.need.part.id if isinstance(part, Greywater) else ANYONE
            return self.supply_at[part.id, only]
        tank = self.tank_at(part.id)
        first = way.push.zone if way.push else None
        if first and way.push and first.source.id == part.id:
            curve = way.push.curve.shared(way.flow_share)
            is_timed = way.time is not None and way.time.timer.gives is not Gives.LACKING
            return Line(tank, curve, hours, is_timed)
        curve, window = self._other_line(part, way)
        return Line(tank, curve, np.full(len(hours), window), is_timed=False)

    def _other_line(self, store: Store, way: Watered) -> tuple[DrainCurve, float]:
        """A second hose to the bed, opened while the bed lacks water."""
        bed_id = way.need.part.id
        found = zones.zones_to(self.garden, bed_id)
        zone = next(zone for zone in found if zone.source.id == store.id)
        share = solving.solve_zone(zone, zone.levels[zone.usual_level]).share_to(bed_id)
        return solving.drain_curve(zone).shared(share), zone.window_s / 3600

    def _by_hand(self, way: Watered, order: SourceOrder) -> tuple[Floats, Floats]:
        """What comes on washdays, as far as there is room for it; and the root zone filled on every so many days
        from other sources. What a washday leaves lacking is lacking still at the next, and at the visit.

        A bed that nothing waters asks all the same, and gets nothing.
        """
        need = way.need
        litres_a_mm = need.area_m2 / way.efficiency
        days = np.arange(len(self.record.days))
        washed = np.zeros(len(days))
        for part in order.sources:
            if isinstance(part, Greywater):
                washed = washed + greywater_litres(self.garden, part, need.part.id, self.record)
        has_visits = not order.is_washed_only
        is_visit = has_visits & (days % need.part.by_hand_d == 0)
        window_h = (way.push.zone.window_s if way.push else zones.USUAL_WINDOW) / 3600
        a_visit = _line_gives(way, window_h) if _has_one_line(way, order) else np.inf
        most = np.where(is_visit, np.maximum(a_visit, washed), washed)
        net = kept_runs.refill_on(need, most / litres_a_mm)
        hours = np.where(is_visit | (washed > 0), window_h, 0.0)
        return hours, net * litres_a_mm

    def top_ups(self) -> list[TopUp]:
        return [
            TopUp(
                i,
                self.supply_at[tap_id, ANYONE],
                store.top_up_below * self.tanks[i].capacity,
                store.top_up_to * self.tanks[i].capacity,
                self._every(store.top_up_every_d),
            )
            for i, store, tap_id in topped_stores(self.groups)
        ]

    def _every(self, days: int | None) -> NDArray[np.bool_] | None:
        return None if days is None else np.arange(len(self.record.days)) % days == 0

    def transfers(self) -> list[Transfer]:
        """Into reserves before rain, and back out of them when the store is low."""
        tomorrow = np.append(self.record.precip[1:], 0.0)
        found: list[Transfer] = []
        for i, group in enumerate(self.groups):
            for store in group.stores:
                if store.moves_to is None or self.tank_at(store.moves_to) == i:
                    continue
                reserve = self.tank_at(store.moves_to)
                most = store.moves_m3 * LITRES_PER_CUBIC_METRE
                before_rain = tomorrow >= store.moves_before_m * MM_PER_M
                found.append(Transfer(i, reserve, most, before_rain))
                if store.gives_back_below > 0:
                    below = store.gives_back_below * self.tanks[i].capacity
                    found.append(Transfer(reserve, i, most, ~before_rain, below))
        return found


def _has_one_line(way: Watered, order: SourceOrder) -> bool:
    """Whether all that it gets comes through one line from a tap, which has no level to fall."""
    if way.push is None:
        return False
    source = way.push.zone.source
    return isinstance(source, Tap) and order.all == (source,)


def _line_gives(way: Watered, hours: float) -> float:
    """What its line brings while it is open for so long. [L]"""
    assert way.push is not None
    return way.push.usual.state.flow * way.flow_share * LITRES_PER_CUBIC_METRE * 3600 * hours


def topped_stores(groups: tuple[Group, ...]) -> list[tuple[int, Store, str]]:
    """Stores that are topped up, in the order of the top-ups: the place of its group, it, and its tap's id."""
    return [
        (i, store, store.topped_by)
        for i, group in enumerate(groups)
        for store in group.stores
        if store.topped_by is not None
    ]


def supplies_of(garden: Garden) -> tuple[tuple[Part, str], ...]:
    """Taps, which anyone may draw from, and each drum once for everything that it is led to.

    What a bed does not take of its share of washing water soaks away there: no other can have it.
    """
    drums = (
        (grey, part.id) for grey in garden.greywaters for part in washing_week.led_to(garden, grey)
    )
    deep = (
        (tap, part.id)
        for tap in garden.taps
        for part in garden.planted
        if part.hand_from == tap.id and part.deep_m3 is not None
    )
    return (*((tap, ANYONE) for tap in garden.taps), *drums, *deep)


def deep_litres(need: Need) -> Floats:
    """What a deep watering by hand brings on each day: all of it on its days in season. [L]"""
    part = need.part
    days = np.arange(len(need.is_growing)) % part.deep_every_d == 0
    litres = (part.deep_m3 or 0.0) * LITRES_PER_CUBIC_METRE
    return np.asarray(litres * (days & need.is_growing))


def greywater_litres(
    garden: Garden, system: Greywater, part_id: str, record: DailyWeather
) -> Floats:
    """What a drum brings to a bed or pots on each day; none on days with enough rain. [L]"""
    weekday = programme.weekday_of(record.days)
    week = np.array(system.week_m3) * LITRES_PER_CUBIC_METRE
    shares = [washing_week.share_to(garden, system, part_id, month) for month in range(1, 13)]
    is_dry = record.precip < system.rest_before_m * MM_PER_M
    return np.asarray(week[weekday] * np.array(shares)[record.month - 1] * is_dry)


def _by_float(way: Watered) -> tuple[Floats, Floats]:
    """All day long what the roots took. [h], [L]"""
    need = way.need
    net = kept_runs.refill_on(need, np.full(len(need.rain), np.inf))
    dries = need.is_growing * np.maximum(planters.OPEN_WATER * need.et0 - need.record.precip, 0.0)
    return np.full(len(net), HOURS_A_DAY), net * need.area_m2 + dries * _open_m2(need.part)


def _limit(way: Watered, wanted: Floats) -> Floats | None:
    """What a chain of planters lets through to them, hour by hour, of so much in a day. [L]"""
    chain = None if way.push is None else way.push.chain_of(way.need.part.id)
    return None if chain is None else chain.chain.lets_through(wanted)


def _open_m2(part: Part) -> float:
    """Open water of a trough that dries in the sun. [m²]"""
    return part.open_m2 if isinstance(part, Pots) else 0.0


def _runs(way: Watered, is_stored: bool) -> tuple[Floats, Floats]:
    """Hours that the programme runs on each day, and the litres it is there to give. [h], [L]

    A run has to last until the next. From a tap it brings what it brings; from a store, whose
    level changes what comes, it is there to meet the need.
    """
    need, timing = way.need, way.time
    assert timing is not None
    days, due = way.day_runs, timing.share_of(need.part.id)
    hours = days.minutes / 60.0
    asked = timing.design.litres_each(days.minutes, need.record.month) * due.flow_share
    wanted = np.minimum(asked, most_wanted(way, is_stored))
    if timing.timer.gives is Gives.LACKING:
        # What a run is too short for is lacking still at the next.
        litres_a_mm = need.area_m2 / way.efficiency
        wanted = kept_runs.refill_on(need, asked / litres_a_mm) * litres_a_mm
    return hours, np.where(hours > 0, wanted, 0.0)


def most_wanted(way: Watered, is_stored: bool) -> Floats:
    """Of a run on each day, what it is at most there to give; infinite where all of it is. [L]

    Parameters
    ----------
    is_stored : Whether it comes from a store.
    """
    need, timing = way.need, way.time
    assert timing is not None
    due = timing.share_of(need.part.id)
    gross = np.array([due.gross(month) for month in range(1, 13)])[need.record.month - 1]
    # Where rain and soil carry part of the mean need the programme is set for less than that.
    lasts = np.array([p.mean_days if p else 1.0 for p in timing.programme.months])
    is_whole = need.is_new | (timing.timer.gives is Gives.WHEN_DRY) | (not is_stored)
    meant = np.where(is_whole, np.inf, gross * lasts[need.record.month - 1])
    return np.where(need.is_growing, meant, 0.0)
