"""A cure that a page offers, done with one touch and taken back."""

from playwright.sync_api import Page, expect

from euhydra.planner.judgement import assumed


def test_a_cure_is_offered_late_done_at_once_and_undone(page: Page, own_demo):
    own_demo.seek_cures(after_ms=0)
    page.goto(f"{own_demo.url}/gardens/1/lay")
    verdict = page.locator("#verdict .summary")
    expect(verdict).to_contain_text("“Top step”")
    first = page.locator(".cures").first
    expect(first.get_by_role("button", name="Do it").first).to_be_visible()
    first.get_by_text("Other ways").press("Enter")
    expect(first.get_by_role("button", name="Do it").nth(1)).to_be_visible()
    with page.expect_navigation():
        first.get_by_role("button", name="Do it").first.press("Enter")
    expect(page.get_by_role("status").filter(has_text="Done:")).to_contain_text("Top step")
    expect(verdict).not_to_contain_text("“Top step”")
    page.get_by_role("button", name="Undo").first.press("Enter")
    expect(verdict).to_contain_text("“Top step”")


def test_what_to_measure_next_is_told_when_it_is_asked_for(page: Page, own_demo, monkeypatch):
    monkeypatch.setattr(assumed, "MOST_WEIGHED", 3)  # the third is the first that matters
    page.goto(f"{own_demo.url}/gardens/1/keep")
    page.get_by_text("What to measure next").press("Enter")
    expect(page.locator("details [x-ref=list] li").first).to_be_visible(timeout=60_000)
