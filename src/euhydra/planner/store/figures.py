"""Figures of one group of stores: share of need met, dry runs, spill."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from euhydra.core.store import StoreRule, StoreRun
from euhydra.garden.sentences import Amount
from euhydra.garden.store_groups import Group
from euhydra.planner.answers import Figure, Working
from euhydra.planner.season import replay
from euhydra.planner.season.replay import Season
from euhydra.planner.season.shares import RUN_NOTE
from euhydra.planner.time.design import HALF_DRAWN

Floats = NDArray[np.float64]

RULE_NAMES = {
    StoreRule.YIELD_AFTER_SPILLAGE: "Strict: today's rain is drawn from tomorrow on",
    StoreRule.SAME_DAY: "In between: today's rain may be drawn once the overflow has run",
    StoreRule.YIELD_BEFORE_SPILLAGE: "Hopeful: today's rain may be drawn before it overflows",
}
"""The three rules in words, most cautious first."""

RULE_SOURCE = "Jenkins et al. (1978), Fewkes (1999): yield after and before spillage"


@dataclass(frozen=True)
class GroupSums:
    """A group, its position `tank` among the season's groups, its run, and the figures made from it."""

    group: Group
    tank: int
    season: Season
    run: StoreRun

    @property
    def volume(self) -> dict[str, Amount]:
        """What it holds."""
        return {
            "holds in all": Amount(self.group.capacity_m3, "volume"),
            "dead water": Amount.litres(self.run.dead),
        }

    @property
    def rule(self) -> StoreRule:
        """Rule of its daily balance."""
        return self.group.stores[0].rule

    @property
    def unmet(self) -> Floats:
        """What its beds do not get on each day, whatever the reason. [L]"""
        return np.asarray(np.maximum(self.run.demand - self.run.supplied, 0.0))

    @cached_property
    def lacking(self) -> Floats:
        """The part of it that lacks for want of water in the store. [L]

        While it is more than half full, what lacks is the doing of settings or of a hand, and no larger store would
        change it. Our choice: settings are first made for a store that is half full.
        """
        run, capacity = self.run, self.season.works.tanks[self.tank].capacity
        is_low = run.level < run.dead + HALF_DRAWN * (capacity - run.dead)
        return np.asarray(np.where(is_low, self.unmet, 0.0))

    @property
    def carries(self) -> float:
        """Share of what is asked of it that lacks not for want of water; 1 where nothing is asked. [-]"""
        asked = float(self.run.demand.sum())
        return 1.0 - float(self.lacking.sum()) / asked if asked > 0 else 1.0

    def yearly(self, daily: Floats) -> Amount:
        """Mean of a year."""
        years = self.season.record.years
        return Amount.litres(float(daily.sum()) / years)

    def met(self, rule: StoreRule, run: StoreRun) -> Figure:
        """Share of need met under one rule."""
        return Figure(
            "Share of need met",
            Amount(run.volumetric_reliability, "share"),
            Working(
                "water given, run by run up to what the run is for ÷ what all runs are for",
                {
                    "asked for by all runs, a year": self.yearly(run.demand),
                    "given, a year": self.yearly(run.supplied),
                    **self.volume,
                },
                RULE_SOURCE,
                (
                    _rule_note(rule),
                    "Counted for the beds that take from it first.",
                    RUN_NOTE,
                ),
            ),
        )

    def figures(self) -> tuple[Figure, ...]:
        """Share met, dry runs, spill."""
        run, season = self.run, self.season
        years = season.record.years
        dry = replay.longest_dry_run(run, season.is_growing)
        empty = float((run.is_empty & season.is_growing).sum()) / years
        daily = "each evening: last evening + water come in − given − spilled"
        rule = _rule_note(self.rule)
        return (
            self.met(self.rule, run),
            Figure(
                "Longest dry run",
                Amount.days(dry),
                Working(
                    daily,
                    self.volume,
                    RULE_SOURCE,
                    ("Days in season that end with nothing that would come out, in a row.", rule),
                ),
            ),
            Figure(
                "Dry days in a season",
                Amount.days(empty),
                Working(
                    daily,
                    self.volume | {"days a crop goes thirsty": Amount.days(self._thirsty_days())},
                    f"{RULE_SOURCE}; root zone: FAO-56 eqs. 84 and 85",
                    (
                        "Mean of all seasons. The soil carries the crop through the first of them.",
                        rule,
                    ),
                ),
            ),
            Figure(
                "Spills over in a year",
                self.yearly(run.spill),
                Working(
                    "what arrives in a full store",
                    self.volume
                    | {
                        "comes in, a year": self.yearly(run.inflow),
                        "drawn, a year": self.yearly(season.run.drawn_from(self.tank)),
                        "in − drawn − moved − spilled − stored, over the whole record": (
                            Amount.litres(season.run.residual(self.tank))
                        ),
                    },
                    RULE_SOURCE,
                ),
            ),
            *self._moved(),
        )

    def _moved(self) -> Iterator[Figure]:
        """What a reserve is good for that water is moved into before rain."""
        if not any(store.moves_to for store in self.group.stores):
            return
        season = self.season
        years = season.record.years
        now, without = season.met_by(season.run), season.met_by(season.without_moves)
        moved = sum(float(litres.sum()) for litres in season.run.moved)
        yield Figure(
            "Moving water before rain brings, a year",
            Amount.litres((now - without) / years),
            Working(
                "what all beds are given with the reserve − without moving anything",
                {
                    "given with it, a year": Amount.litres(now / years),
                    "given without": Amount.litres(without / years),
                    "moved, to and fro": Amount.litres(moved / years),
                },
                "The whole season run again without the reserve",
                (
                    "Rain of the next day is known as the record has it: a forecast errs now and then.",
                ),
            ),
        )

    def _thirsty_days(self) -> float:
        """Days a year on which any bed that takes from it first drinks less than it wants."""
        thirsty = [
            bed.is_stressed
            for bed, watering in zip(self.season.beds, self.season.works.waterings, strict=True)
            if self.season.run.first_tank(watering) == self.tank
        ]
        return float(np.any(thirsty, axis=0).sum()) / self.season.record.years if thirsty else 0.0


def _rule_note(rule: StoreRule) -> str:
    return f"Rule: {RULE_NAMES[rule].lower()}. Every store is full on the first day."
