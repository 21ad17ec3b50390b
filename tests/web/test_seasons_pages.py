"""Pages of the replayed seasons, the jar, exports and the bench, as a browser asks for them."""

import csv
import io
import json
from datetime import date

import icalendar
import pytest

from euhydra.records import database, gardens
from euhydra.web.app import create_app
from euhydra.web.pieces import END
from served import client_of, lay_demo, served_garden
from sound_gardens import BASES


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    data = tmp_path_factory.mktemp("data")
    lay_demo(data)
    with client_of(create_app(data), base_url="http://localhost") as client:
        yield client


def current(client):
    conn = database.connect(client.app.state.database)
    try:
        return gardens.current(conn, 1)
    finally:
        conn.close()


def test_two_plans_lie_side_by_side(client):
    page = client.get("/gardens/1/years?with=mulch")
    assert page.template.name == "years.html"
    rows = page.context["rows"]
    assert all(row.others for row in rows)
    assert "Beside it: Every bed mulched" in page.text
    gone = client.get("/gardens/1/years?with=without-garden-tap")
    missing = [row for row in gone.context["rows"] if row.others is None]
    assert [row.label for row in missing] == ["From Garden tap", "Tap water costs"]


def test_neither_of_two_plans_need_be_the_present_one(client):
    page = client.get("/gardens/1/years?plan=mulch&with=without-garden-tap&at=top-bed")
    both, gone = page.context["answer"], page.context["other"]
    assert both.season.garden.beds[0].mulch == "thick"
    assert both.season.garden.taps
    assert not gone.season.garden.taps
    turned = client.get("/gardens/1/years?plan=without-garden-tap&with=mulch").context
    assert turned["answer"].rows == gone.rows
    back = client.get("/gardens/1/years?plan=mulch&with=").context
    assert back["other"].season.garden.beds[0].mulch == "none"
    year = both.years[0]
    mulched, bare = (
        client.get(f"/gardens/1/years/bed?at=top-bed&year={year}&plan={plan}").json()
        for plan in ("mulch", "")
    )
    assert sum(mulched["need"]) < sum(bare["need"])


def test_an_earlier_revision_can_be_laid_beside(client):
    before = current(client)
    form = {
        "based_on": before.id,
        "part_id": "hedge",
        "at": "hedge",
        "mulch": "thick",
        "shade": "none",
        "wind": "open",
        "spacing": "usual",
        "soil_depth_m": "",
        "slope": "0",
        "started": "planted",
        "cleared": "",
        "timekeeping": "calendar",
    }
    assert client.post("/gardens/1/need/thirst", data=form).status_code == 200
    assert current(client).garden.beds[2].mulch == "thick"
    page = client.get(f"/gardens/1/years?with=revision-{before.id}")
    assert page.context["with_fault"] == ""
    assert page.context["other"].season.garden.beds[2].mulch == "none"


@pytest.mark.parametrize("key", ["nonsense", "revision-99999", "revision-x"])
def test_a_plan_that_is_not_there_is_said(client, key):
    page = client.get(f"/gardens/1/years?with={key}")
    assert page.status_code == 200
    assert "not to be had any more" in page.text


def test_a_year_of_a_root_zone(client):
    series = client.get("/gardens/1/years/bed?at=top-bed&year=2003").json()
    assert series["kind"] == "roots"
    days = len(series["level"])
    assert days == 365
    for name in ("given", "need", "spill", "rain", "dead", "dry"):
        assert len(series[name]) == days
    assert max(series["level"]) <= series["full"]
    assert client.get("/gardens/1/years/bed?at=top-bed&year=1850").status_code == 404


def test_dates_that_cannot_be_are_said_beside_the_fields(client):
    page = client.get(
        "/gardens/1/away?leaves=2026-07-10&returns=2026-07-01&watered=&filled-wall-tank=80"
    )
    assert "You come back before you leave" in page.text
    assert 'value="2026-07-10"' in page.text  # nothing typed is lost
    page = client.get("/gardens/1/away?leaves=soon&returns=later&watered=&filled-wall-tank=80")
    assert "year-month-day" in page.text
    page = client.get(
        "/gardens/1/away?leaves=2026-07-10&returns=2026-07-20&watered=&filled-shed-barrel=lots"
    )
    assert "how full “Shed barrel” is in per cent" in page.text


def test_who_leaves_today_leaves_stores_as_the_dips_have_them(tmp_path):
    lay_demo(tmp_path, with_log=True)
    with client_of(create_app(tmp_path), base_url="http://localhost") as client:
        leaves_today(client)


