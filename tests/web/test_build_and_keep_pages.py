"""Pages of Build and Keep as a browser asks for them: kept, refused, learned, saved and brought back."""

import csv
import io
import re
import zipfile
from datetime import date, datetime, timedelta

import icalendar
import numpy as np
import pytest
import zxingcpp
from PIL import Image

from euhydra.garden import quantities
from euhydra.garden.logbook import LogEntry
from euhydra.garden.quantities import System
from euhydra.planner.water import solving, zones
from euhydra.planner.water.cut_lengths import cut_lengths
from euhydra.records import backup, database, gardens, log, pictures, prices
from euhydra.records.log import Search
from euhydra.web.app import create_app
from euhydra.web.pages.stations import PAGES as STATION_PAGES
from euhydra.web.security import MOST_BODY
from markup import Page
from served import client_of, lay_demo
from sweeps import swept


@pytest.fixture
def client(tmp_path):
    lay_demo(tmp_path / "data")
    with client_of(create_app(tmp_path / "data"), base_url="http://localhost") as client:
        yield client


@pytest.fixture
def conn(client):
    conn = database.connect(client.app.state.database)
    yield conn
    conn.close()


def entries(conn):
    return [kept.entry for kept in log.find(conn, 1, Search())]


def photo(size=(2000, 1500), **notes) -> bytes:
    out = io.BytesIO()
    picture = Image.new("RGB", size, "darkgreen")
    exif = picture.getexif()
    exif[0x8825] = {1: "N", 2: (41.0, 12.0, 3.0)}  # where it was taken
    exif[0x010F] = "Some camera"
    picture.save(out, "JPEG", exif=exif, **notes)
    return out.getvalue()


def test_prices_and_ticks_are_kept_and_counted(client, conn):
    page = client.get("/gardens/1/build")
    total = page.context["answer"].total
    kept = client.post(
        "/gardens/1/prices", data={"price-pipe-hose-13": "2.00", "pack-pipe-hose-13": "10"}
    )
    assert kept.status_code == 200  # after the redirect
    assert prices.all_prices(conn) == {"pipe-hose-13": (10.0, 2.0)}
    changed = client.get("/gardens/1/build").context["answer"]
    assert changed.total != total
    ticked = client.post(
        "/gardens/1/tick", data={"list": "there", "item": "pipe-hose-13", "on": "true"}
    )
    assert "things to buy" in ticked.json()["verdict"]
    assert client.get("/gardens/1/build").context["answer"].total < changed.total


def test_packs_are_as_the_shop_of_the_country_has_them(client, conn):
    client.post("/gardens/1/units", data={"based_on": 1, "back": "build"})
    page = client.get("/gardens/1/build")
    items = {item.good.key: item for item in page.context["answer"].items}
    assert items["post-inch"].pack.pack == pytest.approx(8 * 0.3048)  # timber of eight feet
    assert " a metre" not in page.text
    shown = {
        "pack-pipe-hose-13": "1 ft",
        "price-pipe-hose-13": f"{items['pipe-hose-13'].pack.price:.2f}",
    }
    client.post("/gardens/1/prices", data=shown)
    assert prices.all_prices(conn) == {}  # as it was shown: still a guess
    client.post("/gardens/1/prices", data={"pack-pipe-hose-13": "50", "price-pipe-hose-13": "19"})
    assert prices.all_prices(conn) == {"pipe-hose-13": (pytest.approx(15.24), 19.0)}
    table = client.get("/gardens/1/prices.csv").text
    (line,) = [line for line in table.splitlines() if line.startswith("pipe-hose-13,")]
    assert line.endswith(",50,ft,19.00")
    bad = client.post(
        "/gardens/1/prices.csv",
        files={"file": ("p.csv", "good,pack,unit,price\nscrew,1,pound,1\n")},
    )
    assert "Line 2: “pound” is no length" in bad.text
    feet = "good,pack,unit,price\npipe-hose-13,60,ft,9\nscrew,5,ft,1\n"
    mixed = client.post("/gardens/1/prices.csv", files={"file": ("p.csv", feet)})
    assert "“screw” comes by the piece" in mixed.text
    assert prices.all_prices(conn)["pipe-hose-13"] == (pytest.approx(15.24), 19.0)  # none was taken


