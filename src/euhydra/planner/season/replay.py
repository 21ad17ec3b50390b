"""The garden through its weather record: roofs, stores, sources, lines and beds."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from euhydra.core import store
from euhydra.core.bed import BedInputs, BedRun
from euhydra.core.store import StoreRule, StoreRun
from euhydra.core.tried_days import Gives
from euhydra.core.waterworks import (
    Supply,
    Watering,
    Waterworks,
    WaterworksRun,
)
from euhydra.core.weather import DailyWeather
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.sentences import say
from euhydra.garden.store_groups import Group, groups_of
from euhydra.planner.answers import PlanError
from euhydra.planner.catch.order import SourceOrder, order_of
from euhydra.planner.need.daily import Need
from euhydra.planner.season import kept_runs, works
from euhydra.planner.season.watering import Watered
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.time.programme import DayRuns

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]


@dataclass(frozen=True, repr=False)  # a failed assertion would print all years of it for minutes
class Season:
    """The works and their run, so that either can be tried again with a change.

    groups : Stores by level, in the order of the works' tanks.
    supplies : Taps, and drums once for each part that they are led to, as the works' supplies are.
    """

    garden: Garden
    record: DailyWeather
    groups: tuple[Group, ...]
    supplies: tuple[Part, ...]
    ways: tuple[Watered, ...]
    orders: tuple[SourceOrder, ...]
    works: Waterworks
    run: WaterworksRun

    @cached_property
    def beds(self) -> tuple[BedRun, ...]:
        """The root zone of every bed."""
        return self._beds_with(self.run)

    @cached_property
    def bed_inputs(self) -> tuple[BedInputs, ...]:
        """What each bed asks of its root zone."""
        return tuple(map(_bed_inputs, self.ways))

    @cached_property
    def lost_past_roots(self) -> Floats:
        """Watering of each day that sank past the roots; what rain alone drives down is no loss. [L]"""
        lost = np.zeros(len(self.record.days))
        for way, bed_run in zip(self.ways, self.beds, strict=True):
            lost = lost + np.minimum(bed_run.drained, bed_run.watered) * way.need.area_m2
        return lost

    def runs_of(self, timed: TimeAnswer) -> DayRuns:
        """A zone's runs on each day; a timer that adjusts them cuts them to what the roots lack."""
        daily = timed.day_runs
        if timed.timer.gives is not Gives.LACKING:
            return daily
        full = timed.design.litres_each(daily.minutes, self.record.month)
        share = np.zeros_like(full)
        for way, watering in zip(self.ways, self.works.waterings, strict=True):
            if way.time is not None and way.time.zone.id == timed.zone.id:
                own = full * timed.share_of(way.need.part.id).flow_share
                lacks = np.divide(watering.wanted, own, out=np.zeros_like(own), where=own > 0)
                share = np.maximum(share, np.minimum(lacks, 1.0))
        return DayRuns(daily.minutes * share, daily.runs)

    @cached_property
    def without_help(self) -> tuple[BedRun, ...]:
        """The root zones if nobody helped out by hand beside what waters by itself."""
        if not any(order.is_helped for order in self.orders):
            return self.beds
        waterings = tuple(
            _unhelped(watering, order, way.need) if order.is_helped else watering
            for watering, order, way in zip(
                self.works.waterings, self.orders, self.ways, strict=True
            )
        )
        run = kept_runs.run_works(replace(self.works, waterings=waterings))
        return self._beds_with(run)

    def _beds_with(self, run: WaterworksRun) -> tuple[BedRun, ...]:
        needs = [way.need for way in self.ways]
        supplied = [run.supplied(i) for i in range(len(self.ways))]
        return kept_runs.run_beds(needs, self.bed_inputs, supplied)

    @cached_property
    def without_moves(self) -> WaterworksRun:
        """The same works if nobody moved water into a reserve before rain, nor out of it."""
        if not self.works.transfers:
            return self.run
        return kept_runs.run_works(replace(self.works, transfers=()))

    def met_by(self, run: WaterworksRun) -> float:
        """Of what all beds and pots ask, what a run of the works gave, over the whole record. [L]"""
        return sum(
            float(np.minimum(run.supplied(i), watering.asked).sum())
            for i, watering in enumerate(self.works.waterings)
        )

    @cached_property
    def is_growing(self) -> Flags:
        """Days on which anything grows."""
        return np.asarray(np.any([way.need.is_growing for way in self.ways], axis=0))

    @cached_property
    def by_rule(self) -> dict[StoreRule, WaterworksRun]:
        """The same works under each rule of the daily balance."""
        return {rule: self._under_rule(rule) for rule in StoreRule}

    def _under_rule(self, rule: StoreRule) -> WaterworksRun:
        if all(tank.rule is rule for tank in self.works.tanks):
            return self.run
        tanks = tuple(replace(tank, rule=rule) for tank in self.works.tanks)
        return kept_runs.run_works(replace(self.works, tanks=tanks))

    def with_widths(self, tank: int, widths: Floats) -> StoreRun:
        """One tank made so many times as wide at the same heights; arrays are [day, width]."""
        return kept_runs.run_of_widths(self.works, tank, widths)


