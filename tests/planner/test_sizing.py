import numpy as np
import pytest
from pytest import approx

from euhydra.garden import demo, normals
from euhydra.planner.chain import run_chain
from euhydra.planner.store import sizing
from gardens import one_barrel

RECORD = normals.make_days(demo.normals(), 6)


@pytest.fixture(scope="module")
def store():
    return run_chain(one_barrel(), RECORD).store.groups[0]


@pytest.fixture(scope="module")
def curve(store):
    return sizing.size_curve(store.group, store.tank, store.season, store.hardest)


def test_the_present_size_stands_on_the_curve_as_it_stands_on_the_page(store, curve):
    now = int(np.flatnonzero(curve.volume == 300)[0])
    assert curve.met[now] == approx(store.run.volumetric_reliability)
    assert curve.spill[now] == approx(store.run.spill.sum() / RECORD.years)


def test_more_storage_never_harms_and_the_band_holds_the_line(curve):
    assert len(curve.volume) == sizing.SIZES
    assert (np.diff(curve.met) > -0.01).all()  # head and timer make for hundredths, not more
    assert (np.diff(curve.spill) < 1).all()
    assert (curve.low <= curve.high).all()
    assert 0 < curve.knee < sizing.SIZES - 1


def test_six_dry_weeks_hold_six_weeks_of_need(store):
    dead = store.season.works.tanks[0].dead
    volume = sizing.six_weeks_volume(store.group, dead, sizing.HardestMonth(7, 10.0))
    assert volume * (1 - dead / 300) == approx(420)


def test_lasting_is_water_over_need(store):
    lasts, weeks = store.lasting
    drawable = 300 * (1 - 0.06)
    assert lasts.amount.value / 86400 == round(drawable / store.hardest.litres_a_day)
    assert weeks.amount.value * 1000 == approx(42 * store.hardest.litres_a_day / 0.94)


def test_a_width_of_one_among_many_is_the_store_as_it_stands():
    """Two groups, one of them made wider: plain numbers and arrays side by side."""
    season = run_chain(demo.garden(), RECORD).store.season
    for tank in range(len(season.groups)):
        wide = season.with_widths(tank, np.array([1.0, 2.0, 3.0]))
        alone = season.run.tank_run(tank)
        assert wide.level[:, 0] == approx(alone.level)
        assert wide.supplied[:, 0] == approx(alone.supplied)
        assert wide.supplied[:, 2].sum() >= wide.supplied[:, 1].sum() >= alone.supplied.sum() - 1e-6
