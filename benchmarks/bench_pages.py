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


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    data = tmp_path_factory.mktemp("data")
    server.seed_demo(data, with_log=True)
    with client_of(create_app(data)) as client:
        yield client


@pytest.mark.parametrize("path", PAGES)
def bench_page(benchmark, report, client, path):
    answer = benchmark.pedantic(client.get, (f"/{path}",), rounds=100, warmup_rounds=3)
    assert answer.status_code == 200
    late = milliseconds(percentile(benchmark, 0.95))
    report(f"/{path}: 95th percentile {late} of 100 (budget 50 ms)")


def bench_save_a_part(benchmark, report, client):
    """An edit until the next page stands there, the chain computed anew."""
    turn = iter(range(1000))

    def edit():
        now = client.get("/gardens/1/garden.json").json()
        store = now["stores"][-1]
        data = {"based_on": _revision(client), "part_id": store["id"], "at": store["id"]}
        names = ("name", "kind", "volume_m3", "height_m", "ground_m", "outlet_height_m")
        data |= {name: _typed(store, name) for name in names}
        data |= {"stand_m": f"{40 + next(turn) % 40} cm", "count": "1", "sunk_m": "0 cm"}
        answer = client.post("/gardens/1/store/store", data=data)
        assert answer.status_code == 200, answer.text[:500]

    benchmark.pedantic(edit, rounds=10, warmup_rounds=1)
    report(
        f"save a barrel and see Store again: median {milliseconds(benchmark.stats.stats.median)}"
    )


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


def _revision(client) -> str:
    page = client.get("/gardens/1/place").text
    return page.split('name="based_on" value="', 1)[1].split('"', 1)[0]


def _typed(store: dict, name: str) -> str:
    value = store[name]
    if name in ("name", "kind"):
        return value
    return f"{value * 1000} L" if name == "volume_m3" else f"{value} m"
