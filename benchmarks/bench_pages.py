"""Server time of every page of the demo, through the application in this process."""

import contextlib
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import pytest

from conftest import milliseconds, percentile
from euhydra.web import server
from euhydra.web.app import create_app
from served import PAGES, client_of
from visitor import Visitor


@pytest.fixture(scope="module")
def data(tmp_path_factory):
    folder = tmp_path_factory.mktemp("data")
    server.seed_demo(folder, with_log=True)
    return folder


@pytest.fixture(scope="module")
def client(data):
    with client_of(create_app(data)) as client:
        yield client


@pytest.mark.parametrize("path", PAGES)
def bench_page(benchmark, report, client, path):
    answer = benchmark.pedantic(client.get, (f"/{path}",), rounds=100, warmup_rounds=3)
    assert answer.status_code == 200
    late = milliseconds(percentile(benchmark, 0.95))
    report(f"/{path}: 95th percentile {late} of 100 (budget 50 ms)")


EDITS = {
    "catch": ("house-roof", "length_m", "8.{} m"),
    "store": ("wall-tank", "stand_m", "4{} cm"),
    "need": ("top-bed", "width_m", "8{} cm"),
    "push": ("top-hose", "fittings_loss", "3.{}"),
    "time": ("top-timer", "window_s", "2.{} h"),
}
"""By station: a part, one of its fields, and what is typed there."""


@pytest.mark.parametrize("station", EDITS)
def bench_edit_to_answer(benchmark, report, data, station):
    """One value of a part changed, until the page with the new verdict is there, on the demo with its log."""
    part_id, field, typed = EDITS[station]
    visitor = Visitor(data)
    visitor.open("/gardens/1")
    turn = iter(range(1000))

    def filled_in():
        visitor.open(f"{station}?at={part_id}")
        form = next(f for f in visitor.page.forms if f.fields.get("part_id") == part_id)
        form.fields[field] = typed.format(next(turn) % 5 + 1)
        return (form.action.split("#")[0], dict(form.form_values())), {}

    def send(address, values):
        answer = visitor.client.post(address, data=values)
        assert answer.status_code == 200, answer.text[:500]

    benchmark.pedantic(send, setup=filled_in, rounds=10, warmup_rounds=1)
    median = milliseconds(benchmark.stats.stats.median)
    report(f"edit to answer on {station}: median {median} (budget 300 ms)")


def bench_memory_of_the_server(benchmark, report, tmp_path):
    """A server of its own, as `make demo` starts it, after every page a few times."""
    port = "8931"
    words = [sys.executable, "-m", "euhydra.cli", "demo", "--port", port, "--data", str(tmp_path)]
    with subprocess.Popen(words, stdout=subprocess.DEVNULL) as server_process:
        try:
            base = f"http://127.0.0.1:{port}"
            _wait_for(base)
            benchmark.pedantic(_turn_every_page, (base,), rounds=5)
            status = Path(f"/proc/{server_process.pid}/status").read_text()
        finally:
            server_process.terminate()
    memory = {
        line.split(":")[0]: int(line.split()[1]) / 1024
        for line in status.splitlines()
        if " kB" in line
    }
    report(
        f"memory of the server: {memory['VmRSS']:.0f} MB now, {memory['VmHWM']:.0f} MB at most (budget 250 MB)"
    )


def _wait_for(base: str) -> None:
    for _ in range(200):
        with contextlib.suppress(OSError):
            urllib.request.urlopen(base).read()
            return
        time.sleep(0.1)


def _turn_every_page(base: str) -> None:
    for path in PAGES:
        urllib.request.urlopen(f"{base}/{path}").read()
