"""Store: how far each store carries its beds through the record."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from euhydra.core.store import StoreRule, StoreRun
from euhydra.garden.pots import Pots
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.store_groups import Group
from euhydra.planner.answers import Figure, Mark, Verdict
from euhydra.planner.season import fared, helping_hand, replay
from euhydra.planner.season.replay import Season
from euhydra.planner.season.watering import Watered
from euhydra.planner.store import cures, sizing
from euhydra.planner.store.figures import RULE_NAMES, GroupSums
from euhydra.planner.store.sizing import HardestMonth

MUCH_TOO_LOW = 0.1
"""Share of a store that stands too low, from which on it is told. [-] Our choice."""


@dataclass(frozen=True)
class GroupAnswer:
    """One store, or several linked, through the record.

    figures : Share of need met, dry runs, spill.
    lasting : How long it lasts without rain, and what six dry weeks take; none without a need.
    hardest : Month with the greatest need of its beds; None without a need.
    summary : The verdict by its sums.
    waters : Ids of the beds and pots that drink from it first.
    """

    sums: GroupSums
    figures: tuple[Figure, ...]
    lasting: tuple[Figure, ...]
    hardest: HardestMonth | None
    summary: Verdict
    waters: frozenset[str]

    @property
    def group(self) -> Group:
        """The stores."""
        return self.sums.group

    @property
    def tank(self) -> int:
        """Position among the season's groups."""
        return self.sums.tank

    @property
    def season(self) -> Season:
        """Everything it ran with."""
        return self.sums.season

    @property
    def run(self) -> StoreRun:
        """Day by day."""
        return self.sums.run

    @property
    def rule(self) -> StoreRule:
        """Rule of its daily balance."""
        return self.sums.rule

    @cached_property
    def verdict(self) -> Verdict:
        """The summary with all that is said beside it: who helps out by hand is another season's run."""
        season, own = self.season, self.waters
        helped = (e.sentence for e in helping_hand.helps_of(season) if e.part.id in own)
        beside = (
            *_open_water(self.sums),
            *helped,
            *helping_hand.unwatered(season),
            *fared.driest(season, own),
        )
        return replace(self.summary, reasons=(*self.summary.reasons, *beside))

    @cached_property
    def by_rule(self) -> dict[StoreRule, Figure]:
        """Share of the need that comes, under each rule."""
        runs = self.season.by_rule
        return {rule: self.sums.met(rule, runs[rule].tank_run(self.tank)) for rule in RULE_NAMES}


@dataclass(frozen=True)
class StoreAnswer:
    """Every group of stores."""

    season: Season
    groups: tuple[GroupAnswer, ...]

    @property
    def worst(self) -> GroupAnswer:
        """The group with the worst verdict; of some, that which gives least of what is asked."""
        marks = list(Mark)
        return max(
            self.groups,
            key=lambda each: (marks.index(each.summary.mark), -each.run.volumetric_reliability),
        )

    def group(self, store_id: str | None = None) -> GroupAnswer:
        """The group that a store belongs to, or the first."""
        return next(
            (g for g in self.groups if any(s.id == store_id for s in g.group.stores)),
            self.groups[0],
        )


def answer_store(season: Season) -> StoreAnswer:
    """Share of need met, dry runs and spill of each store."""
    return StoreAnswer(season, tuple(_group(i, season) for i in range(len(season.groups))))


def _group(tank: int, season: Season) -> GroupAnswer:
    group = season.groups[tank]
    ways = [
        way
        for way, watering in zip(season.ways, season.works.waterings, strict=True)
        if season.run.first_tank(watering) == tank
    ]
    hardest = sizing.hardest_month(ways)
    sums = GroupSums(group, tank, season, season.run.tank_run(tank))
    return GroupAnswer(
        sums,
        sums.figures(),
        sizing.lasting_figures(group, sums.run.dead, hardest) if hardest else (),
        hardest,
        _summary(sums, ways),
        frozenset(way.need.part.id for way in ways),
    )


