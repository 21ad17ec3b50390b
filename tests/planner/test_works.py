"""What each bed draws from what: second hoses, cans, washdays, hands, reserves and top-ups."""

import numpy as np
import pytest
from pytest import approx

from euhydra.core.waterworks import Line
from euhydra.garden import demo, edits, normals
from euhydra.garden.part import Point
from euhydra.garden.sources import Greywater
from euhydra.garden.stores import Store
from euhydra.planner.catch import washing_week
from euhydra.planner.chain import run_chain
from euhydra.planner.season import works
from euhydra.planner.time import programme
from euhydra.planner.water import solving, zones
from gardens import beds_alike, one_barrel, with_part

RECORD = normals.make_days(demo.normals(), 3)
BED = "middle-bed"


def second_store(**fields) -> Store:
    return Store(
        id="far-barrel",
        name="Far barrel",
        at=Point(x_m=9, y_m=2),
        volume_m3=0.2,
        height_m=0.9,
        outlet_height_m=0.1,
        **fields,
    )


def season(garden):
    found = run_chain(garden, RECORD).store
    return found.season


def lines_of(season, tank: int) -> list[Line]:
    sources = [s for watering in season.works.waterings for s in watering.sources]
    return [s for s in sources if isinstance(s, Line) and s.tank == tank]


def tank_named(season, store_id: str) -> int:
    return next(i for i, g in enumerate(season.groups) if any(s.id == store_id for s in g.stores))


@pytest.fixture(scope="module")
def carried():
    """A second barrel and no hose to it: somebody carries cans from there when the line gives too little."""
    garden = edits.put(one_barrel(), "stores", second_store())
    return season(with_part(garden, "beds", hand_from="far-barrel"))


def test_a_store_without_a_hose_is_carried_in_cans(carried):
    (line,) = lines_of(carried, tank_named(carried, "far-barrel"))
    tank = carried.works.tanks[line.tank]
    # A can a minute whatever the level, for an hour at the most: 600 L.
    assert line.curve.delivered(tank.capacity, 0.1) == approx(0.1 * works.CAN_FLOW)
    assert line.curve.delivered(tank.dead + 100, 0.1) == approx(0.1 * works.CAN_FLOW)
    assert set(np.unique(line.hours)) == {1.0}
    assert not line.is_timed


def test_cans_are_carried_only_while_the_hose_gives_too_little(carried):
    near, far = tank_named(carried, "shed-barrel"), tank_named(carried, "far-barrel")
    from_near, from_far = (carried.run.drawn_from(tank) for tank in (near, far))
    carried_on = from_far > 0
    assert carried_on.any()
    wanted = carried.works.waterings[0].wanted
    assert np.all(from_near[carried_on] < wanted[carried_on])
    # The timer on the hose runs blindly and may give too much; a can is not carried for nothing.
    assert np.all(from_far <= np.maximum(wanted - from_near, 0) + 1e-6)


def test_a_second_hose_runs_until_the_bed_has_what_it_lacks():
    garden = beds_alike(2)
    garden = edits.put(garden, "stores", second_store(stand_m=0.6))
    garden = with_part(garden, "timers", 1, begins_at="far-barrel")
    # Both hoses end at the first bed: the second bed is gone, its lines lie in the first.
    garden = edits.remove(garden, "middle-bed-1")
    lines = [
        p.model_copy(update={"waters": "middle-bed-0"}) if p.spacing_m else p for p in garden.pipes
    ]
    garden = edits.replace(garden, pipes=tuple(lines))
    garden = with_part(garden, "beds", sources=("shed-barrel", "far-barrel"))
    found = season(garden)
    zone = next(z for z in zones.zones_of(garden) if z.source.id == "far-barrel")
    (line,) = lines_of(found, tank_named(found, "far-barrel"))
    whole = solving.drain_curve(zone)
    tank = found.works.tanks[line.tank]
    assert line.curve.delivered(tank.capacity, 0.5) == approx(whole.delivered(tank.capacity, 0.5))
    assert not line.is_timed
    assert line.hours.max() == approx(zone.window_s / 3600)


@pytest.mark.parametrize("every", [1, 3, 7])
def test_by_hand_the_roots_are_filled_every_so_many_days(every):
    garden = with_part(edits.remove(one_barrel(), "shed-timer"), "beds", by_hand_d=every)
    (watering,) = season(garden).works.waterings
    days = np.flatnonzero(watering.wanted > 0)
    assert len(days)
    assert set(days % every) == {0}
    if every > 1:
        more = season(with_part(garden, "beds", by_hand_d=1)).works.waterings[0].wanted
        # Seldom or daily, over the years about the same is drunk and replaced.
        assert watering.wanted.sum() == approx(more.sum(), rel=0.25)


