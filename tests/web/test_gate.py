"""The home network waits at the gate."""

import io
import re
import time
import zipfile
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta

import pytest
from click.testing import CliRunner
from icalendar import Calendar

from euhydra.cli.commands import main
from euhydra.records import passphrase, sessions
from euhydra.web import gate
from euhydra.web.app import create_app
from served import client_of, lay_demo

PHRASE = "four damp little words"
HTML = {"accept": "text/html"}


@pytest.fixture
def client(tmp_path):
    lay_demo(tmp_path)
    passphrase.put(tmp_path, PHRASE)
    app = create_app(tmp_path, ["barrel.local"])
    with client_of(app, base_url="http://barrel.local", follow_redirects=False) as client:
        yield client


def test_nothing_is_seen_or_done_without_the_passphrase(client):
    page = client.get("/gardens/1/keep?kind=rain", headers=HTML)
    assert page.status_code == 303
    assert page.headers["location"] == "/enter?back=%2Fgardens%2F1%2Fkeep%3Fkind%3Drain"
    for path in ("/gardens/1/garden.json", "/backup", "/gardens/1/log.csv"):
        assert client.get(path).status_code == 401
    assert client.post("/gardens/1/log", data={"kind": "note"}).status_code == 401
    assert client.get("/enter").status_code == 200
    assert client.get("/static/css/app.css").status_code == 200


def test_the_right_one_opens_and_leads_on(client):
    assert client.post("/enter", data={"phrase": "wrong"}).status_code == 403
    opened = client.post("/enter", data={"phrase": PHRASE, "back": "/gardens/1/keep"})
    assert (opened.status_code, opened.headers["location"]) == (303, "/gardens/1/keep")
    cookie = opened.headers["set-cookie"].lower()
    assert "httponly" in cookie
    assert "samesite=lax" in cookie
    assert client.get("/gardens/1/keep").status_code == 200
    for back in ("https://elsewhere.example/", "//elsewhere.example", "/\\elsewhere.example"):
        led = client.post("/enter", data={"phrase": PHRASE, "back": back})
        assert led.headers["location"] == "/"


def test_a_new_passphrase_ends_every_session(client, tmp_path):
    client.post("/enter", data={"phrase": PHRASE})
    assert client.get("/").status_code == 200
    passphrase.put(tmp_path, "quite other damp words")
    assert client.get("/", headers=HTML).status_code == 303


def test_a_forged_session_does_not_pass(client):
    client.cookies.set(gate.COOKIE, "in.abc.def")
    assert client.get("/").status_code == 401


def test_guessing_has_to_wait(client):
    for _ in range(gate.TRIES):
        assert client.post("/enter", data={"phrase": "guess"}).status_code == 403
    assert client.post("/enter", data={"phrase": PHRASE}).status_code == 429


def test_parallel_guesses_are_counted_before_they_are_looked_at(client, monkeypatch):
    looked_at = []
    monkeypatch.setattr(passphrase, "is_right", lambda *_: time.sleep(0.05) or looked_at.append(1))

    def guess(number):
        return client.post("/enter", data={"phrase": f"guess {number}"}).status_code

    with ThreadPoolExecutor(20) as pool:
        answers = list(pool.map(guess, range(20)))
    assert len(looked_at) == gate.TRIES
    assert sorted(answers) == [403] * gate.TRIES + [429] * (20 - gate.TRIES)


def test_the_computer_itself_never_has_to_wait():
    throttle = gate.Throttle()
    assert [throttle.begin("127.0.0.1") for _ in range(50)] == [0.0] * 50
    assert [throttle.begin("192.0.2.7") > 0 for _ in range(gate.TRIES + 1)][-1]


@pytest.mark.parametrize(
    ("later", "is_in"),
    [(timedelta(days=89), True), (timedelta(days=91), False), (timedelta(days=-400), True)],
)
def test_a_session_ends_after_its_time_and_not_by_a_clock_set_back(tmp_path, later, is_in):
    now = sessions.moment()
    token = sessions.begin(tmp_path, "A phone", now)
    assert (sessions.find(tmp_path, token, now + later) is not None) is is_in
    assert token not in (tmp_path / sessions.FILE_NAME).read_bytes().decode("latin-1")


def test_devices_are_listed_ended_and_leave(client, tmp_path):
    other = sessions.begin(tmp_path, "A phone at 192.0.2.7", sessions.moment())
    client.post("/enter", data={"phrase": PHRASE})
    page = client.get("/devices").text
    assert "A phone at 192.0.2.7" in page
    assert "(this one)" in page
    mine, theirs = (s.id for s in sorted(sessions.every(tmp_path), key=lambda s: -s.id))
    assert client.post(f"/devices/{theirs}/end").headers["location"].endswith("/devices")
    assert sessions.find(tmp_path, other, sessions.moment()) is None
    assert client.post(f"/devices/{mine}/end").headers["location"].endswith("/enter")
    assert client.get("/", headers=HTML).status_code == 303


