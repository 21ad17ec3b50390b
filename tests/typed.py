"""Short ways to type a garden into the pages of a browser."""

from playwright.sync_api import Page

from served import fill_form, type_months


def begin(page: Page, url: str) -> str:
    """A garden without anything in it; the beginning of its addresses."""
    page.goto(url)
    by_place(page)
    page.get_by_label("Name").fill("Quince Corner")
    page.get_by_label("Latitude, degrees").fill("48")
    page.get_by_label("Height above the sea").fill("120 m")
    with page.expect_navigation():
        page.get_by_role("button", name="Begin").click()
    return page.url.rpartition("/")[0]


def by_place(page: Page) -> None:
    """The form for a name, a latitude and a height, opened."""
    form = page.locator("#by-place")
    if not form.evaluate("e => e.open"):
        form.locator("> summary").click()


def rain(page: Page, garden: str) -> None:
    """The usual months, typed."""
    page.goto(f"{garden}/weather")
    with page.expect_navigation():
        type_months(page)


def bed(
    page: Page,
    garden: str,
    name: str,
    crop: str,
    length: str = "3 m",
    width: str = "1 m",
    **heights: str,
) -> None:
    """A bed, typed on Lay; `ground` and `raised` are its heights."""
    page.goto(f"{garden}/lay")
    size = {"Length of the bed": length, "Width of the bed": width}
    labels = {"ground": "Ground at the bed", "raised": "Raised above the ground"}
    size |= {labels[key]: height for key, height in heights.items()}
    grows = {"Soil": "loam", "Crop": crop, "Planted or sown on": "10 May"}
    fill_form(page, "add-bed", {"Name": name} | size | grows)


def roof(page: Page, garden: str) -> None:
    """A roof with a downspout of its own."""
    page.goto(f"{garden}/catch")
    size = {"Length along the eaves": "6 m", "Depth from eaves to ridge": "3 m"}
    fill_form(page, "roof", {"Name": "Shed roof", "Roof covering": "pitched-hard"} | size)
