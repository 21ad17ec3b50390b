"""The morning's page: where a garden opens, what it says of what is missing, what its Done stands for."""

from contextlib import closing
from datetime import date, datetime, timedelta

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


def bring(client, text: str):
    return client.post("/gardens/1/forecast", files={"file": ("ahead.csv", text, "text/csv")})


def week(first: date, line: str) -> str:
    days = (first + timedelta(days=n) for n in range(7))
    return "date,rain_mm,chance,tmin_c,tmax_c\n" + "".join(f"{day},{line}\n" for day in days)


def test_a_forecast_from_a_file_stands_until_it_is_over_or_forgotten(tmp_path):
    client = served_garden(tmp_path, tap_two_beds())
    page = bring(client, week(date.today(), "12.5,0.6,11,23"))
    assert page.status_code == 200
    assert "ahead.csv" in page.text
    assert page.text.count("12.5 mm") == 7
    assert "ahead.csv" not in client.post("/gardens/1/forecast/forgotten").text


@pytest.mark.parametrize(
    ("text", "said"),
    [
        (week(date.today() - timedelta(days=9), "1,1,2,3"), "before this morning"),
        (week(date.today(), "900,1,2,3"), "rain goes from"),
        (week(date.today(), "much,1,2,3"), "is no number"),
        ("day;rain\n", "Begin with a line"),
        ("date,rain_mm\n", "There is no day in it"),
    ],
)
def test_a_forecast_that_cannot_be_is_refused_and_none_is_kept(tmp_path, text, said):
    client = served_garden(tmp_path, tap_two_beds())
    answer = bring(client, text)
    assert answer.status_code == 422
    assert said in answer.text
    assert "ahead.csv" not in client.get("/gardens/1/today").text


def test_the_stand_in_tells_a_week(tmp_path):
    client = served_garden(tmp_path, tap_two_beds())
    page = client.post("/gardens/1/forecast/asked")
    assert page.status_code == 200
    assert page.text.count('<th scope="row">') >= 7
    assert client.post("/gardens/1/forecast/asked").text == page.text  # the same morning alike