def test_a_backup_holds_nobodys_way_in(client, tmp_path):
    client.post("/enter", data={"phrase": PHRASE})
    with zipfile.ZipFile(io.BytesIO(client.get("/backup").content)) as archive:
        assert not [
            name for name in archive.namelist() if "session" in name or "passphrase" in name
        ]


def test_private_pages_are_kept_by_nobody_and_what_ships_by_anybody(client):
    client.post("/enter", data={"phrase": PHRASE})
    for path in ("/", "/gardens/1/catch", "/gardens/1/garden.json", "/devices"):
        assert client.get(path).headers["cache-control"] == "no-store"
    assert "no-store" not in client.get("/static/css/app.css").headers.get("cache-control", "")


@pytest.mark.parametrize(
    "headers",
    [
        {"origin": ""},
        {"origin": "http://elsewhere.example"},
        {"origin": "null"},
        {"origin": "http://["},
        {"origin": "http://barrel.local", "sec-fetch-site": "cross-site"},
    ],
)
def test_a_write_that_is_no_pages_of_ours_is_refused(client, headers):
    assert client.post("/enter", data={"phrase": PHRASE}, headers=headers).status_code == 403


def test_a_request_that_names_two_hosts_is_refused(client):
    headers = [("host", "barrel.local"), ("host", "elsewhere.example")]
    assert client.get("/enter", headers=headers).status_code == 400


def test_other_hosts_are_refused(client):
    assert client.get("/enter", headers={"host": "elsewhere.example"}).status_code == 400


def test_the_home_network_is_not_served_without_one(tmp_path):
    runner = CliRunner()
    refused = runner.invoke(main, ["serve", "--home-network", "--data", str(tmp_path)])
    assert refused.exit_code == 1
    assert "not served without a passphrase" in refused.output
    short = runner.invoke(main, ["passphrase", "--data", str(tmp_path), "--phrase", "short"])
    assert "At least 10" in short.output
    kept = runner.invoke(main, ["passphrase", "--data", str(tmp_path), "--phrase", PHRASE])
    assert kept.exit_code == 0
    assert PHRASE not in (tmp_path / passphrase.FILE).read_text()
    assert (tmp_path / passphrase.FILE).stat().st_mode & 0o077 == 0


def test_backup_and_restore_from_a_shell(tmp_path):
    data, target, other = tmp_path / "data", tmp_path / "b.zip", tmp_path / "other"
    lay_demo(data)
    runner = CliRunner()
    saved = runner.invoke(main, ["backup", "--data", str(data), str(target)])
    assert "Pilchard Steps; 0 log entries" in saved.output
    refused = runner.invoke(main, ["restore", "--data", str(other), str(target)], input="n\n")
    assert refused.exit_code == 1
    assert not other.exists()
    brought = runner.invoke(main, ["restore", "--data", str(other), str(target), "--yes"])
    assert brought.exit_code == 0
    target.write_bytes(target.read_bytes()[:1000])
    cut = runner.invoke(main, ["restore", "--data", str(other), str(target), "--yes"])
    assert "Nothing was changed" in cut.output


def feed_of(client) -> str:
    page = client.get("/gardens/1/today").text
    (address,) = re.findall(r"<code>(http://[^<]*/feed/[^<]*\.ics)</code>", page)
    return address


def test_a_calendar_reads_its_address_without_the_passphrase_until_that_is_renewed(client):
    client.post("/enter", data={"phrase": PHRASE})
    address = feed_of(client)
    assert address.startswith("http://barrel.local/feed/")
    client.cookies.clear()
    assert client.get("/gardens/1/today").status_code == 401
    told = Calendar.from_ical(client.get(address).content)
    due = [event for event in told.walk("VEVENT") if "today-" not in event["UID"]]
    assert due  # the demo has upkeep all year
    assert all(event["SUMMARY"] and event["DTSTART"] for event in due)
    client.post("/enter", data={"phrase": PHRASE})
    assert client.post("/gardens/1/feed/renewed").status_code == 303
    assert client.get(address).status_code == 404
    assert client.get(feed_of(client)).status_code == 200
    assert client.get("/feed/guessed.ics").status_code == 404


@pytest.mark.parametrize(
    ("back", "leads"),
    [
        ("/enter?back=%2F", "/enter?back=%2F"),
        ("//elsewhere.example", "/"),
        ("https://x.example", "/"),
    ],
)
def test_the_page_for_bright_sun_can_be_asked_for_before_the_gate(client, back, leads):
    answer = client.post("/contrast", data={"back": back}, follow_redirects=False)
    assert (answer.status_code, answer.headers["location"]) == (303, leads)
    assert client.cookies.get("contrast") == "more"
    client.post("/contrast", data={"back": back}, follow_redirects=False)
    assert client.cookies.get("contrast") is None
