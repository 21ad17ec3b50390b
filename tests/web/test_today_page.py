"""The morning's page: where a garden opens, what it says of what is missing, what its Done stands for."""

from contextlib import closing
from datetime import datetime

import pytest

from euhydra.garden.logbook import LogEntry
from euhydra.garden.model import Garden, Place
from euhydra.planner.steps.answer import steps_of
from euhydra.records import database, log, prices
from served import served_garden
from sound_gardens import tap_two_beds


def opens_at(client) -> str:
    answer = client.get("/gardens/1", follow_redirects=False)
    return answer.headers["location"].rsplit("/", 1)[-1]


def test_a_garden_opens_with_its_morning_once_it_is_built(tmp_path):
    garden = tap_two_beds()
    client = served_garden(tmp_path, garden)
    assert opens_at(client) == "catch"
    with closing(database.connect(client.app.state.database)) as conn:
        for step in steps_of(garden):
            prices.tick(conn, 1, "step", step.key, True)
    assert opens_at(client) == "today"


def test_a_garden_opens_with_its_morning_once_its_log_is_kept(tmp_path):
    client = served_garden(tmp_path, tap_two_beds())
    with closing(database.connect(client.app.state.database)) as conn:
        log.add(conn, 1, "one", LogEntry("rain", datetime.now(), None, (0.004,)))
    assert opens_at(client) == "today"


@pytest.mark.parametrize("has_weather", [True, False])
def test_what_is_missing_is_said_in_words(tmp_path, has_weather):
    empty = Garden(name="Bare", place=Place(latitude_deg=50.0, elevation_m=10.0))
    garden = tap_two_beds() if not has_weather else empty
    page = served_garden(tmp_path, garden, has_weather).get("/gardens/1/today")
    assert page.status_code == 200
    assert "every morning is told here" in page.text


@pytest.mark.parametrize(
    "asked", ["soon=much&later=none&warmth=hot", "soon=&warmth=frost", "soon=x"]
)
def test_a_forecast_in_words_is_kept_as_it_was_chosen(tmp_path, asked):
    page = served_garden(tmp_path, tap_two_beds()).get(f"/gardens/1/today?{asked}")
    assert page.status_code == 200
    chosen = dict(pair.split("=") for pair in asked.split("&"))
    for word in chosen.values():
        if word not in ("", "x"):
            assert f'value="{word}"\n      selected' in page.text