def laundry(**fields) -> Greywater:
    return Greywater(id="laundry", name="Laundry", bed_id=BED, load_m3=0.05, **fields)


def test_greywater_comes_on_washdays_that_are_dry():
    system = laundry(loads=(2, 0, 0, 1, 0, 0, 0), rest_before_m=0.005)
    garden = edits.put(one_barrel(), "greywaters", system)
    litres = works.greywater_litres(garden, system, BED, RECORD)
    weekday = programme.weekday_of(RECORD.days)
    share = washing_week.share_to(garden, system, BED, 7)
    dry = RECORD.precip < 5.0
    assert litres[(weekday == 0) & dry] == approx(2 * 50 * share)
    assert litres[(weekday == 3) & dry] == approx(50 * share)
    assert not litres[~dry].any()
    assert not litres[(weekday != 0) & (weekday != 3)].any()


def test_greywater_waters_by_hand_on_its_days_only():
    garden = with_part(edits.remove(one_barrel(), "shed-timer"), "beds", crop="currant")
    garden = edits.put(garden, "greywaters", laundry(loads=(0, 0, 2, 0, 0, 0, 0)))
    garden = with_part(garden, "beds", sources=("laundry",))
    found = season(garden)
    (watering,) = found.works.waterings
    weekday = programme.weekday_of(RECORD.days)
    assert watering.wanted[weekday == 2].any()
    assert not watering.wanted[weekday != 2].any()


def test_a_bed_may_not_take_more_than_what_is_there(carried):
    for tank in range(len(carried.groups)):
        limits = carried.works.tanks[tank]
        level = carried.run.level[tank]
        assert level.min() >= limits.dead - 1e-6
        assert level.max() <= limits.capacity + 1e-6


def test_water_under_the_lowest_tap_in_use_is_dead():
    barrel = one_barrel()
    high = with_part(barrel, "stores", outlet_height_m=0.3)
    (group,) = season(barrel).groups
    (lifted,) = season(high).groups
    assert works.dead_litres(high, lifted) > works.dead_litres(barrel, group)
    heights = {name: getattr(barrel.stores[0], name) for name in ("ground_m", "stand_m")}
    beside = second_store(linked_to="shed-barrel", **heights)
    unused = edits.put(barrel, "stores", beside)
    linked = season(unused).groups[0]
    # The far barrel's tap is not in use: water below the near one stays, whatever the far has.
    near = next(store for store in linked.stores if store.id == "shed-barrel")
    assert works.dead_litres(unused, linked) == approx(linked.dead_m3(near) * 1000)


def test_a_reserve_is_filled_the_day_before_rain():
    garden = edits.put(one_barrel(), "stores", second_store())
    garden = with_part(garden, "stores", moves_to="far-barrel", moves_before_m=0.008, moves_m3=0.05)
    found = season(garden)
    (transfer,) = found.works.transfers
    assert (transfer.origin, transfer.reserve) == (
        tank_named(found, "shed-barrel"),
        tank_named(found, "far-barrel"),
    )
    assert transfer.most == approx(50)
    assert np.array_equal(transfer.is_due[:-1], RECORD.precip[1:] >= 8.0)
    assert not transfer.is_due[-1]


def test_a_top_up_is_a_share_of_what_the_store_holds():
    garden = edits.put(one_barrel(), "taps", demo.garden().taps[0])
    garden = with_part(garden, "stores", topped_by="garden-tap", top_up_below=0.2, top_up_to=0.4)
    found = season(garden)
    (top,) = found.works.top_ups
    capacity = found.works.tanks[0].capacity
    assert (top.below, top.up_to) == (approx(0.2 * capacity), approx(0.4 * capacity))
    # With the tap behind it the store is never found under the mark two mornings running.
    low = found.run.level[0] < 0.2 * capacity - 1e-6
    assert not np.any(low[1:] & low[:-1] & (found.run.supplied(0)[1:] == 0))


def test_a_deep_watering_counts_against_what_its_tap_may_give():
    """A well of 30 L a day: on the days of 20 L by hand its line has 10, on the others all."""
    garden = demo.garden()
    tap = garden.taps[0].model_copy(update={"most_a_day_m3": 0.03})
    garden = edits.put(garden, "taps", tap)
    bed = garden.beds[0].model_copy(
        update={"hand_from": tap.id, "deep_m3": 0.02, "deep_every_d": 7}
    )
    season = run_chain(edits.put(garden, "beds", bed), RECORD).season
    everyone, deep = (
        season.works.supplies[i].available
        for i, (part, to) in enumerate(works.supplies_of(season.garden))
        if part.id == tap.id and to in (works.ANYONE, bed.id)
    )
    assert set(np.unique(everyone).round(6)) == {10.0, 30.0}
    assert everyone + deep == approx(np.full(len(deep), 30.0) * (deep > 0) + 30.0 * (deep == 0))
