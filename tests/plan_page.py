"""What tests of the plan's page ask of it: what it holds, and whether it is done."""

from playwright.sync_api import Page

DATA = "Alpine.$data(document.querySelector('.plan'))"
"""What the plan holds."""


def until(page: Page, expression: str) -> None:
    """Wait until something holds; Playwright's own waiting would need eval, which the policy forbids."""
    for _ in range(400):
        if page.evaluate(expression):
            return
        page.wait_for_timeout(20)
    raise AssertionError(expression)


def part(page: Page, part_id: str) -> dict:
    """A part as the page holds it; None where there is none."""
    return page.evaluate(f"id => {DATA}.parts[id]?.part ?? null", part_id)


def open_plan(page: Page, url: str) -> Page:
    """The plan of the first garden, ready to be drawn on."""
    page.goto(f"{url}/gardens/1/lay")
    until(page, f"{DATA}.view !== null")
    return page
