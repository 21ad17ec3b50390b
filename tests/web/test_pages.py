"""Routes through the test client: what is rendered, refused and kept."""

import re

import pytest

from euhydra.garden import demo, normals
from euhydra.records import database, gardens, weather
from euhydra.web.app import create_app
from euhydra.web.pages.stations import PAGES as STATION_PAGES
from euhydra.web.security import MOST_BODY, SECURITY_HEADERS
from gardens import one_barrel
from served import client_of

BASE = "http://127.0.0.1"


@pytest.fixture
def client(tmp_path):
    with client_of(create_app(tmp_path), base_url=BASE, follow_redirects=False) as client:
        yield client


def plan(client, garden):
    """Put a garden and two years of weather into the client's database, as number 1."""
    conn = database.connect(client.app.state.database)
    garden_id = gardens.create(conn, garden)
    months = demo.normals()
    weather.add(conn, garden_id, normals.make_days(months, 2), "Usual months", months)
    conn.close()
    return client


@pytest.fixture
def planned(client):
    """A client over a garden of one barrel, number 1."""
    return plan(client, one_barrel())


PAGES = [
    "place",
    "weather",
    "catch",
    "greywater",
    "taps",
    "store",
    "shares",
    "need",
    "push",
    "lay",
    "time",
    "card",
    "installation",
]


def fields_of(html: str, form: str) -> dict[str, str]:
    """Names and values of a form as the page shows it."""
    body = re.search(rf'<details class="form" id="{form}".*?</form>', html, re.S)[0]
    values = dict(re.findall(r'<input[^>]*?name="([^"]+)" value="([^"]*)"', body))
    for name, options in re.findall(r'<select[^>]*?name="([^"]+)".*?>(.*?)</select>', body, re.S):
        chosen = re.search(r'value="([^"]*)" selected', options)
        values[name] = chosen[1] if chosen else ""
    return values


@pytest.mark.parametrize("page", PAGES)
def test_pages_of_the_demo(client, page):
    answer = plan(client, demo.garden()).get(f"/gardens/1/{page}")
    assert answer.status_code == 200
    assert answer.template.name == f"{page}.html"
    assert "Not yet." not in answer.text


def test_a_garden_without_anything_teaches(client):
    form = {"name": "Bare", "latitude_deg": "41.2", "elevation_m": "30 m"}
    assert client.post("/gardens", data=form).headers["location"].endswith("/gardens/1/weather")
    for station in STATION_PAGES:
        answer = client.get(f"/gardens/1/{station}")
        assert answer.status_code == 200
        assert "Not yet." in answer.text or station in ("lay", "keep")
        assert 'class="teach' in answer.text


def test_the_next_step_leads_through_an_empty_garden(client):
    client.post("/gardens", data={"name": "Bare", "latitude_deg": "41.2", "elevation_m": "30 m"})
    assert client.get("/gardens/1/time").context["next_step"].page == "weather"
    months = demo.normals()
    typed = {f"{c}-{m}": str(v) for c, values in months.items() for m, v in enumerate(values, 1)}
    client.post("/gardens/1/weather/months", data=typed)
    answer = client.get("/gardens/1/weather")
    assert answer.context["next_step"].page == "catch"
    assert "Next: Describe the roof" in answer.text


def test_a_failing_page_says_so_and_keeps_its_policy(planned, monkeypatch):
    def fail(*_):
        raise RuntimeError("broken on purpose")

    monkeypatch.setattr("euhydra.web.pages.gardens.gardens.all_gardens", fail)
    with client_of(planned.app, base_url=BASE, raise_server_exceptions=False) as client:
        answer = client.get("/")
    assert answer.status_code == 500
    assert "The program failed on this page" in answer.text
    assert answer.headers["content-security-policy"] == SECURITY_HEADERS["content-security-policy"]


def test_saving_a_form_as_it_stands_changes_nothing_of_the_garden(planned):
    before = planned.get("/gardens/1/garden.json").json()
    planned.post("/gardens/1/units", data={"based_on": "1"})  # to gallons, where values are rounded
    for station, key in (
        ("catch", "roof"),
        ("store", "store"),
        ("push", "pipe"),
        ("time", "timer"),
    ):
        page = planned.get(f"/gardens/1/{station}").text
        part = {"store": "shed-barrel", "pipe": "shed-hose"}.get(key, f"shed-{key}")
        answer = planned.post(f"/gardens/1/{station}/{key}", data=fields_of(page, part))
        assert answer.status_code == 303
    assert planned.get("/gardens/1/garden.json").json() | {"units": "metric"} == before


