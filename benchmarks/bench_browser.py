"""Dragging in a real browser: from the pointer's move to the repainted marker."""

import pytest
from playwright.sync_api import sync_playwright

from conftest import LINES, milliseconds
from euhydra.web import server
from served import ARGS, CHROMIUM, DESK, Served

MOVES = 50

# Sends moves one after another, each timed until the frame after it has been painted.
DRAG = """
async (moves) => {
  const holder = document.querySelector('[x-data=sizes] [x-ref=paper]')
  const box = holder.getBoundingClientRect()
  const send = (type, share) => holder.dispatchEvent(new PointerEvent(type, {
    bubbles: true, pointerId: 1, buttons: 1,
    clientX: box.left + box.width * share, clientY: box.top + box.height / 2 }))
  const painted = () => new Promise((done) => requestAnimationFrame(() => setTimeout(done)))
  const times = []
  for (let i = 0; i < moves; i++) {
    const start = performance.now()
    send('pointermove', 0.15 + 0.7 * i / moves)
    await painted()
    times.push(performance.now() - start)
  }
  return times
}
"""


@pytest.fixture(scope="module")
def page(tmp_path_factory):
    data = tmp_path_factory.mktemp("data")
    server.seed_demo(data)
    served = Served(data)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGS)
        page = browser.new_page(viewport=DESK)
        page.goto(f"{served.url}/gardens/1/store?at=shed-barrel")
        page.wait_for_selector("[x-data=sizes] svg.drawing")
        yield page
        browser.close()
    served.stop()


def bench_drag_the_size_marker(benchmark, page):
    times = sorted(benchmark.pedantic(page.evaluate, (DRAG, MOVES), rounds=1))
    assert page.locator("dd[x-text=litres]").inner_text() != "300 L"
    late = milliseconds(times[int(0.95 * MOVES)] / 1000)
    LINES.append(f"drag the size marker: 95th percentile {late} of {MOVES} (budget 50 ms)")
