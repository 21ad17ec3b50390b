"""Entries over the years: their part is gone, their photo is gone, or they never were."""

import io
import re
from contextlib import closing
from datetime import datetime, timedelta

import pytest
from PIL import Image

from euhydra.records import database, gardens, log
from gardens import one_barrel
from markup import Page

FELT = {"kind": "finger", "part": "top-bed", "word": "dry", "at": "2026-07-01T08:00", "note": "old"}


def kept(client, **typed: str) -> str:
    """Address of the newest entry, after one was kept."""
    answer = client.post(
        "/gardens/1/log", data=FELT | typed, headers={"accept": "application/json"}
    )
    assert answer.status_code == 200, answer.text
    return f"/gardens/1/log/{answer.json()['id']}"


def remove(client, part_id: str) -> None:
    revision = client.get("/gardens/1/need").context["revision"].id
    data = {"part_id": part_id, "based_on": str(revision), "back": "need"}
    assert client.post("/gardens/1/remove", data=data).status_code == 200


def typed_on(client, address: str) -> dict[str, str]:
    """What the form of an entry shows, as a browser would send it back."""
    forms = Page(client.get(address).text).forms()
    return next(form.fields for form in forms if form.action.endswith(address))


def test_an_entry_about_a_part_that_is_gone_can_still_be_mended(drawn):
    address = kept(drawn)
    remove(drawn, "top-bed")
    typed = typed_on(drawn, address)
    assert typed["part"] == "top-bed"
    assert "a part that is gone" in drawn.get(address).text
    assert drawn.post(address, data=typed | {"note": "mended"}).status_code == 200
    (row,) = [r for r in drawn.get("/gardens/1/log.csv").text.splitlines() if "mended" in r]
    assert "top-bed" in row


def test_it_is_not_led_to_another_part_that_is_not_there(drawn):
    address = kept(drawn)
    remove(drawn, "top-bed")
    refused = drawn.post(address, data=typed_on(drawn, address) | {"part": "moon-bed"})
    assert refused.status_code == 422
    assert "not in the garden" in refused.text
    assert (
        drawn.post(address, data=typed_on(drawn, address) | {"part": "middle-bed"}).status_code
        == 200
    )


def test_a_new_entry_about_it_is_refused(drawn):
    remove(drawn, "top-bed")
    answer = drawn.post("/gardens/1/log", data=FELT, headers={"accept": "application/json"})
    assert answer.status_code == 422
    assert "part" in answer.json()["faults"]


@pytest.mark.parametrize(
    ("kind", "typed"),
    [
        ("dip", {"part": "shed-barrel", "depth": "40 cm"}),
        ("setting", {"part": "shed-timer", "run": "20 min", "every": "2 days"}),
        ("cups", {"part": "top-bed", "seconds": "60 s", "cups": "10 mL, 11 mL, 9 mL"}),
        ("flush", {"part": ""}),
        ("note", {"part": "", "note": "rained off"}),
    ],
)
def test_every_form_sent_back_as_it_stands_is_taken(drawn, kind, typed):
    address = kept(drawn, kind=kind, word="", **typed)
    before = drawn.get("/gardens/1/log.csv").text
    assert drawn.post(address, data=typed_on(drawn, address)).status_code == 200
    assert drawn.get("/gardens/1/log.csv").text == before


def photo(colour: str = "green") -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (40, 30), colour).save(out, "JPEG")
    return out.getvalue()


def test_a_photo_stays_when_the_words_are_changed_and_goes_when_another_comes(drawn):
    sent = drawn.post(
        "/gardens/1/log", data=FELT, files={"photo": ("a.jpg", photo(), "image/jpeg")}
    )
    address = re.search(r"/gardens/1/log/\d+", sent.text)[0]
    first = typed_on(drawn, address)["photo_kept"]
    assert first
    drawn.post(address, data=typed_on(drawn, address) | {"note": "other words"})
    assert typed_on(drawn, address)["photo_kept"] == first
    files = {"photo": ("b.jpg", photo("red"), "image/jpeg")}
    drawn.post(address, data=typed_on(drawn, address), files=files)
    second = typed_on(drawn, address)["photo_kept"]
    assert second
    assert second != first
    assert drawn.get(f"/gardens/1/photos/{second}").headers["content-type"] == "image/jpeg"


def test_a_photo_that_never_was_is_not_believed(drawn):
    address = kept(drawn, photo_kept="0" * 64)
    assert typed_on(drawn, address)["photo_kept"] == ""
    for digest in ("0" * 64, "..%2f..%2fetc%2fpasswd", "x"):
        assert drawn.get(f"/gardens/1/photos/{digest}").status_code == 404


@pytest.mark.parametrize("act", ["", "/removed"])
def test_an_entry_that_never_was_is_not_found(drawn, act):
    answer = drawn.post(f"/gardens/1/log/99{act}", data=FELT)
    assert answer.status_code == 404
    assert drawn.get("/gardens/1/log/99").status_code == 404


def test_an_entry_of_another_garden_is_not_found_here(drawn):
    address = kept(drawn)
    form = {"name": "Other", "latitude_deg": "41.2", "elevation_m": "30 m"}
    drawn.post("/gardens", data=form)
    assert drawn.get(address.replace("/gardens/1/", "/gardens/2/")).status_code == 404
    assert drawn.post(address.replace("/gardens/1/", "/gardens/2/"), data=FELT).status_code == 404


def test_a_table_that_is_no_text_is_refused_and_nothing_is_added(drawn):
    kept(drawn)
    before = drawn.get("/gardens/1/log.csv").text
    files = {"file": ("log.csv", b"\xff\xfe\x00bad\x81", "text/csv")}
    answer = drawn.post("/gardens/1/log.csv", files=files)
    assert "save it as CSV in UTF-8" in answer.text
    assert drawn.get("/gardens/1/log.csv").text == before