def leaves_today(client):
    for told in (
        {"kind": "rain", "depth": "0 mm"},
        {"kind": "dip", "part": "shed-barrel", "depth": "30 cm"},
    ):
        answer = client.post("/gardens/1/log", data=told, headers={"accept": "application/json"})
        assert answer.status_code == 200
    page = client.get("/gardens/1/away")
    fills = {fill.id: float(fill.percent) for fill in page.context["fills"]}
    dipped, leaves = page.context["is_dipped"], page.context["typed"]["leaves"]
    assert date.fromisoformat(leaves) >= date.today()
    # Out of season it is asked about the next summer, of which no dip tells anything.
    assert bool(dipped) is (leaves == date.today().isoformat())
    assert all(0 < fills[store] < 100 for store in dipped)
    assert all(share == 100 for store, share in fills.items() if store not in dipped)
    later = client.get("/gardens/1/away?leaves=2027-07-10&returns=2027-07-20&watered=")
    assert {fill.percent for fill in later.context["fills"]} == {"100"}


def test_the_week_of_any_month(client):
    assert client.get("/gardens/1/week").context["answer"].month == 7
    assert "Nothing runs" in client.get("/gardens/1/week?at=1").text
    assert client.get("/gardens/1/week?at=13").context["answer"].month == 7


def test_the_jar_names_the_soil(client):
    form = {
        "based_on": current(client).id,
        "at": "top-bed",
        "sand": "6 cm",
        "silt": "2.5 cm",
        "clay": "1 cm",
    }
    assert client.post("/gardens/1/need/jar", data=form).status_code == 200
    assert current(client).garden.beds[0].soil == "sandy-loam"
    wrong = client.post(
        "/gardens/1/need/jar", data=form | {"clay": "", "based_on": current(client).id}
    )
    assert wrong.status_code == 422
    assert "all three layers" in wrong.text
    assert 'value="6 cm"' in wrong.text
    assert client.post("/gardens/1/need/jar", data=form | {"at": "nowhere"}).status_code == 409


def test_a_crop_and_a_timer_of_ones_own(client):
    form = {
        "based_on": current(client).id,
        "part_id": "",
        "at": "top-bed",
        "name": "Oca",
        "initial_d": "30",
        "development_d": "60",
        "mid_d": "400",
        "late_d": "40",
        "kc_initial": "0.6",
        "kc_mid": "1.05",
        "kc_end": "0.9",
        "root_start_m": "15 cm",
        "root_full_m": "40 cm",
        "depletion_fraction": "40 %",
        "warmth": "cool",
        "eaten": "root",
    }
    endless = client.post("/gardens/1/need/own-crop", data=form)
    assert endless.status_code == 422
    assert "a whole number" in endless.text or "366" in endless.text
    assert client.post("/gardens/1/need/own-crop", data=form | {"mid_d": "300"}).status_code == 422
    added = client.post("/gardens/1/need/own-crop", data=form | {"mid_d": "60"})
    assert added.status_code == 200
    assert "Oca</option>" in added.text
    timer = {
        "based_on": current(client).id,
        "part_id": "",
        "at": "",
        "name": "Grandpa's",
        "works_by": "clock",
        "run_minutes": "30-10",
        "interval_days": "1, 2",
        "starts": "1",
        "delay_days": "",
        "outlets": "1",
        "battery_months": "0",
        "least_opening_head_m": "0 m",
        "loss_coefficient": "4",
    }
    wrong = client.post("/gardens/1/time/own-timer", data=timer)
    assert wrong.status_code == 422
    assert "the longest is shorter than the shortest" in wrong.text
    assert (
        client.post("/gardens/1/time/own-timer", data=timer | {"run_minutes": "10-30"}).status_code
        == 200
    )
    assert current(client).garden.own_timers[0].run_minutes == tuple(range(10, 31))


def test_the_programme_as_a_table(client):
    rows = list(csv.DictReader(io.StringIO(client.get("/gardens/1/programme.csv").text)))
    assert len(rows) == 4 * 13  # twelve months, and new plants
    new = next(r for r in rows if r["zone"] == "Bottom step" and r["month"] == "new plants")
    assert (float(new["water_a_run"]) > 0, new["unit"]) == (True, "L")
    assert new["starts"] == "7:00"
    july = next(r for r in rows if r["zone"] == "Patio pots" and r["month"] == "7")
    assert float(july["run_minutes"]) > 0
    assert len(july["starts"].split()) == int(july["runs_a_day"])
    january = next(r for r in rows if r["zone"] == "Patio pots" and r["month"] == "1")
    assert january["run_minutes"] == ""


