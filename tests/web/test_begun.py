"""Each way to begin, kept as it is shown: a garden that answers on every page."""

import pytest

from euhydra.planner.beginning.asks import way_kinds
from visitor import Visitor

WAYS = [way for way in way_kinds() if way != "empty"]

STATIONS = ("catch", "store", "need", "push", "lay", "time", "build", "keep")

BESIDE = ("steps", "first-run", "card", "weather")
"""Pages that have to open too."""


@pytest.fixture(scope="module")
def stranger(tmp_path_factory: pytest.TempPathFactory) -> Visitor:
    """One program for all of them: a garden begun beside others is none the worse."""
    return Visitor(tmp_path_factory.mktemp("begun"))


@pytest.mark.parametrize("way", WAYS)
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