def test_a_form_sent_as_it_stands_changes_no_price(client, conn):
    """Not even one with more figures than the field shows, nor one of thousands."""
    prices.put_prices(conn, {"screw": (100, 0.333), "stake": (2500, 1234.5)})
    forms = Page(client.get("/gardens/1/build").text).forms()
    sent = next(form.fields for form in forms if form.action == "/gardens/1/prices")
    assert (sent["price-screw"], sent["price-stake"], sent["pack-stake"]) == (
        "0.33",
        "1234.50",
        "2500",
    )
    assert client.post("/gardens/1/prices", data=sent).status_code == 200
    assert prices.all_prices(conn) == {"screw": (100, 0.333), "stake": (2500, 1234.5)}


def test_a_price_below_nothing_changes_nothing(client, conn):
    answer = client.post("/gardens/1/prices", data={"price-screw": "-1", "price-stake": "9"})
    assert answer.status_code == 422
    assert "type 0 or more" in answer.text
    assert prices.all_prices(conn) == {}
    upload = {"file": ("p.csv", b"good,name,pack,price\nscrew,,100,-1\n", "text/csv")}
    brought = client.post("/gardens/1/prices.csv", files=upload)
    assert brought.status_code == 422
    assert "Line 2: a price of -1" in brought.text
    table = client.get("/gardens/1/prices.csv").text
    assert client.post("/gardens/1/prices.csv", files={"file": ("p.csv", table)}).status_code == 200
    assert len(prices.all_prices(conn)) == len(table.splitlines()) - 1


def test_steps_are_in_order_and_stay_ticked(client):
    page = client.get("/gardens/1/steps")
    keys = [step.key for step in page.context["answer"].steps]
    order = [
        keys.index(k)
        for k in (
            "gather",
            "stand-shed-barrel",
            "drill-shed-barrel",
            "spout-shed-downspout",
            "head-shed-timer",
            "hose-shed-timer",
            "line-shed-timer",
            "first-run",
            "labels",
        )
    ]
    assert order == sorted(order)
    assert "Before you dig" not in page.text  # nothing here is dug
    for caution in ("Weight.", "Ladders.", "Drill, eyes, edges.", "Joined to drinking water."):
        assert caution in page.text
    client.post("/gardens/1/tick", data={"list": "step", "item": "gather", "on": "true"})
    again = client.get("/gardens/1/steps").context["answer"]
    assert again.next.key == keys[1]


def test_the_code_on_a_label_leads_to_its_line(client):
    """Drawn as pixels and read by an independent decoder."""
    page = client.get("/gardens/1/labels")
    label = page.context["answer"].labels[0]
    path = re.search(r'd="([^"]+)"', str(label.code)).group(1)
    side = int(re.search(r'viewBox="0 0 (\d+)', str(label.code)).group(1))
    image = np.full((side, side), 255, dtype=np.uint8)
    x, y = 0.0, 0.0
    for command, numbers in re.findall(r"([Mmh])([-\d. ]+)", path):
        values = [float(v) for v in re.findall(r"-?[\d.]+", numbers)]
        if command == "M":
            x, y = values
        elif command == "m":
            x, y = x + values[0], y + values[1]
        else:
            image[int(y), int(x) : int(x + values[0])] = 0
            x += values[0]
    read = zxingcpp.read_barcodes(np.kron(image, np.ones((6, 6), dtype=np.uint8)))
    assert [code.text for code in read] == [f"http://localhost/gardens/1/lines/{label.pipe.id}"]
    line = client.get(read[0].text)
    assert label.pipe.name in line.text
    assert client.get("/gardens/1/lines/gone").status_code == 404


def test_first_run_keeps_what_was_measured(client, conn):
    form = {
        "kind": "flow",
        "part": "shed-timer",
        "word": "whole",
        "volume": "2 L",
        "seconds": "5 min",
        "back": "first-run",
        "at_zone": "shed-timer",
    }
    page = client.post("/gardens/1/log", data=form)
    assert str(page.url).endswith("/gardens/1/first-run?at=shed-timer")
    assert page.context["answer"].points[0].measured == pytest.approx(0.002 / 300)
    wrong = client.post("/gardens/1/log", data=form | {"volume": "lots"})
    assert (wrong.status_code, wrong.template.name) == (422, "first-run.html")
    assert len(entries(conn)) == 1


