"""Weather comes in by file, with a question first where something is missing; by month; again."""

import re

import pytest

from euhydra.garden import demo, normals
from euhydra.web.app import create_app
from served import client_of

PLAIN = "date,precip_mm,tmin_c,tmax_c\n"


def bring(bare, text, name="days.csv"):
    return bare.post("/gardens/1/weather/file", files={"file": (name, text)})


def record(bare):
    return bare.get("/gardens/1/weather").context["chain"].record


def test_a_unit_that_is_not_told_is_asked_for_and_never_guessed(bare):
    asked = bring(bare, "date,rain,tmin_c,tmax_c\n2025-06-01,0.5,12,24\n2025-06-02,0,12,24\n")
    assert record(bare) is None
    question = asked.context["question"]
    assert question["sheet"].names == ("date", "precip", "tmin", "tmax")
    assert question["units"] == ["", "in", "", ""]  # proposed by its values
    address = f"/gardens/1/weather/file/{question['upload'].id}"
    bare.post(address, data={"column-1": "precip", "unit-of-1": "in"})
    assert record(bare).precip.tolist() == pytest.approx([12.7, 0.0])


def test_the_order_of_day_and_month_is_asked_where_no_day_tells(bare):
    asked = bring(bare, PLAIN + "3/1/2020,1,5,12\n4/1/2020,2,5,12\n")
    question = asked.context["question"]
    assert list(question["orders"]) == ["dm", "md"]
    bare.post(f"/gardens/1/weather/file/{question['upload'].id}", data={"unit-date": "dm"})
    assert record(bare).days.astype(str).tolist() == ["2020-01-03", "2020-01-04"]


def test_gaps_are_shown_and_filled_only_when_told(bare):
    lines = "2025-06-01,4,10,20\n2025-06-03,2,12,26\n2025-06-04,,12,24\n"
    asked = bring(bare, PLAIN + lines)
    question = asked.context["question"]
    assert question["gap_count"] == 2
    assert [str(day) for day, _ in question["gaps"]] == ["2025-06-02", "2025-06-04"]
    assert record(bare) is None
    bare.post(f"/gardens/1/weather/file/{question['upload'].id}", data={"fill": "yes"})
    filled = record(bare)
    assert filled.precip.tolist() == [4, 0, 2, 0]
    assert filled.temp_max[1] == 23  # straight across
    info = bare.get("/gardens/1/weather").context["weather_info"]
    assert "2 days missing or incomplete, filled" in info.notes


GAUGE = "Lower bed\n\nRead on;Total;Remark\n01/05/2024;3,2;\n02/05/2024;0;dew\n13/05/2024;1,5;\n"


def test_a_gauge_log_takes_its_temperatures_from_the_town_and_its_columns_are_remembered(bare):
    alone = bring(bare, GAUGE)
    assert "Choose a town first" in alone.context["question"]["fault"]
    bare.post("/gardens/1/weather/place", data={"town": "Brussels"})
    question = bring(bare, GAUGE).context["question"]
    assert question["sheet"].names == ("date", "", "")
    said = {"column-0": "date", "column-1": "precip", "unit-of-1": "mm", "column-2": ""}
    address = f"/gardens/1/weather/file/{question['upload'].id}"
    gaps = bare.post(address, data=said).context["question"]
    assert gaps["gap_count"] == 10
    kept = {"fill": "yes", "unit-precip": "mm"}
    kept |= {f"column-{i}": name for i, name in enumerate(gaps["columns"])}
    bare.post(address, data=kept)
    may = record(bare)
    assert may.precip.tolist()[:2] == [3.2, 0.0]
    assert 5 < may.temp_min[0] < may.temp_max[0] < 22  # the usual May there
    info = bare.get("/gardens/1/weather").context["weather_info"]
    assert "Temperatures are those of “Usual months of Brussels" in info.notes
    bare.post("/gardens/1/weather/place", data={"town": "Brussels"})
    again = bring(bare, GAUGE.replace("3,2", "4,4")).context["question"]
    assert again["gap_count"] == 10  # only the gaps are asked about now


