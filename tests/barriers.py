"""What keeps somebody out of a page: found by axe in a real browser, and by its width."""

from collections.abc import Iterable
from pathlib import Path

from playwright.sync_api import Page

AXE = (Path(__file__).parent / "browser" / "vendor" / "axe.min.js").read_text("utf-8")
RUN_AXE = """
async (but) => {
  const rules = Object.fromEntries(but.map((id) => [id, { enabled: false }]));
  const options = { resultTypes: ["violations"], selectors: false, rules };
  const { violations } = await axe.run(options);
  return violations.map((v) => v.id + ": " + v.nodes.map((n) => n.html.slice(0, 90)).join(" | "));
}
"""
COLOURS = ("color-contrast", "link-in-text-block")
"""The rules of axe that the colours of a page decide. They take two thirds of its time."""


def barriers(page: Page, but: tuple[str, ...] = ()) -> list[str]:
    """Of the page as it stands: what axe finds, but by some rules, and whether it is wider than the screen."""
    page.evaluate("document.fonts.ready.then(() => true)")
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE)
    found: list[str] = page.evaluate(RUN_AXE, but)
    width, screen = page.evaluate("[document.documentElement.scrollWidth, innerWidth]")
    return [*found, f"{width} wide on a screen of {screen}"] if width > screen else found


def too_wide(page: Page, widths: Iterable[int]) -> dict[int, int]:
    """Widths of a window in which somebody has to scroll sideways to read, and by how much. [px]"""
    over = {}
    for width in widths:
        page.set_viewport_size({"width": width, "height": 800})
        over[width] = page.evaluate("document.documentElement.scrollWidth - innerWidth")
    return {width: px for width, px in over.items() if px > 0}
