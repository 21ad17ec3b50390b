"""A garden followed day by day by card, Today and rule: the same sums as the season, and what mornings are worth."""

from functools import cache

import numpy as np
import pytest
from pytest import approx

import public_records
from euhydra.garden import edits
from euhydra.planner.chain import Chain, run_chain
from euhydra.planner.today.following import Follow, Followed, follow
from euhydra.planner.today.foreseen import forecaster
from euhydra.planner.today.worth import following
from sound_gardens import BASES
from sweeps import swept

YEARS = 2

SLACK = 0.01
"""Share of days by which chance may lead two years astray. [-] Over ten, it is measured by the benchmarks."""

SKILL = 0.7
"""Share of first days told right: about what services say of rain or no rain tomorrow, from memory."""

GARDENS = ("tap_pots", "barrel_two_beds")


def on_a_switch():
    """A bed whose timer feels the soil."""
    garden = BASES["tap_bed"]()
    timer = garden.timers[0].model_copy(update={"kind": "moisture"})
    return edits.put(garden, "timers", timer)


@cache
def chain_of(name: str, place: str) -> Chain:
    garden = on_a_switch() if name == "a switch" else BASES[name]()
    at = garden.place.model_copy(update={"latitude_deg": public_records.PLACES[place]})
    return run_chain(edits.replace(garden, place=at), _record(place))


def _record(place: str):
    return public_records.halves(place)[1].last_years(YEARS)


@cache
def followed(name: str, place: str, by: Follow, skill: float | None = None) -> Followed:
    foretell = None if skill is None else forecaster(chain_of(name, place).record, skill)
    found = follow(chain_of(name, place), by, foretell)
    assert isinstance(found, Followed)
    return found


def dry_days(found: Followed) -> int:
    return sum(year.dry_days for year in found.years)


@pytest.mark.parametrize(
    "name", [*GARDENS, "tap_two_beds", "barrel_shared", "float_troughs", "a switch"]
)
def test_by_the_card_it_comes_to_the_season_as_every_page_has_it(name):
    season = chain_of(name, "champion").season
    found = followed(name, "champion", Follow.CARD)
    given = sum(float(season.run.supplied(i).sum()) for i in range(len(season.ways)))
    assert sum(year.litres for year in found.years) == approx(given, rel=1e-9)
    assert dry_days(found) == sum(int(bed.is_stressed.sum()) for bed in season.beds)


@pytest.mark.parametrize("place", swept(public_records.PLACES, ["champion"]))
@pytest.mark.parametrize("name", swept(GARDENS, ["barrel_two_beds"]))
def test_mornings_spare_water_and_leave_nothing_drier_than_the_card(name, place):
    card, today = followed(name, place, Follow.CARD), followed(name, place, Follow.TODAY, SKILL)
    assert today.litres < card.litres
    assert today.dry_share <= card.dry_share + SLACK


@pytest.mark.parametrize("name", swept(GARDENS, ["barrel_two_beds"]))
def test_a_forecast_that_knows_nothing_is_no_worse_than_none(name):
    none, useless = (followed(name, "champion", Follow.TODAY, skill) for skill in (None, 0.0))
    assert useless.litres <= 1.02 * none.litres
    assert useless.dry_share <= none.dry_share + SLACK


def test_a_forecast_of_full_skill_tells_tomorrow_as_it_will_be():
    record = _record("champion")
    foretell = forecaster(record, 1.0)
    for day in range(100, 160):
        tomorrow = foretell(day)[0]
        assert tomorrow.chance == float(record.precip[day] >= 1.0)
        if tomorrow.chance:
            assert tomorrow.rain == approx(record.precip[day])


@pytest.mark.parametrize("skill", swept([0.0, SKILL], [SKILL]))
def test_its_chances_are_right_as_often_as_they_say(skill):
    record = public_records.halves("brussels")[1]
    foretell = forecaster(record, skill)
    told = [foretell(day)[0].chance for day in range(len(record.days) - 7)]
    wet = record.precip[: len(told)] >= 1.0
    high = np.array(told) >= np.median(told)
    for side in (high, ~high):
        if side.sum() > 200:
            assert float(wet[side].mean()) == approx(float(np.array(told)[side].mean()), abs=0.04)


@pytest.mark.parametrize("name", swept(GARDENS, ["barrel_two_beds"]))
def test_what_it_is_worth_is_told_against_the_card(name):
    chain = chain_of(name, "champion")
    *so_far, found = following(chain)
    assert [len(each.by) for each in so_far] == [0, 1, 2]
    assert found.next_way is None
    card, today = (found.of(by) for by in (Follow.CARD, Follow.TODAY))
    assert card.litres == approx(followed(name, "champion", Follow.CARD).litres)
    saves = (card.litres - today.litres) / card.litres
    assert found.said.code == "worth-saves"
    assert found.said.values["share"].value == approx(saves)
