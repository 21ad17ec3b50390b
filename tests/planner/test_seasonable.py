"""Crops out of their season: frost, cold, heat, the other half of the world; and winter."""

import numpy as np
import pytest

from euhydra.core.weather import DailyWeather
from euhydra.garden import demo, edits, normals
from euhydra.garden.plantings import PlantingDate
from euhydra.planner.answers import Mark
from euhydra.planner.need import daily, seasonable
from euhydra.planner.need.answer import answer_need
from gardens import one_barrel, with_part


def record(cold: float, warm: float, *, southern: bool = False) -> DailyWeather:
    """Ten years of means between a coldest and a warmest day, nights ten degrees colder than days."""
    days = np.arange(np.datetime64("2001-01-01"), np.datetime64("2011-01-01"))
    day = (days - days.astype("datetime64[Y]")).astype(int)
    wave = np.cos((day - 20) / 365 * 2 * np.pi) * (-1 if southern else 1)
    mean = (warm + cold) / 2 - (warm - cold) / 2 * wave
    return DailyWeather.of(
        days, precip=np.full(len(days), 1.0), temp_min=mean - 5, temp_max=mean + 5
    )


def told(crop: str, month: int, day: int, weather: DailyWeather, latitude: float = 50.0):
    garden = with_part(
        one_barrel(), "beds", crop=crop, planting=PlantingDate(month=month, day=day), cleared=None
    )
    garden = edits.replace(garden, place=garden.place.model_copy(update={"latitude_deg": latitude}))
    need = daily.need_of(garden.beds[0], garden, weather)
    return seasonable.out_of_season(need, garden), need, garden


NORTH = record(-2.0, 20.0)  # frost where means are under 5 °C: to mid-April, from late October


@pytest.mark.parametrize(
    ("crop", "month", "code"),
    [
        ("tomato", 3, "need-planted-into-frost"),
        ("tomato", 5, None),
        ("tomato", 8, "need-harvest-into-frost"),
        ("bean", 6, None),
        ("lettuce", 4, None),
        ("garlic", 10, None),
        ("raspberry", 3, None),
    ],
)
def test_frost_is_told_of_what_is_tender(crop, month, code):
    found, need, garden = told(crop, month, 15, NORTH)
    assert [said.code for said in found] == ([code] if code else [])
    verdict = answer_need(need, garden).verdict
    assert (verdict.mark is not Mark.WORKS) >= bool(found)
    if found:
        assert verdict.reasons[0].code == code


def test_the_date_that_would_do_does():
    (said,), *_ = told("tomato", 3, 15, NORTH)
    words = said.values["then"]
    assert words.startswith("Planted on ")
    day, month = words.removeprefix("Planted on ").removesuffix(" it would do.").split()
    number = 1 + list(seasonable.MONTH_NAMES).index(month)
    again, *_ = told("tomato", number, int(day), NORTH)
    assert again == ()


def test_the_other_half_of_the_world_has_its_own_season():
    south = record(-2.0, 20.0, southern=True)
    assert told("tomato", 11, 15, south, -40.0)[0] == ()
    (said,) = told("tomato", 5, 15, south, -40.0)[0]
    assert said.code == "need-planted-into-frost"


def test_cool_crops_in_great_heat_and_warm_ones_in_the_cold():
    (hot,) = told("lettuce", 7, 1, record(12.0, 33.0))[0]
    assert hot.code == "need-too-hot-for-it"
    (cold,) = told("tomato", 12, 1, record(9.0, 26.0))[0]
    assert cold.code == "need-too-cold-for-it"
    (never,) = told("melon", 6, 1, record(-4.0, 11.0))[0]
    assert "No date" in never.values["then"]


def test_winter_is_said_of_what_grows_in_it():
    _, need, _ = told("garlic", 10, 15, NORTH)
    (said,) = seasonable.in_winter(need)
    assert said.code == "need-winter-rain"
    dry = record(-2.0, 20.0)
    dry = DailyWeather.of(
        dry.days, precip=np.zeros(len(dry.days)), temp_min=dry.temp_min, temp_max=dry.temp_max
    )
    _, need, _ = told("garlic", 10, 15, dry)
    (said,) = seasonable.in_winter(need)
    assert said.code == "need-winter-watered"
    assert seasonable.in_winter(told("tomato", 5, 15, NORTH)[1]) == ()


def test_the_demo_is_in_season():
    garden, weather = demo.garden(), normals.make_days(demo.normals(), 10)
    for part in garden.planted:
        assert seasonable.out_of_season(daily.need_of(part, garden, weather), garden) == ()