@pytest.mark.parametrize(
    ("field", "typed", "fault"),
    [
        ("volume_m3", "-5 L", "Too small: at least 5 L."),
        ("volume_m3", "0", "Too small: at least 5 L."),
        ("volume_m3", "9999999 L", "Too large: at most 100,000 L."),
        ("volume_m3", "a lot", "is not understood"),
        ("height_m", "90", "Say the unit too: for example 40 cm."),
        ("outlet_height_m", "2 m", "not clearly below"),
        ("outlet_height_m", "1 cm", "lies in the dregs"),
        ("name", "", "Give it a name."),
    ],
)
def test_bad_input_is_told_at_its_field_and_kept_on_the_page(planned, field, typed, fault):
    before = planned.get("/gardens/1/garden.json").text
    values = fields_of(planned.get("/gardens/1/store").text, "shed-barrel") | {field: typed}
    answer = planned.post("/gardens/1/store/store", data=values)
    assert answer.status_code == 422
    view = next(f for f in answer.context["forms"] if f.id == "shed-barrel")
    shown = next(f for f in view.fields if f.name == field)
    assert fault in shown.error
    assert shown.value == typed
    assert planned.get("/gardens/1/garden.json").text == before


def test_a_stale_page_is_refused_and_keeps_what_was_typed(planned):
    values = fields_of(planned.get("/gardens/1/store").text, "shed-barrel")
    assert (
        planned.post("/gardens/1/store/store", data=values | {"stand_m": "60 cm"}).status_code
        == 303
    )
    answer = planned.post("/gardens/1/store/store", data=values | {"stand_m": "80 cm"})
    assert answer.status_code == 409
    assert "changed elsewhere" in answer.text
    assert 'value="80 cm"' in answer.text
    assert planned.get("/gardens/1/garden.json").json()["stores"][0]["stand_m"] == 0.6


def test_undo_redo_and_units(planned):
    values = fields_of(planned.get("/gardens/1/store").text, "shed-barrel")
    planned.post("/gardens/1/store/store", data=values | {"stand_m": "60 cm"})
    stand = lambda: planned.get("/gardens/1/garden.json").json()["stores"][0]["stand_m"]  # noqa: E731
    planned.post("/gardens/1/undo", data={"back": "store"})
    assert stand() == 0.4
    planned.post("/gardens/1/redo", data={"back": "store"})
    assert stand() == 0.6


def test_writes_from_other_sites_are_refused(planned):
    for headers in ({"origin": "http://elsewhere.example"}, {"sec-fetch-site": "cross-site"}):
        answer = planned.post("/gardens/1/undo", data={}, headers=headers)
        assert answer.status_code == 403
    assert planned.post("/gardens/1/undo", data={}, headers={"origin": BASE}).status_code == 303


def test_other_names_for_this_computer_are_refused(planned):
    assert planned.get("/", headers={"host": "rebound.example"}).status_code == 400


def test_every_answer_carries_the_policy(planned):
    for path in ("/", "/gardens/1/push", "/static/css/app.css", "/nowhere"):
        policy = planned.get(path).headers["content-security-policy"]
        assert "script-src 'self'" in policy
        assert "unsafe" not in policy


def test_bodies_over_the_limit_are_refused(planned):
    big = b"x" * (MOST_BODY + 1)
    answer = planned.post("/gardens/1/weather/file", files={"file": ("big.csv", big)})
    assert answer.status_code == 413


@pytest.mark.parametrize(
    ("name", "content", "words"),
    [
        ("picture.csv", b"\x89PNG\r\n\x1a\n0000", "This is a picture"),
        ("empty.csv", b"", "Choose a file first"),
        ("swapped.csv", b"date,precip_mm,tmax_c,tmin_c\n2020-01-01,0,1,9\n", "are swapped"),
        ("odd.csv", b"date,precip_mm,tmin_c,tmax_c\n2020-01-01,0,one,9\n", "Line 2, column"),
    ],
)
def test_bad_weather_files_change_nothing(planned, name, content, words):
    before = planned.get("/gardens/1/weather").context["weather_info"]
    answer = planned.post("/gardens/1/weather/file", files={"file": (name, content)})
    assert answer.status_code == 422
    assert words in answer.text
    assert planned.get("/gardens/1/weather").context["weather_info"] == before


def test_bad_months_are_told_at_their_field(planned):
    page = planned.get("/gardens/1/weather")
    typed = page.context["typed"] | {"tmin_c-7": "35", "precip_mm-3": "-4"}
    answer = planned.post("/gardens/1/weather/months", data=typed)
    assert answer.status_code == 422
    assert set(answer.context["errors"]) == {"tmin_c-7", "precip_mm-3"}
    assert answer.context["typed"]["tmin_c-7"] == "35"


