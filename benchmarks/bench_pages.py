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
    with _serving(folder, 8933) as (base, _):
        yield _before_it(base, folder)


def _before_it(base, folder):
    headers = {"origin": base}
    client = httpx2.Client(base_url=base, headers=headers, follow_redirects=True, timeout=60)
    visitor = Visitor(folder, client)
    visitor.open("/gardens/1")
    return visitor


def _filled_in(visitor, station, turn):
    """Where the form of a part is sent, and what it then says."""
    part_id, field, typed = EDITS[station]
    visitor.open(f"{station}?at={part_id}")
    form = next(f for f in visitor.page.forms if f.fields.get("part_id") == part_id)
    form.fields[field] = typed.format(turn)
    return form.action.split("#")[0], dict(form.form_values())


@pytest.mark.parametrize("station", EDITS)
def bench_edit_to_answer(benchmark, report, at_home, station):
    """One value of a part changed, until the page with the new verdict is there, on the demo with its log."""
    turn = iter(range(100))

    def filled_in():
        return _filled_in(at_home, station, next(turn)), {}

    def send(address, values):
        answer = at_home.client.post(address, data=values)
        assert answer.status_code == 200, answer.text[:500]

    benchmark.pedantic(send, setup=filled_in, rounds=10, warmup_rounds=1)
    median = milliseconds(benchmark.stats.stats.median)
    report(f"edit to answer on {station}: median {median} (budget 300 ms)")


@contextlib.contextmanager
def _serving(data, port):
    """The address of a server as `make demo` starts it, and its process."""
    words = [sys.executable, "-m", "euhydra.cli", "demo", "--port", str(port), "--data", str(data)]
    with subprocess.Popen(words, stdout=subprocess.DEVNULL) as process:
        try:
            base = f"http://127.0.0.1:{port}"
            _wait_for(base)
            yield base, process
        finally:
            process.terminate()


def bench_memory_of_the_server(benchmark, report, tmp_path):
    """After every page a few times, and then after many changes, each with the cures that its page asks for."""
    with _serving(tmp_path, 8931) as (base, process):
        benchmark.pedantic(_turn_every_page, (base,), rounds=5)
        turned = _memory_mb(process)
        visitor = _before_it(base, tmp_path)
        for turn in range(CHANGES // len(EDITS)):
            for station in EDITS:
                address, values = _filled_in(visitor, station, turn)
                assert visitor.client.post(address, data=values).status_code == 200
                assert visitor.client.get(f"/gardens/1/cures/{station}").status_code == 200
        changed = _memory_mb(process)
    report(
        f"memory of the server: {turned:.0f} MB after its pages, {changed:.0f} MB after {CHANGES} changes "
        "(budget 200 MB)"
    )


CHANGES = 100


def _memory_mb(process):
    status = Path(f"/proc/{process.pid}/status").read_text()
    return next(int(line.split()[1]) for line in status.splitlines() if "VmRSS" in line) / 1024


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
