"""Server time of every page of the demo, through the application in this process."""

import contextlib
import os
import subprocess
import sys
import time
import timeit
import urllib.request
from pathlib import Path

import httpx2
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
    "catch": ("house-roof", "length_m", "8.{:02d} m"),
    "store": ("wall-tank", "stand_m", "4{:02d} mm"),
    "need": ("top-bed", "width_m", "8{:02d} mm"),
    "push": ("top-hose", "fittings_loss", "3.{:02d}"),
    "time": ("top-timer", "window_s", "2.{:02d} h"),
}
"""By station: a part, one of its fields, and what is typed there, another value each time."""


@pytest.fixture(scope="module")
def at_home(tmp_path_factory):
    """One who sits before a server of its own, as `make demo` starts it."""
    folder = tmp_path_factory.mktemp("data")
    with (
        _serving(folder, 8933) as base,
        httpx2.Client(
            base_url=base, headers={"origin": base}, follow_redirects=True, timeout=60
        ) as client,
    ):
        visitor = Visitor(folder, client)
        visitor.open("/gardens/1")
        yield visitor


@pytest.mark.parametrize("station", EDITS)
def bench_edit_to_answer(benchmark, report, at_home, station):
    """One value of a part changed, until the page with the new verdict is there, on the demo with its log."""
    part_id, field, typed = EDITS[station]
    turn = iter(range(100))

    def filled_in():
        at_home.open(f"{station}?at={part_id}")
        form = next(f for f in at_home.page.forms if f.fields.get("part_id") == part_id)
        form.fields[field] = typed.format(next(turn))
        return (form.action.split("#")[0], dict(form.form_values())), {}

    def send(address, values):
        answer = at_home.client.post(address, data=values)
        assert answer.status_code == 200, answer.text[:500]

    benchmark.pedantic(send, setup=filled_in, rounds=10, warmup_rounds=1)
    median = milliseconds(benchmark.stats.stats.median)
    report(f"edit to answer on {station}: median {median} (budget 300 ms)")


@contextlib.contextmanager
def _serving(data, port):
    """The address of a server as `make demo` starts it."""
    words = [sys.executable, "-m", "euhydra.cli", "demo", "--port", str(port), "--data", str(data)]
    with subprocess.Popen(words, stdout=subprocess.DEVNULL) as process:
        try:
            base = f"http://127.0.0.1:{port}"
            _wait_for(base)
            yield base
        finally:
            process.terminate()


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
        f"memory of the server: {memory['VmRSS']:.0f} MB now, {memory['VmHWM']:.0f} MB at most (budget 200 MB)"
    )


FRAMEWORKS = (
    "import fastapi, jinja2, numpy, pint, scipy.linalg, scipy.sparse.linalg, shapely, uvicorn"
)
"""What a server of this sort brings in before any line of its own."""


def bench_cold_start(benchmark, report, tmp_path):
    """From the command to the first page, beside a process that only brings in the libraries."""
    words = [sys.executable, "-m", "euhydra.cli", "demo", "--port", "8932", "--data", str(tmp_path)]
    # As installed: modules are compiled once, and not at each start.
    settings = {k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"}

    running = []

    def start():
        running.append(subprocess.Popen(words, stdout=subprocess.DEVNULL, env=settings))
        _wait_for("http://127.0.0.1:8932")

    def stop():
        for process in running:
            process.terminate()
            process.wait()
        running.clear()

    def bring_in():
        subprocess.run([sys.executable, "-c", FRAMEWORKS], check=True, env=settings)

    try:
        benchmark.pedantic(
            start, setup=stop, rounds=5, warmup_rounds=1
        )  # the first lays the demo out
    finally:
        stop()
    libraries = sorted(timeit.repeat(bring_in, number=1, repeat=5))[2]
    median = benchmark.stats.stats.median
    report(
        f"cold start to the first page: median {median:.1f} s of 5, its libraries alone {libraries:.1f} s (budget 1.5 s)"
    )


def _wait_for(base: str) -> None:
    for _ in range(2000):
        with contextlib.suppress(OSError):
            urllib.request.urlopen(base).read()
            return
        time.sleep(0.01)


def _turn_every_page(base: str) -> None:
    for path in PAGES:
        urllib.request.urlopen(f"{base}/{path}").read()