def test_the_programme_as_a_calendar_others_can_read(client):
    text = client.get("/gardens/1/programme.ics?zone=shed-timer&year=2027").text
    events = icalendar.Calendar.from_ical(text).walk("VEVENT")
    assert len({str(e["uid"]) for e in events}) == len(events)
    july = next(e for e in events if e["dtstart"].dt.month == 7)
    assert str(july["summary"]).startswith("Middle step: set ")
    assert july["dtstart"].dt.year == 2027
    assert "New plants, for two weeks: " in str(july["description"])
    coming = client.get("/gardens/1/programme.ics?zone=shed-timer").text
    days = [e["dtstart"].dt.date() for e in icalendar.Calendar.from_ical(coming).walk("VEVENT")]
    assert min(days) >= date.today()  # no months that are over
    assert len({(day.year, day.month) for day in days}) == len(days)
    assert client.get("/gardens/1/programme.ics?zone=nowhere").status_code == 409
    for year in ("99999", "-1", "soon"):
        assert client.get(f"/gardens/1/programme.ics?year={year}").status_code == 422


def test_the_bench_is_steered_and_read(client):
    assert client.get("/gardens/1/bench").template.name == "bench.html"
    control = "/gardens/1/bench/control"

    def now() -> dict:
        return client.get("/gardens/1/bench").context["reading"]

    for _ in range(24 * 6):  # ten minutes each, until the first timer is due
        assert client.post(control, data={"action": "step"}).status_code == 200
        if any(zone["due"] for zone in now()["zones"]):
            break
    assert (
        client.post(control, data={"action": "fault-on", "value": "stuck-shut"}).status_code == 200
    )
    before = now()["clock"]
    client.post(control, data={"action": "step"})
    assert now()["clock"] != before
    assert now()["faults"] == ["stuck-shut"]
    assert any("nothing comes" in said for said in now()["notices"])
    assert client.post(control, data={"action": "explode"}).status_code == 422
    assert client.post("/gardens/7/bench/control", data={"action": "play"}).status_code == 409
    client.post(control, data={"action": "again"})
    assert client.get("/gardens/1/bench").context["reading"]["clock"].endswith("0:00")
    # Over the web address of a stream that never ends only its refusal is asked for here; the
    # browser tests listen to it.
    assert client.get("/gardens/7/bench/stream").status_code == 409
    assert json.dumps(now())


def rows(piece: str) -> int:
    return piece.count('<th scope="row">')


def test_what_mornings_are_worth_comes_way_by_way_and_is_kept(tmp_path):
    client = served_garden(tmp_path, BASES["tap_pots"]())
    for expected in ([0, 1, 2, 3], [3]):
        pieces = client.get("/gardens/1/worth").text.split(END)
        assert [rows(piece) for piece in pieces if piece.strip()] == expected


def test_keeps_mark_comes_after_the_page_and_then_stands_on_it(tmp_path):
    client = served_garden(tmp_path, None)
    first = client.get("/gardens/1/catch").text
    assert "/gardens/1/keep-mark" in first
    mark = client.get("/gardens/1/keep-mark").text
    assert mark.count("<svg") == 1
    then = client.get("/gardens/1/catch").text
    assert "/gardens/1/keep-mark" not in then
    assert then.count('class="mark') == first.count('class="mark') + 1
    assert "/gardens/1/keep-mark" not in client.get("/gardens/1/judge").text


def test_keeps_verdict_does_not_wait_for_the_log_and_is_the_same_once_it_is_read(tmp_path):
    client = served_garden(tmp_path, None)
    first = client.get("/gardens/1/keep").text
    assert "/gardens/1/keep-verdict" in first
    come = client.get("/gardens/1/keep-verdict").text
    assert come.count('class="mark') == 1
    then = client.get("/gardens/1/keep").text
    assert "/gardens/1/keep-verdict" not in then
    assert "".join(come.split()) in "".join(then.split())


def test_the_rules_of_the_daily_sum_are_asked_for(tmp_path):
    client = served_garden(tmp_path, None)
    assert "/gardens/1/store/rules" in client.get("/gardens/1/store").text
    assert rows(client.get("/gardens/1/store/rules").text) >= 3
