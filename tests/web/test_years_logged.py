"""Years of the log: each can be looked at, reported and learned from."""

from contextlib import closing
from datetime import date

import pytest

from euhydra.planner.chain import run_chain
from euhydra.records import database, gardens, log, weather
from euhydra.web.app import create_app
from served import client_of
from sound_gardens import RECORD, barrel_two_beds
from twins import Season, Truth


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    """A garden with a season long gone in its log, in which its roof brought less."""
    data = tmp_path_factory.mktemp("data")
    with client_of(create_app(data)) as client:
        with closing(database.connect(client.app.state.database)) as conn:
            garden_id = gardens.create(conn, barrel_two_beds())
            weather.add(conn, garden_id, RECORD, "Days")
            season = Season(run_chain(barrel_two_beds(), RECORD), [Truth("roof", "roof", 0.7)], 7)
            log.add_all(conn, garden_id, ((f"e{i}", e) for i, e in enumerate(season.play())))
        client.year = season.year
        yield client


def test_a_year_that_is_over_is_told_learned_from_and_reported(client):
    page = client.get(f"/gardens/1/judge?at={client.year}")
    choices = page.context["choices"]
    assert [c.name for c in choices] == [
        str(y) for y in range(date.today().year, client.year - 1, -1)
    ]
    assert [c.name for c in choices if c.is_here] == [str(client.year)]
    answer = page.context["answer"]
    assert answer.readings == []  # no finger of then says anything of today
    (claim,) = answer.claims
    assert claim.kind.value == "roof"
    told = client.get(f"/gardens/1/report?at={client.year}").context["answer"]
    assert (told.first, told.last) == (date(client.year, 1, 1), date(client.year, 12, 31))
    table = client.get(f"/gardens/1/season.csv?at={client.year}")
    assert "Roof" not in table.text
    assert "felt_dry" in table.text
    form = {
        "claim": claim.key,
        "at": str(client.year),
        "based_on": str(page.context["revision"].id),
    }
    assert client.post("/gardens/1/lessons", data=form).status_code == 200
    garden = client.get("/gardens/1/need").context["revision"].garden
    assert garden.roofs[0].runoff_coefficient is not None
    again = client.get(f"/gardens/1/judge?at={client.year}").context["answer"]
    assert again.claims == ()


def test_a_year_of_which_nothing_is_logged_is_the_present_one(client):
    for at in ("1850", "soon", ""):
        assert client.get(f"/gardens/1/judge?at={at}").status_code == 200