def _summary(sums: GroupSums, ways: Sequence[Watered]) -> Verdict:
    """The verdict on one group."""
    run = sums.run
    met = run.volumetric_reliability
    dry = replay.longest_dry_run(run, sums.season.is_growing)
    amounts = {"met": Amount(met, "share"), "dry": Amount.days(dry)}
    if not ways or float(run.demand.sum()) <= 0:
        return _nothing_drawn(sums)
    fed = {way.need.part.id for way in ways}
    asker = _asker(ways)
    giver = _giver(sums.group)
    if met >= cures.ENOUGH:
        return Verdict(
            Mark.WORKS,
            say(
                "store-met",
                "{giver} {met} of what {asker}.",
                giver=giver,
                asker=asker,
                **amounts,
            ),
        )
    if sums.carries >= cures.ENOUGH:
        return Verdict(
            Mark.WORKS,
            say(
                "store-met-undrawn",
                "{giver} {met} of what {asker}; there is water for the rest, but no more is drawn.",
                giver=giver,
                asker=asker,
                **amounts,
            ),
        )
    return Verdict(
        fared.mark_of_dry(fared.most_dry_days(sums.season, fed)),
        say(
            "store-met-but-dry",
            "{giver} {met} of what {asker}; dry for {dry} in a row.",
            giver=giver,
            asker=asker,
            **amounts,
        ),
        (*_too_low(sums), *_left_behind(sums)),
    )


def _open_water(sums: GroupSums) -> tuple[Sentence, ...]:
    """What sun and wind take of a store without a lid."""
    season, tank = sums.season, sums.tank
    if season.works.tanks[tank].dries is None:
        return ()
    taken = float(season.run.dried[tank].sum()) / season.record.years
    return (
        say(
            "store-open-water",
            "Sun and wind take {takes} of its open water a year, and rain falls on it: both are counted. Cover it"
            " where you can, and keep children out.",
            takes=Amount.litres(taken),
        ),
    )


def _asker(ways: Sequence[Watered]) -> str:
    """Who asks the store for water, with the verb."""
    if len(ways) == 1:
        return f"“{ways[0].need.part.name}” needs"
    pots = sum(isinstance(way.need.part, Pots) for way in ways)
    beds = len(ways) - pots
    groups = f"{pots} groups of pots" if pots > 1 else "a group of pots" if pots else ""
    grounds = f"{beds} beds" if beds > 1 else "a bed" if beds else ""
    return f"{' and '.join(filter(None, (grounds, groups)))} need"


def _left_behind(sums: GroupSums) -> tuple[Sentence, ...]:
    """Water of the stores that only spill into this one."""
    return tuple(
        say(
            "store-spills-over-stay",
            "“{other}” only spills over into it: {litres} stay behind there.",
            other=other.name,
            litres=Amount(other.capacity_m3, "volume"),
        )
        for other in cures.stranded(sums)
    )


def _too_low(sums: GroupSums) -> tuple[Sentence, ...]:
    """Water over its tap and under its beds, where that is a good part of it."""
    low = sums.run.dead - sums.season.works.tanks[sums.tank].dead
    if low < MUCH_TOO_LOW * sums.season.works.tanks[sums.tank].capacity:
        return ()
    return (
        say(
            "store-stands-too-low",
            "{litres} in it stand too low to run to its beds: Push says how much higher to raise it, "
            "or which pump would do.",
            litres=Amount.litres(low),
        ),
    )


def _giver(group: Group) -> str:
    if group.count == 1:
        return f"“{group.name}” gives"
    if len(group.stores) == 1:
        return f"The {group.count} linked in “{group.name}” give"
    return f"“{group.name}”, linked, give"


def _nothing_drawn(sums: GroupSums) -> Verdict:
    name, season = sums.group.name, sums.season
    ids = {store.id for store in sums.group.stores}
    gives_back = any(
        store.moves_to in ids and store.gives_back_below > 0
        for group in season.groups
        for store in group.stores
    )
    if gives_back or float(season.run.drawn_from(sums.tank).sum()) > 0:
        return Verdict(
            Mark.WORKS, say("store-stands-reserve", "“{name}” stands in as a reserve.", name=name)
        )
    return Verdict(
        Mark.BUT,
        say(
            "store-nothing-drawn",
            "Nothing is drawn from “{name}” yet: see Push and Time.",
            name=name,
        ),
    )
