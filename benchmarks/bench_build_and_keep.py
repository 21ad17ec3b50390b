"""Shopping list, log, judgement and backup, against their budgets."""

import gzip
import random
from contextlib import closing
from datetime import datetime, timedelta

import pytest

from conftest import milliseconds, percentile
from euhydra.garden import demo
from euhydra.garden.logbook import LogEntry
from euhydra.garden.model import Garden
from euhydra.garden.part import Point
from euhydra.planner.parts.answer import make_list
from euhydra.records import backup, database, log
from euhydra.web import server
from euhydra.web.app import create_app
from gardens import long_row
from served import client_of

MANY = 20_000


@pytest.fixture(scope="module")
def five_years(tmp_path_factory):
    """The demo with five years of log: twenty thousand entries."""
    data = tmp_path_factory.mktemp("five-years")
    server.seed_demo(data)
    chance, now = random.Random(5), datetime.now().replace(second=0, microsecond=0)

    def entry(i: int) -> LogEntry:
        at = now - timedelta(minutes=131 * (MANY - i))
        kind = chance.choice(("rain", "dip", "finger", "note", "harvest"))
        if kind == "rain":
            return LogEntry(kind, at, None, (chance.random() / 100,))
        if kind == "dip":
            return LogEntry(kind, at, "shed-barrel", (chance.random(),))
        if kind == "finger":
            return LogEntry(kind, at, "top-bed", (), chance.choice(("dry", "right", "muddy")))
        if kind == "harvest":
            return LogEntry(kind, at, "top-bed", (chance.random(),))
        return LogEntry(kind, at, None, (), "", f"note number {i}")

    with closing(database.connect(data / database.FILE_NAME)) as conn:
        log.add_all(conn, 1, ((f"e{i}", entry(i)) for i in range(MANY)))
    return data


@pytest.fixture(scope="module")
def client(five_years):
    with client_of(create_app(five_years)) as client:
        client.get("/gardens/1/keep")
        yield client


def bench_entry_saved_and_page_back(benchmark, report, client):
    """One entry, and the log's page with it."""
    turn = iter(range(10**6))

    def save():
        said = f"bench {next(turn)}"
        form = {"kind": "note", "note": said, "sent_id": said.replace(" ", "-")}
        answer = client.post("/gardens/1/log", data=form)
        assert answer.status_code == 200
        assert said in answer.text

    benchmark.pedantic(save, rounds=100, warmup_rounds=3)
    late = milliseconds(percentile(benchmark, 0.95))
    report(f"entry saved and page back, {MANY} in the log: 95th percentile {late} (budget 100 ms)")


def bench_judgement_after_an_entry(benchmark, report, client):
    """What the log says, worked out anew after each entry."""
    turn = iter(range(10**6))

    def judge():
        form = {"kind": "note", "sent_id": f"judge-{next(turn)}"}
        client.post("/gardens/1/log", data=form, headers={"accept": "application/json"})
        assert client.get("/gardens/1/judge").status_code == 200

    benchmark.pedantic(judge, rounds=5, warmup_rounds=1)
    report(
        f"the log judged anew, {MANY} in it: median {milliseconds(benchmark.stats.stats.median)}"
    )


def many_outlets() -> Garden:
    """Twenty rows of thirty metres on one header: two thousand outlets."""
    garden = long_row(30.0, "line-low")
    pipes = {p.id: p for p in garden.pipes}
    row, header = pipes.pop("middle-line-1"), pipes.pop("middle-line-header")
    start, apart, count = header.path[0], 0.45, 20

    def at(x: float, along: float) -> Point:
        return Point(x_m=x, y_m=start.y_m + along)

    far = at(start.x_m, apart * (count - 1))
    rows = tuple(
        row.model_copy(
            update={
                "id": f"row-{i}",
                "name": f"Row {i}",
                "begins_along_m": apart * i,
                "path": (at(start.x_m, apart * i), at(start.x_m + 30.0, apart * i)),
            }
        )
        for i in range(count)
    )
    longer = header.model_copy(update={"path": (start, far)})
    return garden.model_copy(update={"pipes": (*pipes.values(), longer, *rows)})


def bench_shopping_list_of_many_outlets(benchmark, report):
    """Counted by both routes, priced and packed; beside it the demo's."""
    garden = many_outlets()
    outlets = sum(round(p.lies_m / 0.3) for p in garden.pipes if p.kind == "line-low")
    benchmark.pedantic(make_list, (garden, {}), rounds=5, warmup_rounds=1)
    report(
        f"shopping list, {outlets} outlets: median {milliseconds(benchmark.stats.stats.median)} (budget 500 ms)"
    )


def bench_shopping_list_of_the_demo(benchmark, report):
    """96 outlets, 25 pipes."""
    benchmark(make_list, demo.garden(), {})
    report(f"shopping list of the demo: median {milliseconds(benchmark.stats.stats.median)}")


def bench_backup(benchmark, report, five_years, tmp_path):
    """Five years into one file."""
    target = tmp_path / "saved.zip"
    benchmark.pedantic(backup.make, (five_years, target), rounds=3)
    size = target.stat().st_size / 1e6
    report(
        f"backup of five years, {size:.1f} MB: median {milliseconds(benchmark.stats.stats.median)} (budget 3 s)"
    )


def bench_restore(benchmark, report, five_years, tmp_path):
    """Proved, what is there saved, then replaced."""
    target = tmp_path / "saved.zip"
    backup.make(five_years, target)
    benchmark.pedantic(backup.restore, (five_years, target), rounds=3)
    report(
        f"restore of five years: median {milliseconds(benchmark.stats.stats.median)} (budget 3 s)"
    )


def bench_first_page_of_keep(report, client, benchmark):
    """Bytes of page, style and scripts, as they are sent; fonts as they are."""

    def weigh() -> int:
        page = client.get("/gardens/1/keep").content
        files = ("css/app.css", "js/app.js", "js/sw.js")
        packed = sum(len(gzip.compress(client.get(f"/static/{f}").content, 5)) for f in files)
        fonts = ("source-sans-3", "alegreya")
        plain = sum(
            len(client.get(f"/static/fonts/{f}-latin-wght-normal.woff2").content) for f in fonts
        )
        return len(gzip.compress(page, 5)) + packed + plain

    size = benchmark.pedantic(weigh, rounds=3)
    report(f"first page of Keep, cold: {size / 1000:.0f} kB (budget 200 kB)")