def test_an_entry_sent_twice_is_kept_once_and_answered_alike(client, conn):
    form = {"kind": "rain", "depth": "4 mm", "sent_id": "phone-7"}
    headers = {"accept": "application/json"}
    first = client.post("/gardens/1/log", data=form, headers=headers)
    again = client.post("/gardens/1/log", data=form, headers=headers)
    assert first.json() == {"id": 1, "is_new": True}
    assert again.json() == {"id": 1, "is_new": False}
    assert [e.amounts for e in entries(conn)] == [(0.004,)]


@pytest.mark.parametrize(
    ("form", "field"),
    [
        ({"kind": "dip", "part": "shed-barrel", "depth": "3 m"}, "depth"),
        ({"kind": "rain", "depth": "3 m"}, "depth"),
        ({"kind": "rain", "depth": "3", "at": "2100-01-01T00:00"}, "at"),
    ],
)
def test_what_cannot_be_is_refused_with_what_was_typed(client, conn, form, field):
    told = client.post("/gardens/1/log", data=form, headers={"accept": "application/json"})
    assert told.status_code == 422
    assert field in told.json()["faults"]
    page = client.post("/gardens/1/log", data=form)
    assert page.status_code == 422
    assert f'value="{form["depth"]}"' in page.text
    assert entries(conn) == []


def test_a_meter_that_runs_backwards_is_asked_about(client, conn):
    meter = {"kind": "meter", "part": "garden-tap", "word": "same"}
    client.post("/gardens/1/log", data=meter | {"reading": "120 m3", "at": "2026-06-01T08:00"})
    back = client.post(
        "/gardens/1/log", data=meter | {"reading": "110 m3", "at": "2026-06-02T08:00"}
    )
    assert "A meter does not run backwards" in back.text
    new = client.post(
        "/gardens/1/log", data=meter | {"reading": "1 m3", "word": "new", "at": "2026-06-02T08:00"}
    )
    assert new.status_code == 200
    assert len(entries(conn)) == 2


def test_a_photo_is_made_smaller_and_loses_its_place(client, conn):
    client.post("/gardens/1/log", data={"kind": "note"}, files={"photo": ("leaf.jpg", photo())})
    (entry,) = entries(conn)
    answer = client.get(f"/gardens/1/photos/{entry.photo}")
    kept = Image.open(io.BytesIO(answer.content))
    assert max(kept.size) == pictures.PHOTO_SIDE
    assert dict(kept.getexif()) == {}
    assert b"Some camera" not in answer.content


def test_what_is_no_photo_and_what_is_too_large_are_refused(client, conn):
    wrong = client.post(
        "/gardens/1/log", data={"kind": "note"}, files={"photo": ("a.jpg", b"x" * 99)}
    )
    assert wrong.status_code == 422
    assert "not a picture" in wrong.text
    huge = client.post(
        "/gardens/1/log", data={"kind": "note"}, files={"photo": ("a.jpg", b"x" * (MOST_BODY + 1))}
    )
    assert huge.status_code == 413
    assert "of a photo a smaller size" in huge.text
    assert entries(conn) == []


def test_an_entry_is_changed_with_its_history_and_taken_out(client, conn):
    client.post("/gardens/1/log", data={"kind": "rain", "depth": "4 mm", "at": "2026-06-01T08:00"})
    client.post(
        "/gardens/1/log/1", data={"kind": "rain", "depth": "14 mm", "at": "2026-06-01T08:00"}
    )
    page = client.get("/gardens/1/log/1")
    assert "14 mm" in page.text
    assert "What it was before" in page.text
    assert "4 mm" in page.text
    refused = client.post("/gardens/1/log/1", data={"kind": "rain", "depth": "4 km"})
    assert refused.status_code == 422
    client.post("/gardens/1/log/1/removed")
    assert entries(conn) == []
    client.post("/gardens/1/log/1/removed", data={"undo": "1"})
    assert [e.amounts for e in entries(conn)] == [(0.014,)]
    assert client.get("/gardens/1/log/99").status_code == 404