def test_a_file_is_shown_first_where_its_owner_wishes(bare):
    files = {"file": ("days.csv", PLAIN + "2025-06-01,1,10,20\n")}
    shown = bare.post("/gardens/1/weather/file", files=files, data={"look": "yes"})
    question = shown.context["question"]
    assert question["sheet"].names == ("date", "precip", "tmin", "tmax")
    assert not question["fault"]
    assert record(bare) is None
    said = {"column-0": "date", "column-1": "precip", "column-2": "tmin", "column-3": "tmax"}
    bare.post(f"/gardens/1/weather/file/{question['upload'].id}", data=said)
    assert record(bare).precip.tolist() == [1]


def test_an_answer_to_a_file_that_is_gone_asks_for_it_again(bare):
    late = bare.post("/gardens/1/weather/file/77", data={"fill": "yes"})
    assert late.status_code == 409
    assert "choose it again" in late.text


def test_columns_that_are_not_understood_are_named(bare):
    bring(bare, "date,precip_mm,tmin_c,tmax_c,moon\n2025-06-01,0,10,20,full\n2025-06-02,0,10,20,\n")
    info = bare.get("/gardens/1/weather").context["weather_info"]
    assert "moon" in info.notes


def test_an_earlier_record_can_be_used_again(bare):
    bring(bare, PLAIN + "2025-06-01,1,10,20\n", "first.csv")
    bring(bare, PLAIN + "2025-06-01,9,10,20\n", "second.csv")
    assert record(bare).precip.tolist() == [9]
    bare.post("/gardens/1/weather/use/1")
    assert record(bare).precip.tolist() == [1]
    assert bare.post("/gardens/1/weather/use/99").status_code == 404


def test_what_cannot_be_joined_or_carried_on_says_why(bare):
    bring(bare, PLAIN + "2025-06-01,1,10,20\n")
    alone = bare.post("/gardens/1/weather/join", data={"first": "1", "second": "99"})
    assert alone.status_code == 422
    for years, words in (("0", "1 to"), ("some", "1 to"), ("3", "Not possible")):
        more = bare.post("/gardens/1/weather/more", data={"like": "1", "years": years})
        assert more.status_code == 422
        assert words in more.text
    unlike = bare.post("/gardens/1/weather/more", data={"like": "", "years": "3"})
    assert "Choose a record" in unlike.text


def test_a_garden_is_begun_only_at_a_place_on_earth(bare):
    typed = {"name": "", "latitude_deg": "91", "elevation_m": "high", "units": "us"}
    refused = bare.post("/gardens", data=typed)
    assert refused.status_code == 422
    assert set(refused.context["errors"]) == {"name", "latitude_deg", "elevation_m"}
    assert refused.context["typed"]["elevation_m"] == "high"
    begun = bare.post(
        "/gardens", data=typed | {"name": "Hill", "latitude_deg": "46", "elevation_m": "1000 ft"}
    )
    garden = bare.get(f"{str(begun.url).rsplit('/', 1)[0]}/garden.json").json()
    assert garden["place"]["elevation_m"] == pytest.approx(304.8)
    assert garden["units"] == "us"


def test_a_place_that_was_changed_meanwhile_is_not_written_over(bare):
    typed = {"name": "Steps", "latitude_deg": "41", "elevation_m": "30 m", "units": "metric"}
    bare.post("/gardens/1/place", data=typed | {"based_on": "1"})
    late = bare.post("/gardens/1/place", data=typed | {"based_on": "1", "name": "Mine"})
    assert late.status_code == 409
    assert bare.get("/gardens/1/garden.json").json()["name"] == "Steps"


