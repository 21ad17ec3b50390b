"""What keeps somebody out of a page: found by axe in a real browser, and by its width."""

from pathlib import Path

from playwright.sync_api import Page

AXE = (Path(__file__).parent / "browser" / "vendor" / "axe.min.js").read_text("utf-8")
RUN_AXE = "axe.run({resultTypes: ['violations']}).then(r => r.violations.map(v => v.id + ': ' + v.nodes.map(n => n.html.slice(0, 90)).join(' | ')))"


def barriers(page: Page) -> list[str]:
    """Of the page as it stands: what axe finds, and whether it is wider than the screen."""
    page.evaluate("document.fonts.ready.then(() => true)")
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE)
    found: list[str] = page.evaluate(RUN_AXE)
    width, screen = page.evaluate("[document.documentElement.scrollWidth, innerWidth]")
    return [*found, f"{width} wide on a screen of {screen}"] if width > screen else found