def test_the_log_is_searched_and_goes_out_and_in(client, conn):
    for form in ({"kind": "rain", "depth": "4"}, {"kind": "note", "note": "hail in the hedge"}):
        client.post("/gardens/1/log", data=form)
    assert "hail" not in client.get("/gardens/1/keep?kind=rain").text.split('class="log ')[1]
    assert "hail" in client.get("/gardens/1/keep?text=hail").text
    assert "Nothing like that" in client.get("/gardens/1/keep?text=moon").text
    table = client.get("/gardens/1/log.csv").text
    assert len(list(csv.DictReader(io.StringIO(table)))) == 2
    client.post("/gardens/1/log.csv", files={"file": ("log.csv", table)})
    assert len(entries(conn)) == 2  # the same ids: kept once
    wrong = client.post(
        "/gardens/1/log.csv", files={"file": ("log.csv", "when,kind\n2026-06-01T08:00,moon\n")}
    )
    assert "Line 2" in wrong.text


def add_buckets(conn, share):
    zone = next(z for z in zones.zones_of(gardens.current(conn, 1).garden) if z.id == "shed-timer")
    flow = solving.solve_zone(zone, 0.5).flow
    start = datetime.now().replace(microsecond=0, second=0) - timedelta(days=8)
    log.add_all(
        conn,
        1,
        [
            (
                f"b{i}",
                LogEntry(
                    "flow",
                    start + timedelta(days=i),
                    "shed-timer",
                    (share * flow * 300, 300.0),
                    "whole",
                ),
            )
            for i in range(6)
        ],
    )


def test_a_lesson_is_taken_over_and_undone(client, conn):
    add_buckets(conn, 0.8)
    page = client.get("/gardens/1/judge")
    (claim,) = page.context["answer"].claims
    assert claim.value == pytest.approx(0.8, abs=0.05)
    form = {"claim": claim.key, "based_on": page.context["revision"].id}
    client.post("/gardens/1/lessons", data=form)
    taught = gardens.current(conn, 1).garden
    assert next(p for p in taught.pipes if p.id == "middle-line-1").outlet_factor == round(
        claim.value, 3
    )
    client.post("/gardens/1/undo", data={"back": "judge"})
    assert gardens.current(conn, 1).garden != taught


def test_what_is_beyond_bounds_is_not_taken_without_being_asked(client, conn):
    add_buckets(conn, 0.25)
    page = client.get("/gardens/1/judge")
    (claim,) = page.context["answer"].claims
    form = {"claim": claim.key, "based_on": page.context["revision"].id}
    asked = client.post("/gardens/1/lessons", data=form)
    assert asked.status_code == 422
    assert "beyond what is likely" in asked.text
    assert "I am sure" in asked.text
    before = gardens.current(conn, 1).id
    client.post("/gardens/1/lessons", data=form | {"sure": "yes"})
    assert gardens.current(conn, 1).id != before


def test_what_the_plan_cannot_take_is_refused(client, conn):
    add_buckets(conn, 0.02)
    page = client.get("/gardens/1/judge")
    (claim,) = page.context["answer"].claims
    form = {"claim": claim.key, "based_on": page.context["revision"].id, "sure": "yes"}
    refused = client.post("/gardens/1/lessons", data=form)
    assert refused.status_code == 422
    assert "the plan takes no" in refused.text


def test_upkeep_as_a_calendar_read_by_an_independent_package(client):
    upkeep = client.get("/gardens/1/upkeep").context["answer"]
    found = icalendar.Calendar.from_ical(client.get("/gardens/1/upkeep.ics").content)
    events = {str(e["summary"]): e for e in found.walk("VEVENT")}
    assert set(events) == {task.title for task in upkeep.tasks}
    later = next(t for t in upkeep.tasks if t.due > date.today())
    event = events[later.title]
    assert event["dtstart"].dt == later.due  # a day, no hour
    assert "duration" not in event
    assert str(event["description"]) == later.why.told(System.METRIC)
    assert len({str(e["uid"]) for e in found.walk("VEVENT")}) == len(upkeep.tasks)