def test_the_worker_that_keeps_pages_is_never_kept_itself(drawn):
    answer = drawn.get("/sw.js")
    assert answer.headers["cache-control"] == "no-cache"
    assert answer.headers["content-type"].startswith("text/javascript")


def test_a_photo_opens_under_its_own_garden_only(drawn):
    sent = drawn.post(
        "/gardens/1/log", data=FELT, files={"photo": ("a.jpg", photo(), "image/jpeg")}
    )
    digest = re.search(r"/gardens/1/photos/([0-9a-f]{64})", sent.text)[1]
    with closing(database.connect(drawn.app.state.database)) as conn:
        other = gardens.create(conn, one_barrel())
    assert drawn.get(f"/gardens/1/photos/{digest}").status_code == 200
    assert drawn.get(f"/gardens/{other}/photos/{digest}").status_code == 404
    assert drawn.get(f"/gardens/{other}/pictures/{digest}.png").status_code == 404
    taken = drawn.post(
        f"/gardens/{other}/log", data={"kind": "note", "note": "n", "photo_kept": digest}
    )
    assert digest not in taken.text


def test_an_id_that_is_too_long_is_refused_and_never_cut(drawn):
    """Two of them that begin alike would be taken for one, and the second lost."""
    for end in "ab":
        entry = FELT | {"sent_id": "0" * 70 + end, "note": f"note {end}"}
        answer = drawn.post("/gardens/1/log", data=entry, headers={"accept": "application/json"})
        assert answer.status_code == 422
    assert "note a" not in drawn.get("/gardens/1/keep").text


@pytest.mark.parametrize(
    ("ahead", "made", "status"),
    [
        (timedelta(days=40), True, 200),  # the computer's clock was set back
        (timedelta(days=40), False, 422),  # typed so: a slip
        (timedelta(days=500), True, 422),
        (timedelta(hours=12), False, 200),  # another time zone
    ],
)
def test_an_entry_of_a_device_whose_clock_is_ahead_is_kept_and_told(drawn, ahead, made, status):
    at = (datetime.now() + ahead).isoformat(timespec="minutes")
    entry = FELT | {"at": at} | ({"made_at": at} if made else {})
    answer = drawn.post("/gardens/1/log", data=entry, headers={"accept": "application/json"})
    assert answer.status_code == status
    page = drawn.get("/gardens/1/keep")
    is_odd = made and status == 200
    assert (
        "log-later-than-clock" in {r.code for r in page.context["answer"].verdict.reasons}
    ) is is_odd
    assert drawn.get("/gardens/1/judge").status_code == 200


JSON = {"accept": "application/json"}


@pytest.mark.parametrize(
    ("ago_s", "late"),
    [("7200", timedelta(hours=2)), ("", timedelta()), ("-5", timedelta()), ("9" * 30, timedelta())],
)
def test_an_entry_without_a_time_was_made_as_long_ago_as_its_device_says(drawn, ago_s, late):
    told = FELT | {"ago_s": ago_s, "sent_id": "late"}
    told.pop("at", None)
    before = datetime.now() - late
    assert drawn.post("/gardens/1/log", data=told, headers=JSON).status_code == 200
    with closing(database.connect(drawn.app.state.database)) as conn:
        (kept,) = log.find(conn, 1, log.Search("finger"), 1)
    assert abs(kept.entry.at - before) < timedelta(minutes=2)


def test_a_round_of_fingers_is_an_entry_of_each_bed_once(drawn):
    told = {"kind": "finger", "at": "2026-07-02T08:00", "sent_id": "round-1", "note": "a round"}
    told |= {"word-bottom-bed": "dry", "word-middle-bed": "muddy", "word-hedge": ""}
    for is_new in (True, False):
        answer = drawn.post("/gardens/1/log", data=told, headers=JSON)
        assert (answer.status_code, answer.json()["is_new"]) == (200, is_new)
    rows = [r for r in drawn.get("/gardens/1/log.csv").text.splitlines() if "a round" in r]
    assert len(rows) == 2
    assert any("bottom-bed" in r and "dry" in r for r in rows)
    assert any("middle-bed" in r and "muddy" in r for r in rows)


def test_a_round_of_nothing_asks_for_one_bed(drawn):
    told = {"kind": "finger", "at": "2026-07-02T08:00", "word-top-bed": ""}
    answer = drawn.post("/gardens/1/log", data=told, headers=JSON)
    assert answer.status_code == 422
    assert set(answer.json()["faults"]) == {"word"}


def test_the_same_rain_is_asked_about_and_may_be_said_to_have_fallen_again(drawn):
    rain = {"kind": "rain", "depth": "7.3 mm", "at": "2025-07-02T08:00", "note": "same rain"}
    assert drawn.post("/gardens/1/log", data=rain, headers=JSON).status_code == 200
    again = rain | {"at": "2025-07-02T09:30"}
    asked = drawn.post("/gardens/1/log", data=again, headers=JSON)
    assert asked.status_code == 422
    assert set(asked.json()["faults"]) == {"sure"}
    page = drawn.post("/gardens/1/log", data=again)
    (form,) = (f for f in Page(page.text).forms() if f.fields.get("kind") == "rain")
    assert form.fields["depth"] == "7.3 mm"  # nothing typed is lost
    for other in ({"sure": "yes"}, {"depth": "9 mm"}, {"at": "2025-07-03T08:00"}):
        kept = drawn.post("/gardens/1/log", data=again | other, headers=JSON)
        assert kept.status_code == 200
