"""Stores without a lid: rain falls on them, sun and wind take from them."""

from datetime import date

import numpy as np
import pytest
from pytest import approx

from euhydra.core import weather
from euhydra.garden import demo, edits, normals
from euhydra.planner.chain import run_chain
from euhydra.planner.season import absence
from euhydra.planner.store.answer import answer_store
from gardens import one_barrel, with_part

RECORD = normals.make_days(demo.normals(), 3)


def seasons():
    """The one barrel under a lid, and as a pond of the same size; neither fed by a roof."""
    lid = one_barrel().model_copy(update={"roofs": (), "downspouts": ()})
    lid = edits.replace(with_part(lid, "stores", topped_by=None))
    pond = with_part(lid, "stores", kind="pond", stand_m=0.0)
    return [run_chain(garden, RECORD).season for garden in (lid, pond)]


def test_a_pond_dries_by_open_water_and_takes_rain():
    lid, pond = seasons()
    area = pond.garden.stores[0].plan_m2
    et0 = weather.reference_et(RECORD, pond.garden.place.latitude_deg, 0.0)
    tank = pond.works.tanks[0]
    assert tank.dries == approx(1.05 * et0 * area)  # FAO-56 table 12: open water
    assert tank.inflow == approx(RECORD.precip * area)
    assert lid.works.tanks[0].dries is None
    told = {r.code: r for r in answer_store(pond).groups[0].verdict.reasons}["store-open-water"]
    dried = float(pond.run.dried[0].sum()) / RECORD.years / 1000
    assert told.values["takes"].value == approx(dried)
    assert pond.run.dried[0].sum() > 0
    assert np.all(pond.run.dried[0] <= tank.dries + 1e-9)
    assert np.all(pond.run.level[0] >= -1e-9)


@pytest.mark.parametrize("which", [0, 1])
def test_what_dries_is_in_the_balance(which):
    season = seasons()[which]
    assert abs(season.run.residual(0)) < 1e-6
    assert abs(season.run.tank_run(0).mass_balance_residual) < 1e-6
    wide = season.with_widths(0, np.array([1.0, 2.0]))
    assert wide.level[:, 0] == approx(season.run.level[0])


def test_it_dries_while_nobody_is_there():
    _, pond = seasons()
    away = absence.Absence(date(2026, 7, 1), date(2026, 7, 15), date(2026, 7, 1), (1.0,))
    start = absence.starts_of(pond, away)[0]
    works = absence.works_of(pond, away, slice(start, start + away.days))
    assert len(works.tanks[0].dries) == away.days
