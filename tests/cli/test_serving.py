"""The program served, as a process of its own, and what is said where it cannot be."""

import json
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager

import pytest
from click.testing import CliRunner

from euhydra.cli.commands import main

COMMAND = [sys.executable, "-m", "euhydra.cli"]


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


@contextmanager
def serving(*words: str) -> Iterator[str]:
    """A server process; its address once it answers."""
    port = free_port()
    with subprocess.Popen(
        [*COMMAND, *words, "--port", str(port)], stdout=subprocess.PIPE, stderr=subprocess.STDOUT
    ) as process:
        base = f"http://127.0.0.1:{port}"
        try:
            for _ in range(300):
                try:
                    urllib.request.urlopen(base).close()
                    break
                except urllib.error.HTTPError as answer:
                    answer.close()
                    break  # it answers, though not to a stranger
                except urllib.error.URLError:
                    assert process.poll() is None, process.stdout.read()
                    time.sleep(0.1)
            yield base
        finally:
            process.terminate()


def garden(base: str) -> dict:
    with urllib.request.urlopen(f"{base}/gardens/1/garden.json") as answer:
        return json.load(answer)


def test_the_demo_keeps_what_was_changed_and_can_be_laid_out_anew(tmp_path):
    data = ["--data", str(tmp_path / "data")]
    with serving("demo", *data) as base:
        assert garden(base)["units"] == "metric"
        form, origin = b"based_on=1&back=catch", {"origin": base}
        switch = urllib.request.Request(f"{base}/gardens/1/units", form, origin)
        urllib.request.urlopen(switch).close()
    kept = {path: path.stat().st_mtime_ns for path in (tmp_path / "data" / "compiled").iterdir()}
    with serving("demo", *data) as base:
        assert garden(base)["units"] == "us"
    assert kept
    # What was compiled is taken from there: none is written again.
    assert all(path.stat().st_mtime_ns == written for path, written in kept.items())
    with serving("demo", "--reset", *data) as base, urllib.request.urlopen(base) as answer:
        page = answer.read().decode()
    assert page.count("Pilchard Steps") == 1


def refused(*words: str) -> str:
    """What is said instead of serving."""
    done = CliRunner().invoke(main, words)
    assert done.exit_code != 0
    assert isinstance(done.exception, SystemExit)  # in words, and not by falling over
    assert "http" not in done.stdout  # no address is told that does not answer
    return done.stderr


def test_a_taken_port_is_said_plainly(tmp_path):
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        port = str(other.getsockname()[1])
        said = refused("serve", "--port", port, "--data", str(tmp_path))
    assert f"Port {port} is taken" in said


@pytest.mark.parametrize("kind", ["file", "forbidden"])
def test_a_folder_that_cannot_be_used_is_said_plainly(tmp_path, kind):
    place = tmp_path / "data"
    if kind == "file":
        place.write_text("not a folder")
    else:
        place.mkdir()
        (place / "euhydra.db").write_bytes(b"nothing of ours" * 50)
    assert str(place) in refused("demo", "--data", str(place), "--port", str(free_port()))


def test_the_home_network_is_served_behind_the_passphrase_only(tmp_path):
    data = ["--data", str(tmp_path / "data")]
    unguarded = ("serve", "--home-network", *data, "--port", str(free_port()))
    assert "euhydra passphrase" in refused(*unguarded)
    refused("passphrase", *data, "--phrase", "short")
    chosen = CliRunner().invoke(main, ["passphrase", *data, "--phrase", "three green cans"])
    assert chosen.exit_code == 0
    with serving("serve", "--home-network", *data) as base:
        opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor())
        opener.addheaders += [("origin", base)]
        assert asked(opener, base) == (401, "The passphrase is wanted first.")
        assert asked(opener, f"{base}/enter", b"phrase=three+red+cans&back=/")[0] == 403
        status, page = asked(opener, f"{base}/enter", b"phrase=three+green+cans&back=/")
        assert status == 200
        assert "Your gardens" in page
        assert asked(opener, base)[0] == 200  # and stays in
        assert asked(urllib.request.build_opener(), base)[0] == 401


def asked(
    opener: urllib.request.OpenerDirector, url: str, data: bytes | None = None
) -> tuple[int, str]:
    """Status and text of an answer, a refusal too."""
    try:
        with opener.open(url, data) as answer:
            return answer.status, answer.read().decode()
    except urllib.error.HTTPError as refusal:
        with refusal:
            return refusal.code, refusal.read().decode()
