"""Works that do not touch each other, taken apart to be run by themselves and put together again.

What one of them does changes nothing in another: no store spills, is filled or is moved into one of
the other, and no bed draws from both. A tap that has enough for all on every day joins nothing.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from euhydra.core.islands import islands_of
from euhydra.core.waterworks import (
    Line,
    TopUp,
    Transfer,
    Watering,
    Waterworks,
    WaterworksRun,
)

Floats = NDArray[np.float64]
Each = TypeVar("Each")


@dataclass(frozen=True)
class Separate:
    """Works that stand alone, and where its pieces are in the whole.

    tanks, waterings, top_ups, transfers : Positions in the whole.
    """

    works: Waterworks
    tanks: tuple[int, ...]
    waterings: tuple[int, ...]
    top_ups: tuple[int, ...]
    transfers: tuple[int, ...]


def separated(works: Waterworks) -> tuple[Separate, ...]:
    """The works taken apart, each piece in one of them, in the order of the whole."""
    ties = list(_ties(works, _joining_supplies(works)))
    before_beds = len(works.tanks) + len(works.supplies)
    start, end = np.array(ties, dtype=np.intp).reshape(-1, 2).T
    island = islands_of(before_beds + len(works.waterings), start, end).tolist()
    tanks, beds = island[: len(works.tanks)], island[before_beds:]
    at_work = sorted({*tanks, *beds})
    return tuple(_one(works, tanks, beds, number) for number in at_work)


def joined(works: Waterworks, runs: Sequence[tuple[Separate, WaterworksRun]]) -> WaterworksRun:
    """The run of the whole from those of its separate works."""
    return WaterworksRun(
        works,
        _in_place((s.tanks, run.level) for s, run in runs),
        _in_place((s.tanks, run.spill) for s, run in runs),
        _in_place((s.tanks, run.arrived) for s, run in runs),
        _in_place((s.waterings, run.given) for s, run in runs),
        _in_place((s.top_ups, run.topped) for s, run in runs),
        _in_place((s.transfers, run.moved) for s, run in runs),
        _in_place((s.tanks, run.dried) for s, run in runs),
    )


def _joining_supplies(works: Waterworks) -> set[int]:
    """Those that may run short on some day, so that who draws first matters to who draws next."""
    asked: list[Floats | float] = [0.0] * len(works.supplies)
    for watering in works.waterings:
        for source in watering.sources:
            if isinstance(source, int):
                asked[source] = asked[source] + watering.asked
    for top_up in works.top_ups:
        asked[top_up.supply] = asked[top_up.supply] + top_up.up_to
    return {
        i
        for i, (supply, most) in enumerate(zip(works.supplies, asked, strict=True))
        if np.any(most > supply.available)
    }


def _ties(works: Waterworks, joining: set[int]) -> Iterable[tuple[int, int]]:
    """Pairs that touch: tanks are numbered first, then supplies, then beds."""
    supplies = len(works.tanks)
    beds = supplies + len(works.supplies)
    for i, tank in enumerate(works.tanks):
        if tank.spills_to is not None:
            yield i, tank.spills_to
    for i, watering in enumerate(works.waterings):
        for source in watering.sources:
            if isinstance(source, Line):
                yield beds + i, source.tank
            elif source in joining:
                yield beds + i, supplies + source
    for top_up in works.top_ups:
        if top_up.supply in joining:
            yield top_up.tank, supplies + top_up.supply
    for transfer in works.transfers:
        yield transfer.origin, transfer.reserve


def _one(works: Waterworks, of_tank: list[int], of_bed: list[int], number: int) -> Separate:
    tanks = _where(number == each for each in of_tank)
    waterings = _where(number == each for each in of_bed)
    top_ups = _where(top_up.tank in tanks for top_up in works.top_ups)
    transfers = _where(transfer.origin in tanks for transfer in works.transfers)
    drawn = {s for i in waterings for s in works.waterings[i].sources if isinstance(s, int)}
    supplies = sorted(drawn | {works.top_ups[i].supply for i in top_ups})
    tank_at = {tank: i for i, tank in enumerate(tanks)}
    supply_at = {supply: i for i, supply in enumerate(supplies)}
    own = Waterworks(
        tuple(
            replace(tank, spills_to=None if tank.spills_to is None else tank_at[tank.spills_to])
            for tank in _picked(works.tanks, tanks)
        ),
        tuple(works.supplies[i] for i in supplies),
        tuple(_drawing(w, tank_at, supply_at) for w in _picked(works.waterings, waterings)),
        tuple(_filling(t, tank_at, supply_at) for t in _picked(works.top_ups, top_ups)),
        tuple(_moving(t, tank_at) for t in _picked(works.transfers, transfers)),
    )
    return Separate(own, tanks, waterings, top_ups, transfers)


def _drawing(watering: Watering, tank_at: dict[int, int], supply_at: dict[int, int]) -> Watering:
    sources = tuple(
        supply_at[source] if isinstance(source, int) else replace(source, tank=tank_at[source.tank])
        for source in watering.sources
    )
    return replace(watering, sources=sources)


def _filling(top_up: TopUp, tank_at: dict[int, int], supply_at: dict[int, int]) -> TopUp:
    return replace(top_up, tank=tank_at[top_up.tank], supply=supply_at[top_up.supply])


def _moving(transfer: Transfer, tank_at: dict[int, int]) -> Transfer:
    return replace(transfer, origin=tank_at[transfer.origin], reserve=tank_at[transfer.reserve])


def _where(flags: Iterable[bool]) -> tuple[int, ...]:
    return tuple(i for i, flag in enumerate(flags) if flag)


def _picked(of: Sequence[Each], places: Sequence[int]) -> list[Each]:
    return [of[i] for i in places]


def _in_place(found: Iterable[tuple[Sequence[int], Sequence[Each]]]) -> tuple[Each, ...]:
    placed = {place: each for places, own in found for place, each in zip(places, own, strict=True)}
    return tuple(placed[i] for i in sorted(placed))