def test_done_today_goes_into_the_log_and_moves_the_day(client, conn):
    task = next(
        t for t in client.get("/gardens/1/upkeep").context["answer"].tasks if t.kind == "battery"
    )
    form = {"kind": task.kind, "part": task.part_id, "note": task.title, "back": "upkeep"}
    page = client.post("/gardens/1/log", data=form)
    again = next(t for t in page.context["answer"].tasks if t.key == task.key)
    assert again.last == date.today()


def test_feed_is_dosed_and_too_strong_is_refused(client):
    page = client.get("/gardens/1/feed?into=barrel:shed-barrel&volume=200 L&strength=5 mL")
    assert page.context["answer"].dose.concentrate == pytest.approx(0.001)
    assert page.context["answer"].flush.amount.value > 0
    client.post("/gardens/1/units", data={"based_on": 1, "back": "feed"})
    us = client.get("/gardens/1/feed?into=barrel:shed-barrel&volume=50 gal&strength=1 fl oz")
    assert us.context["answer"].dose.concentrate == pytest.approx(50 * 29.5735e-6, rel=1e-4)
    mains = client.get(
        "/gardens/1/feed?into=injector:garden-tap&volume=100 L&strength=2 mL&ratio=100"
    )
    assert "joined to drinking water" in mains.text
    strong = client.get("/gardens/1/feed?into=barrel:shed-barrel&volume=200 L&strength=200 mL")
    assert "stronger than any feed" in strong.text


def test_feed_is_offered_only_where_it_can_go_and_is_written_down_from_there(client):
    ways = {
        v.key for _, several in client.get("/gardens/1/feed").context["vessels"] for v in several
    }
    assert {"barrel:shed-barrel", "injector:garden-tap"} <= ways
    assert not {"barrel:garden-tap", "injector:shed-barrel", "reserve:patio-pots"} & ways
    holds = client.get("/gardens/1/feed?into=barrel:shed-barrel").context["typed"]["volume"]
    other = client.get(
        f"/gardens/1/feed?into=injector:garden-tap&was=barrel:shed-barrel&volume={holds}"
    )
    assert (
        other.context["typed"]["volume"] == "100 L"
    )  # what the barrel holds says nothing of a tap
    names = [part.name for part in other.context["answer"].goes_to]
    assert "Patio pots" in names
    form = {
        "kind": "feed",
        "part": "shed-barrel",
        "volume": "1500 mL",
        "note": "seaweed",
        "back": "feed",
    }
    after = client.post("/gardens/1/log", data=form)
    assert (after.context["last"].about, after.context["last"].note) == ("Shed barrel", "seaweed")


def test_fault_asks_and_then_answers(client):
    assert "Say what you see" in client.get("/gardens/1/fault?at=shed-timer").text
    found = client.get("/gardens/1/fault?at=shed-timer&seen=far-weak")
    assert found.context["answer"].found.likely[0].kind.id == "line-clog"


def test_the_season_as_a_table(client):
    client.post("/gardens/1/log", data={"kind": "harvest", "part": "top-bed", "mass": "1.5 kg"})
    rows = list(csv.DictReader(io.StringIO(client.get("/gardens/1/season.csv").text)))
    found = {(r["name"], r["measure"]): float(r["value"]) for r in rows}
    assert found["Top step", "harvest_kg"] == 1.5
    assert "1.5 kg" in client.get("/gardens/1/report").text


def test_a_backup_is_proved_asked_about_and_restored(client, conn):
    client.post(
        "/gardens/1/log", data={"kind": "note", "note": "kept"}, files={"photo": ("a.jpg", photo())}
    )
    saved = client.get("/backup").content
    assert zipfile.ZipFile(io.BytesIO(saved)).testzip() is None
    client.post("/gardens/1/log", data={"kind": "note", "note": "lost"})
    cut = client.post("/restore", files={"file": ("b.zip", saved[:-500])})
    assert cut.status_code == 422
    assert "cut short" in cut.text
    assert "cannot be brought back" in cut.text
    assert len(entries(conn)) == 2
    asked = client.post("/restore", files={"file": ("b.zip", saved)})
    assert len(entries(conn)) == 2  # proved, but nothing replaced yet
    done = client.post("/restore/confirmed", data={"digest": asked.context["digest"]})
    assert done.status_code == 200
    assert "The backup is back" in done.text
    assert [e.note for e in entries(conn)] == ["kept"]
    assert client.get("/gardens/1/keep").text.count("kept") >= 1
    late = client.post("/restore/confirmed", data={"digest": asked.context["digest"]})
    assert late.status_code == 409