def _unhelped(watering: Watering, order: SourceOrder, need: Need) -> Watering:
    """Without the hand, and without what only the hand was to give."""
    sources = tuple(s for i, s in enumerate(watering.sources) if i != order.hand_at)
    deep = works.deep_litres(need) if order.is_deep else 0.0
    return replace(watering, wanted=watering.wanted - deep, sources=sources)


def _asking(watering: Watering, share: float) -> Watering:
    lines = tuple(
        source if isinstance(source, int) else replace(source, hours=source.hours * share)
        for source in watering.sources
    )
    return replace(watering, wanted=watering.wanted * share, sources=lines)


def _bed_inputs(way: Watered) -> BedInputs:
    need = way.need
    return BedInputs(
        need.area_m2,
        need.rain,
        need.crop_et,
        need.total,
        need.ready,
        need.is_growing,
        way.kept,
        np.minimum(way.day_runs.runs, need.steps),
        need.steps,
    )


def replay(
    garden: Garden, record: DailyWeather, ways: tuple[Watered, ...], given_over: float = 1.0
) -> Season:
    """Run everything through the record, from full stores.

    Parameters
    ----------
    given_over : Times what they ask for that all beds are given. [-]

    Raises
    ------
    PlanError : if there is no water at all, or a source cannot be solved.
    """
    groups = groups_of(garden.stores)
    supplied = works.supplies_of(garden)
    needs = {way.need.part.id: way.need for way in ways}
    supplies = tuple(part for part, _ in supplied)
    if not groups and not supplies:
        raise PlanError(
            say(
                "season-no-source",
                "There is no store and no tap yet: add where the water comes from.",
            )
        )
    orders = tuple(order_of(garden, way.need.part) for way in ways)
    tanks = tuple(works.tank_of(garden, group, groups, record) for group in groups)
    assembly = works.Assembly(
        garden, record, groups, tanks, {(p.id, to): i for i, (p, to) in enumerate(supplied)}
    )
    assembled = Waterworks(
        tanks,
        tuple(Supply(assembly.available(part, to, needs)) for part, to in supplied),
        tuple(
            _asking(assembly.watering(way, order), given_over)
            for way, order in zip(ways, orders, strict=True)
        ),
        tuple(assembly.top_ups()),
        tuple(assembly.transfers()),
    )
    run = kept_runs.run_works(assembled)
    return Season(garden, record, groups, supplies, ways, orders, assembled, run)


def longest_dry_run(run: StoreRun, is_growing: Flags) -> int:
    """Longest unbroken run of days in season that end with nothing that would come out. [d]"""
    return store.longest_run(run.is_empty & is_growing)
