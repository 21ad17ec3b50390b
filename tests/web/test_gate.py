"""The home network waits at the gate."""

import pytest
from click.testing import CliRunner
from fastapi.testclient import TestClient

from euhydra.cli.commands import main
from euhydra.records import passphrase
from euhydra.web import gate
from euhydra.web.app import create_app
from served import lay_demo

PHRASE = "four damp little words"
HTML = {"accept": "text/html"}


@pytest.fixture
def client(tmp_path):
    lay_demo(tmp_path)
    passphrase.put(tmp_path, PHRASE)
    app = create_app(tmp_path, ["barrel.local"])
    with TestClient(app, base_url="http://barrel.local", follow_redirects=False) as client:
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