def test_what_a_shell_brings_back_shows_at_once_and_old_pages_are_stale(client, tmp_path):
    """The server goes on: neither what it had worked out nor a page that is open shows the former one."""

    def barrels() -> tuple[str, str]:
        page = client.get("/gardens/1/store").text
        spills = re.search(r"([\d,.]+) (L|gal) a year|(\d[\d,.]*) (L|gal)\b", page)[0]
        return re.search(r'name="based_on" value="(\d+)"', page)[1], spills

    saved = tmp_path / "saved.zip"
    backup.make(client.app.state.data, saved)
    first, before = barrels()
    client.post("/gardens/1/units", data={"based_on": first})
    old, changed = barrels()
    assert changed != before
    backup.restore(client.app.state.data, saved)
    new, after = barrels()
    assert after == before
    assert new not in (first, old)
    for stale in (first, old):
        assert client.post("/gardens/1/units", data={"based_on": stale}).status_code == 409
    assert client.post("/gardens/1/units", data={"based_on": new}).status_code == 200


WORDS = ("{x}", "{0}", "{", "}", "{5 m|height}", "{a|b}", "%s")
NAMED = (
    "Top step",
    "Shed barrel",
    "Shed hose",
    "Net shed roof",
    "Shed timer",
    "Garden tap",
    "Patio pots",
)


@pytest.mark.parametrize("turn", swept([0, 3], [0]))
def test_braces_in_a_name_break_no_page(client, turn):
    text = client.get("/gardens/1/garden.json").text
    for number, name in enumerate(NAMED):
        word = WORDS[(number + turn) % len(WORDS)]
        assert f'"{name}"' in text
        text = text.replace(f'"{name}"', f'"{name} {word}"')
    client.post("/gardens/from-file", files={"file": ("g.json", text)})
    for station in STATION_PAGES:
        for query in ("", "?at=shed-timer&seen=all-weak"):
            assert client.get(f"/gardens/2/{station}{query}").status_code == 200, station


def test_a_garden_from_somebody_else_is_checked_and_added(client, conn):
    own = client.get("/gardens/1/garden.json").text
    brought = client.post("/gardens/from-file", files={"file": ("g.json", own)})
    assert str(brought.url).endswith("/gardens/2/place")
    assert gardens.current(conn, 2).garden.beds == gardens.current(conn, 1).garden.beds
    evil = own.replace('"Top step"', '"<script>alert(1)</script>"', 1)
    client.post("/gardens/from-file", files={"file": ("g.json", evil)})
    assert "<script>alert(1)" not in client.get("/gardens/3/need").text
    for content in (b"\xff\xfe", b"[]", b"{", own.replace("2", '"x"', 1).encode()):
        refused = client.post("/gardens/from-file", files={"file": ("g.json", content)})
        assert refused.status_code == 422
        assert 'role="alert"' in refused.text
    assert len(gardens.all_gardens(conn)) == 3


def test_a_hose_has_one_length_wherever_it_is_told(client, conn):
    """On label, line, plan to print and in the steps: that to which it is cut."""
    garden = gardens.current(conn, 1).garden
    cut = cut_lengths(garden)["bottom-bed-hose"]
    told = quantities.show(cut, "length", garden.units)
    drawn = next(pipe for pipe in garden.pipes if pipe.id == "bottom-bed-hose").drawn_m
    assert told != quantities.show(drawn, "length", garden.units)  # it goes down a slope
    for page in ("labels", "lines/bottom-bed-hose", "plan", "steps", "upkeep"):
        assert told in client.get(f"/gardens/1/{page}").text.replace("\u00a0", " "), page