def test_a_garden_beside_another_takes_its_place_and_its_weather(tmp_path):
    with client_of(create_app(tmp_path)) as client:
        place = {
            "name": "First",
            "latitude_deg": "33° 54' S",
            "elevation_m": "40 m",
            "units": "metric",
        }
        client.post("/gardens", data=place)
        months = {
            f"{column}-{m}": str(v)
            for column, values in demo.normals().items()
            for m, v in enumerate(values, 1)
        }
        client.post("/gardens/1/weather/months", data=months)
        html = client.get("/").text
        assert 'value="-33.9"' in html.replace("−", "-")
        beside = place | {"name": "Second", "latitude_deg": "-33.9"}
        made = client.post("/gardens", data=beside, follow_redirects=False)
        assert made.headers["location"].endswith("/gardens/2")
        assert "Usual months, typed" in client.get("/gardens/2/weather").text
        far = place | {"name": "Third", "latitude_deg": "51 N"}
        made = client.post("/gardens", data=far, follow_redirects=False)
        assert made.headers["location"].endswith("/gardens/3/weather")
        page = client.get("/gardens/3/weather").text
        taken = re.findall(r'action="([^"]*/weather/take/\d+)"', page)
        assert len(taken) == 2
        client.post(taken[-1])
        assert "in use" in client.get("/gardens/3/weather").text
        assert client.post("/gardens/3/weather/take/99").status_code == 404


def test_a_town_gives_latitude_height_and_weather_in_one_touch(tmp_path):
    with client_of(create_app(tmp_path)) as client:
        assert 'value="Brussels, Belgium"' in client.get("/").text
        wrong = client.post(
            "/gardens", data={"name": "First", "town": "Atlantis", "units": "metric"}
        )
        assert wrong.status_code == 422
        assert set(wrong.context["errors"]) >= {"town"}
        made = client.post(
            "/gardens",
            data={"name": "First", "town": "brussels", "units": "metric"},
            follow_redirects=False,
        )
        assert made.headers["location"].endswith("/gardens/1")
        place = client.get("/gardens/1/garden.json").json()["place"]
        assert (place["latitude_deg"], place["elevation_m"]) == (50.8, 60.0)
        assert "Usual months of Brussels, Belgium" in client.get("/gardens/1/weather").text
        # A second garden stands as shown, but its town says otherwise; own figures stand.
        beside = {"name": "Second", "town": "Denver", "units": "metric", "latitude_deg": "50.8"}
        client.post("/gardens", data=beside | {"elevation_m": "2000 m"})
        place = client.get("/gardens/2/garden.json").json()["place"]
        assert (place["latitude_deg"], place["elevation_m"]) == (39.8, 2000.0)
        assert "350 m higher" in client.get("/gardens/2/weather").text.replace("\u00a0", " ")


def test_several_towns_are_offered_and_an_unknown_one_says_what_to_do(bare):
    several = bare.post("/gardens/1/weather/place", data={"town": "san"})
    assert several.status_code == 422
    assert "San Diego, California, United States" in several.context["like"]
    assert record(bare) is None
    assert bare.post("/gardens/1/weather/place", data={"town": "Atlantis"}).context["like"] == []
    bare.post("/gardens/1/weather/place", data={"town": "San Diego, California, United States"})
    assert record(bare).years > 9


def test_usual_months_are_set_right_by_gauge_and_thermometer(bare):
    def put(**known: str):
        return bare.post("/gardens/1/weather/right", data=known)

    bare.post("/gardens/1/weather/place", data={"town": "Denver"})
    before = record(bare)
    put(rain="640 mm")
    after = record(bare)
    assert after.precip.sum() / after.years == pytest.approx(640, rel=0.01)
    assert before.temp_max.mean() == pytest.approx(after.temp_max.mean(), abs=0.1)
    # The made summers of continental places swing too far; the one stays when the other is set right.
    told = normals.hottest_of(after) - 4
    put(hottest=f"{told} °C")
    hot = record(bare)
    assert normals.hottest_of(hot) == pytest.approx(told, abs=0.1)
    assert hot.temp_max.mean() == pytest.approx(after.temp_max.mean(), abs=0.1)
    put(rain="500 mm")
    assert normals.hottest_of(record(bare)) == pytest.approx(told, abs=0.1)
    for name, wrong in (("rain", "9000 mm"), ("rain", "wet"), ("rain", ""), ("hottest", "80 °C")):
        refused = put(**{name: wrong})
        assert refused.status_code == 422
        assert list(refused.context["right_faults"]) == [name]
    bring(bare, PLAIN + "2025-06-01,4,10,20\n2025-06-02,2,12,26\n")
    assert put(rain="640 mm").status_code == 409