@pytest.mark.parametrize(
    "path", ["/gardens/99/catch", "/gardens/1/nowhere", "/gardens/x/catch", "/nowhere", "/quantity"]
)
def test_what_is_not_there_is_said_plainly(planned, path):
    answer = planned.get(path)
    assert answer.status_code in (404, 422)
    assert "That did not work" in answer.text


def test_quantities_are_echoed_in_both_systems(planned):
    ask = lambda text: planned.get("/quantity", params={"kind": "volume", "text": text}).json()  # noqa: E731
    assert ask("55 gal") == {"understood": "208.2 L = 55 gal"}
    assert "not a unit" in ask("55 kg")["error"]


def test_the_size_curve_is_worked_out_once_for_each_state(planned):
    first = planned.get("/gardens/1/store/sizes").json()
    assert len(first["volume"]) == len(first["met"]) == 60
    assert first["present"] == 300
    planned.post("/gardens/1/units", data={"based_on": "1"})
    assert planned.get("/gardens/1/store/sizes").json()["unit"] == "gal"


def test_without_a_roof_there_is_no_size_curve(client):
    client.post("/gardens", data={"name": "Bare", "latitude_deg": "41.2", "elevation_m": "30 m"})
    answer = client.get("/gardens/1/store/sizes")
    assert answer.status_code == 409
    assert "There is no weather yet" in answer.text


def test_the_network_can_be_taken_away(planned):
    assert "[EMITTERS]" in planned.get("/gardens/1/network.inp").text


def test_a_part_is_removed_with_what_hangs_on_it_and_brought_back(planned):
    revision = planned.get("/gardens/1/store").context["revision"].id
    data = {"part_id": "shed-barrel", "based_on": str(revision), "back": "store"}
    assert planned.post("/gardens/1/remove", data=data).status_code == 303
    left = planned.get("/gardens/1/garden.json").json()
    assert left["stores"] == []
    assert left["timers"][0]["begins_at"] is None
    planned.post("/gardens/1/undo", data={"back": "store"})
    back = planned.get("/gardens/1/garden.json").json()
    assert back["timers"][0]["begins_at"] == "shed-barrel"


def test_years_are_made_up_like_a_record_and_the_old_one_can_be_forgotten(planned):
    assert (
        planned.post("/gardens/1/weather/more", data={"like": "1", "years": "0"}).status_code == 422
    )
    assert (
        planned.post("/gardens/1/weather/more", data={"like": "1", "years": "5"}).status_code == 303
    )
    page = planned.get("/gardens/1/weather")
    assert page.context["weather_info"].origin == "generated"
    assert len(page.context["compared"]) == 2
    assert planned.post("/gardens/1/weather/forget/2").status_code == 409  # in use
    assert planned.post("/gardens/1/weather/forget/1").status_code == 303
    assert len(planned.get("/gardens/1/weather").context["records"]) == 1


def test_records_that_disagree_are_joined_only_when_one_is_trusted(planned):
    rows = [f"2001-01-{day:02},{day},1,9" for day in range(1, 29)]
    text = "date,precip_mm,tmin_c,tmax_c\n" + "\n".join(rows) + "\n"
    answer = planned.post("/gardens/1/weather/file", files={"file": ("gauge.csv", text)})
    assert answer.status_code == 303
    data = {"first": "2", "second": "1"}
    refused = planned.post("/gardens/1/weather/join", data=data)
    assert refused.status_code == 422
    assert "“gauge.csv” and “Usual months” disagree on" in " ".join(refused.text.split())
    assert len(planned.get("/gardens/1/weather").context["records"]) == 2
    assert (
        planned.post("/gardens/1/weather/join", data=data | {"trust": "first"}).status_code == 303
    )
    joined = planned.get("/gardens/1/weather").context
    assert joined["weather_info"].origin == "joined"
    assert joined["chain"].record.precip[27] == 28
    assert (
        planned.post("/gardens/1/weather/join", data={"first": "1", "second": "1"}).status_code
        == 422
    )


def test_the_installation_sheet_says_how_high_the_stand_has_to_be(planned):
    page = planned.get("/gardens/1/installation", params={"tap": "45 cm"})
    assert "For a tap" in page.text
    assert "39 cm" in page.text  # 45 less the tap's 6 above the base
    head = planned.get("/gardens/1/installation", params={"head": "1 m"})
    assert "54 cm" in head.text  # outlets at 0.8, ground at 1.2, tap 0.06 up: 0.8 + 1 - 0.06 - 1.2
    assert (
        "Type for example" in planned.get("/gardens/1/installation", params={"tap": "45 kg"}).text
    )


def test_one_year_of_a_store_is_given_on_asking(planned):
    year = planned.get("/gardens/1/store/year", params={"year": 2002}).json()
    assert len(year["level"]) == 365
    assert planned.get("/gardens/1/store/year", params={"year": 1999}).status_code == 404
