"""Each way to begin, kept as it is shown: a garden that answers on every page."""

import pytest

from euhydra.planner.beginning.asks import way_kinds
from sweeps import swept
from visitor import Visitor

WAYS = [way for way in way_kinds() if way != "empty"]

STATIONS = ("catch", "store", "need", "push", "lay", "time", "build", "keep")

BESIDE = ("steps", "first-run", "card", "weather")
"""Pages that have to open too."""


@pytest.fixture(scope="module")
def stranger(tmp_path_factory: pytest.TempPathFactory) -> Visitor:
    """One program for all of them: a garden begun beside others is none the worse."""
    return Visitor(tmp_path_factory.mktemp("begun"))


@pytest.mark.parametrize("way", swept(WAYS, ["washing"]))
def test_what_is_kept_as_it_is_shown_answers_on_every_page(stranger: Visitor, way: str):
    stranger.open(f"/begin/{way}?town=Brussels")
    stranger.send_with("Keep this garden")
    answers = stranger.client.get(f"{stranger.garden}/answers.json?cures=no").json()["stations"]
    assert list(answers) == list(STATIONS)
    waits = [key for key, each in answers.items() if each["needed"] and each["mark"] == "waits"]
    assert waits == []
    for path in (*STATIONS, *BESIDE):
        stranger.open(path)
        assert stranger.status == 200, path


@pytest.mark.parametrize(
    ("asked", "units"),
    [
        ("town=Portland, OR", "us"),
        ("town=Portland, OR&units=", "us"),
        ("town=Portland, OR&units=metric", "metric"),
        ("town=Brussels&units=us", "us"),
        ("town=Brussels&units=", "metric"),
        ("units=furlongs", "metric"),
    ],
)
def test_units_are_those_of_the_country_until_somebody_chooses(stranger, asked, units):
    page = stranger.client.get(f"/begin/barrel?{asked}")
    assert page.context["begun"].units == units


@pytest.mark.parametrize(
    ("town", "words"),
    [("Boulder, CO", "larger town"), ("Portlnad", "Portland, Oregon"), ("san", "San Diego")],
)
def test_a_town_that_is_not_known_is_told_at_its_field(stranger, town, words):
    stranger.open(f"/begin/barrel?town={town}")
    field = stranger.page.get_element_by_id("way-town")
    assert (field.get("value"), field.get("aria-invalid")) == (town, "true")
    assert words in stranger.page.get_element_by_id(field.get("aria-describedby")).text_content()


@pytest.mark.parametrize(
    ("typed", "units"),
    [
        ({"town": "Denver", "units": ""}, "us"),
        ({"town": "Denver", "units": "metric"}, "metric"),
        ({"town": "Brussels", "units": ""}, "metric"),
        ({"latitude_deg": "50.8", "elevation_m": "30 m", "units": ""}, "metric"),
    ],
)
def test_an_empty_sheet_is_in_the_units_of_its_country_too(tmp_path, typed, units):
    visitor = Visitor(tmp_path)
    made = visitor.client.post("/gardens", data={"name": "Plot"} | typed)
    assert made.status_code == 200
    assert visitor.client.get("/gardens/1/garden.json").json()["units"] == units
