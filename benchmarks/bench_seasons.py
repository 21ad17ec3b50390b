"""Schedules, a season beside the independent FAO-56 package, and the bench's stream."""

import json
import time
import tracemalloc

import numpy as np

import fao56
from conftest import LINES, milliseconds
from euhydra.core import bed
from euhydra.core.bed import BedInputs
from euhydra.core.crop import Crop
from euhydra.core.rootzone import Soil
from euhydra.garden import demo, normals
from euhydra.garden.quantities import System
from euhydra.planner.chain import run_chain
from euhydra.planner.season import odds
from euhydra.planner.time import settings
from euhydra.web import server
from euhydra.web.app import create_app
from euhydra.web.pages.bench import BEAT, told
from served import client_of

ZONES = 6
STREAMED = 4.0
"""How long the stream is listened to. [s]"""


def bench_schedule_a_year_of_six_zones(benchmark, report):
    chain = run_chain(demo.garden(), normals.make_days(demo.normals(), 60))
    designs = [z.running.design for z in chain.zones if z.running]
    six = (designs * 2)[:ZONES]

    def schedule():
        found = []
        for design in six:
            settings.forget()  # what is kept would not be worked out
            found.append(settings.choose_year(design))
        return found

    assert len(benchmark.pedantic(schedule, rounds=5)) == ZONES
    tracemalloc.start()
    schedule()
    peak = tracemalloc.get_traced_memory()[1] / 2**20
    tracemalloc.stop()
    median = milliseconds(benchmark.stats.stats.median)
    report(
        f"schedule for me, 12 months, {ZONES} zones, 60 years: median {median}, {peak:.0f} MB at the peak (budget 0.5 s)"
    )


def bench_odds_of_sixty_years(benchmark, report):
    season = run_chain(demo.garden(), normals.make_days(demo.normals(), 60)).store.season
    benchmark.pedantic(odds.answer_odds, (season,), rounds=5)
    report(
        f"odds of 60 years, the demo, after the replay: median {milliseconds(benchmark.stats.stats.median)} (budget 0.2 s)"
    )


def bench_a_season_beside_the_reference(benchmark, report):
    """The same crop, soil, weather and rule; theirs reckons more columns a day."""
    weather = fao56.year_of("tunis", 1985)
    season = slice(int(fao56.FIRST) - 1, int(fao56.LAST))
    et0, rain = weather.et0[season], weather.rain[season]
    days = len(et0)
    crop = Crop(30, 40, 45, 30, 0.99, 1.0, 0.99, 0.7, 0.7, fao56.P)
    soil = Soil(fao56.FIELD_CAPACITY, fao56.WILTING_POINT)

    def ours():
        age = np.arange(days, dtype=float)
        total = soil.total_available(crop.root_depth(age))
        inputs = BedInputs(
            1.0,
            rain,
            crop.coefficient(age) * et0,
            total,
            fao56.P * total,
            np.ones(days, dtype=bool),
            np.ones(days),
            np.ones(days, dtype=np.intp),
        )
        return bed.run_bed(inputs, np.zeros(days))

    benchmark(ours)
    model = fao56.model(weather)
    start = time.perf_counter()
    model.run()
    theirs = time.perf_counter() - start
    median = benchmark.stats.stats.median
    report(
        f"a bed's season: median {milliseconds(median)}, reference {milliseconds(theirs)} in the same run, "
        f"{theirs / median:.0f} times faster (budget 50)"
    )


def bench_the_bench_streams(benchmark, tmp_path):
    """Share of one core that twenty updates a second to one page take, playing at full speed."""
    server.seed_demo(tmp_path)
    client = client_of(create_app(tmp_path), base_url="http://localhost")
    client.get("/gardens/1/bench")
    control = "/gardens/1/bench/control"
    client.post(control, data={"action": "speed", "value": "240"})
    client.post(control, data={"action": "play"})
    run = client.app.state.benches.find(1)
    updates = 0

    def stream():
        nonlocal updates
        end = time.monotonic() + STREAMED
        while time.monotonic() < end:
            json.dumps(told(run, run.look(), System.METRIC), ensure_ascii=False)
            updates += 1
            time.sleep(BEAT)

    before = time.thread_time()
    benchmark.pedantic(stream, rounds=1)
    share = (time.thread_time() - before) / STREAMED
    LINES.append(
        f"the bench streams {updates / STREAMED:.0f} updates a second at 240 min/s: {share:.1%} of one core (budget 10 %)"
    )
