"""A phone of the house comes in by the passphrase, sees who may, and leaves with nothing."""

import pytest
from playwright.sync_api import Browser, expect

from barriers import barriers
from euhydra.records import passphrase
from served import PHONE, Served, lay_demo

pytestmark = pytest.mark.browser

KEPT = "caches.match('/gardens/1/keep').then((page) => page !== undefined)"


def test_a_phone_comes_in_and_leaves_with_nothing(browser: Browser, tmp_path):
    lay_demo(tmp_path)
    passphrase.put(tmp_path, "three green cans")
    served = Served(tmp_path, home_hosts=["127.0.0.1"])
    context = browser.new_context(viewport=PHONE, has_touch=True)
    page = context.new_page()
    page.goto(f"{served.url}/gardens/1/keep")
    expect(page.get_by_role("heading", level=1)).to_have_text("What is the passphrase?")
    assert barriers(page) == []
    page.get_by_label("Passphrase").fill("three green cans")
    page.get_by_role("button", name="Come in").tap()
    expect(page).to_have_url(f"{served.url}/gardens/1/keep")
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.reload()  # by the worker, which keeps it
    assert page.evaluate(KEPT)
    page.goto(served.url)
    page.get_by_role("link", name="Devices that know the passphrase").tap()
    expect(page.get_by_text("(this one)")).to_be_visible()
    assert barriers(page) == []
    page.get_by_role("button", name="Leave").tap()
    expect(page.get_by_role("heading", level=1)).to_have_text("What is the passphrase?")
    assert not page.evaluate(KEPT)
    page.goto(f"{served.url}/gardens/1/keep")
    expect(page.get_by_role("heading", level=1)).to_have_text("What is the passphrase?")
    context.close()
    served.stop()
