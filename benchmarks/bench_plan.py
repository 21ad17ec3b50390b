"""The plan in a real browser: a drag until the outlets are repainted, panning and zooming."""

import gc

import pytest
from playwright.sync_api import sync_playwright

from conftest import LINES, milliseconds
from euhydra.garden import edits
from euhydra.garden.beds import Bed, PlantingDate
from euhydra.garden.part import Point
from euhydra.garden.pipes import Fitting, Pipe
from euhydra.planner.lay import proposed_lines
from euhydra.planner.lay.wishes import Method, Wish
from euhydra.planner.water import solving, zones
from euhydra.records import database, gardens
from gardens import one_barrel
from served import ARGS, CHROMIUM, DESK, Served

MOVES, FRAMES = 50, 120

# Moves the chosen bed step by step; each step is timed until the frame after the repaint.
DRAG = """
async (moves) => {
  const plan = Alpine.$data(document.querySelector('.plan'))
  plan.choose(['field'], false) // only what is chosen is dragged
  const svg = document.querySelector('.paper')
  const shape = document.querySelector('[data-part="field"] path')
  const box = shape.getBoundingClientRect()
  const send = (type, dx) => (type === 'pointerdown' ? shape : svg).dispatchEvent(new PointerEvent(type, {
    bubbles: true, pointerId: 1, isPrimary: true, button: 0, buttons: 1,
    clientX: box.left + box.width / 2 + dx, clientY: box.top + 3 }))
  svg.setPointerCapture = () => {}
  const frame = () => new Promise((done) => requestAnimationFrame(() => setTimeout(done)))
  send('pointerdown', 0)
  send('pointermove', 6)
  const times = []
  for (let i = 0; i < moves; i++) {
    while (plan.isAsking) await frame()
    const repainted = new Promise((done) => {
      const { recolour } = plan
      plan.recolour = function (...what) {
        plan.recolour = recolour
        recolour.apply(this, what)
        done()
      }
    })
    const start = performance.now()
    send('pointermove', 8 + 2 * i)
    await repainted
    await frame()
    times.push(performance.now() - start)
  }
  svg.dispatchEvent(new PointerEvent('pointercancel', { bubbles: true, pointerId: 1 }))
  return times
}
"""

# Pans and zooms a little in every frame, and times the frames.
TRAVEL = """
async (frames) => {
  const plan = Alpine.$data(document.querySelector('.plan'))
  const frame = () => new Promise((done) => requestAnimationFrame(done))
  const times = []
  let last = await frame()
  for (let i = 0; i < frames; i++) {
    if (i % 2) plan.zoom(i % 4 === 1 ? 0.97 : 1.03)
    else plan.show({ ...plan.view, x: plan.view.x + 0.02 })
    const now = await frame()
    times.push(now - last)
    last = now
  }
  return times
}
"""


def three_hundred():
    """One bed of ten rows of thirty outlets under the small garden's barrel."""
    bed = Bed(
        id="field",
        name="Field",
        at=Point(x_m=0, y_m=10),
        length_m=15.0,
        width_m=4.0,
        soil="loam",
        crop="bean",
        planting=PlantingDate(month=5, day=1),
        ground_m=0.2,
    )
    garden = edits.put(one_barrel(), "beds", bed)
    wish = Wish("field", "shed-barrel", Method.ROWS, "line-low", spacing_m=0.5, rows=10)
    return proposed_lines.lay(garden, wish)


def a_thousand():
    """Five hundred pipes and as many pieces, in a grid."""
    garden = one_barrel()
    pipes = tuple(
        Pipe(
            id=f"p{i}",
            name=f"Pipe {i}",
            path=(Point(x_m=i % 25, y_m=i // 25), Point(x_m=i % 25 + 0.7, y_m=i // 25 + 0.3)),
        )
        for i in range(500)
    )
    pieces = tuple(
        Fitting(
            id=f"f{i}",
            name=f"Piece {i}",
            kind="coupling",
            at=Point(x_m=i % 25 + 0.5, y_m=i // 25 + 0.6),
        )
        for i in range(500)
    )
    return edits.replace(garden, pipes=(*garden.pipes, *pipes), fittings=pieces)


@pytest.fixture(scope="module")
def url(tmp_path_factory):
    data = tmp_path_factory.mktemp("data")
    conn = database.connect(database.prepare(data))
    for garden in (three_hundred(), a_thousand()):
        gardens.create(conn, garden)
    conn.close()
    served = Served(data)
    gc.freeze()  # as the program does before it serves
    yield served.url
    served.stop()
    gc.unfreeze()


@pytest.fixture(scope="module")
def page():
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGS)
        yield browser.new_page(viewport=DESK)
        browser.close()


def bench_drag_a_bed_of_300_outlets(benchmark, page, url):
    page.goto(f"{url}/gardens/1/lay")
    page.wait_for_load_state("networkidle")
    assert page.locator(".outlets circle").count() == 320
    times = sorted(benchmark.pedantic(page.evaluate, (DRAG, MOVES), rounds=1))
    late = milliseconds(times[int(0.95 * MOVES)] / 1000)
    LINES.append(
        f"drag a bed, 320 outlets, to the repainted plan: median {milliseconds(times[MOVES // 2] / 1000)}, 95th percentile {late} of {MOVES} (budget 50 ms)"
    )


def bench_pan_and_zoom_1000_objects(benchmark, page, url):
    page.goto(f"{url}/gardens/2/lay")
    page.wait_for_load_state("networkidle")
    assert page.locator("[data-part]").count() > 1000
    times = sorted(benchmark.pedantic(page.evaluate, (TRAVEL, FRAMES), rounds=1))
    mean = sum(times) / len(times)
    late = milliseconds(times[int(0.95 * FRAMES)] / 1000)
    LINES.append(
        f"pan and zoom, 1,000 parts: {1000 / mean:.0f} frames a second, 95th percentile {late} (budget 50 a second)"
    )


def bench_lay_answer_of_300_outlets(benchmark, report):
    """Zones followed, laid out, solved and looked over, as after every edit."""
    garden = three_hundred()

    def solve_anew():
        anew = garden.model_copy()  # zones of the same garden are kept
        return [solving.solve_zone(z, 0.5) for z in zones.zones_of(anew)]

    found = benchmark(solve_anew)
    assert sum(len(state.outlet_flow) for state in found) == 320
    report(f"320 outlets from the drawing: median {milliseconds(benchmark.stats.stats.median)}")
