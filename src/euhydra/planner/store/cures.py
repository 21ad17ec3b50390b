"""The smallest changes that would cure a group of stores, each run through the record again."""

from dataclasses import dataclass

import numpy as np

from euhydra.garden import catalogue
from euhydra.garden.sentences import Amount, say
from euhydra.garden.store_groups import Group, group_below
from euhydra.planner.answers import Cure
from euhydra.planner.catch import spouts
from euhydra.planner.store import sizing
from euhydra.planner.store.figures import GroupSums
from euhydra.planner.water import zones

ENOUGH = 0.95
"""Share of the need that counts as enough. [-] Our choice."""

MOST_STORES = 20
"""Largest number of linked stores that is tried."""

LESS_NEED = (0.9, 0.8, 0.7, 0.6, 0.5)
"""Shares of the need that are tried. [-]"""


def stranded(sums: GroupSums) -> list[Group]:
    """Groups that spill into this one and have no outlet of their own."""
    season = sums.season
    hosed = zones.sources_in_use(season.garden)
    return [
        other
        for other in season.groups
        if group_below(other, season.groups, season.garden.downspouts) is sums.group
        and not any(store.id in hosed for store in other.stores)
    ]


@dataclass(frozen=True)
class StoreCures:
    """The smallest changes that would cure a group, each run through the record."""

    sums: GroupSums

    def all(self) -> tuple[Cure, ...]:
        """Those that help, the cheapest first."""
        tried = (self._link, self._more_roof, self._more_stores, self._less_need)
        return tuple(cure for attempt in tried if (cure := attempt()))

    def _link(self) -> Cure | None:
        """The stores that only spill into it, linked to it at its own height."""
        behind = stranded(self.sums)
        if not behind:
            return None
        season, tank = self.sums.season, self.sums.tank
        others = [season.groups.index(group) for group in behind]
        run = season.with_merged(tank, others)
        names = " and ".join(f"“{group.name}”" for group in behind)
        return Cure(
            say(
                "store-link-bottom-instead",
                "Link {names} with it at the bottom, instead of letting it only spill over.",
                names=names,
            ),
            say(
                "store-linked-would-give",
                "It would give {met}.",
                met=Amount(float(sizing.reliabilities(run)[0]), "share"),
            ),
        )

    def _more_stores(self) -> Cure | None:
        """The fewest stores of this kind, linked, that are enough; or what the most would bring."""
        group = self.sums.group
        counts = np.arange(group.count + 1, MOST_STORES + 1)
        if len(counts) == 0:
            return None
        one = group.capacity_m3 / group.count
        met = sizing.reliabilities(
            self.sums.season.with_widths(self.sums.tank, counts / group.count)
        )
        noun = noun_of(group)
        enough = np.flatnonzero(met >= ENOUGH)
        if len(enough) == 0:
            return Cure(
                say(
                    "store-even-so-many",
                    "Even {count} such {noun}s, linked.",
                    noun=noun,
                    count=Amount(int(counts[-1]), "plain"),
                ),
                say(
                    "store-give-roof-season",
                    "They would give {met}: the roof, the height or the season is the limit.",
                    met=Amount(float(met[-1]), "share"),
                ),
            )
        count = int(counts[enough[0]])
        return Cure(
            say(
                "store-more-linked",
                "{count} such {noun}s linked to one level, {litres} in all.",
                noun=noun,
                count=Amount(count, "plain"),
                litres=Amount(count * one, "volume"),
            ),
            say(
                "store-more-would-give",
                "They would give {met}.",
                met=Amount(float(met[enough[0]]), "share"),
            ),
        )

    def _more_roof(self) -> Cure | None:
        """All roofs that no store drains, led into this one."""
        season, tank = self.sums.season, self.sums.tank
        catch = spouts.unused_catch_m2(season.garden)
        if catch < 0.5:
            return None
        run = season.with_inflow(
            tank, season.works.tanks[tank].inflow + catch * season.record.precip
        )
        if run.volumetric_reliability <= self.sums.run.volumetric_reliability + 0.005:
            return None
        return Cure(
            say(
                "store-another-downspout-roof",
                "Another downspout, for the {area} of roof that no store drains.",
                area=Amount(catch, "area"),
            ),
            say(
                "store-downspout-would-give",
                "It would give {met}.",
                met=Amount(run.volumetric_reliability, "share"),
            ),
        )

    def _less_need(self) -> Cure | None:
        """The largest of some shares of the need that the store can give."""
        # Asked for less a store gives no more: shares over what it gives now need no trial.
        most = self.sums.run.volumetric_reliability / ENOUGH
        for share in (s for s in LESS_NEED if s <= most):
            met = self.sums.season.with_need(self.sums.tank, share).volumetric_reliability
            if met >= ENOUGH:
                return Cure(
                    say(
                        "store-let-beds-need",
                        "Let the beds need {less} less: mulch, shade, fewer plants.",
                        less=Amount(1 - share, "share"),
                    ),
                    say(
                        "store-less-need-gives",
                        "Then it gives {met} of it.",
                        met=Amount(met, "share"),
                    ),
                )
        return None


def noun_of(group: Group) -> str:
    """`barrel`, `tank` and so on, as its first store is called."""
    return catalogue.find(catalogue.store_kinds(), group.stores[0].kind).noun
