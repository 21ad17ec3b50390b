"""Short ways to build a garden through the pages, as a stranger would."""

from playwright.sync_api import Page, expect

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


def barrel(page: Page, garden: str) -> None:
    """A roof, and a barrel on a stand under its downspout."""
    roof(page, garden)
    page.goto(f"{garden}/store")
    sizes = {"Holds, to the overflow": "200 L", "Water depth when full": "85 cm"}
    stands = {"Tap above the store's base": "8 cm", "Height of the stand": "40 cm"}
    fill_form(page, "store", {"Name": "Barrel"} | sizes | stands)


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


def answers(page: Page, garden: str, *stations: str) -> None:
    """Every one of these pages has an answer."""
    for station in stations:
        page.goto(f"{garden}/{station}")
        expect(page.locator(".verdict .summary").first).not_to_contain_text("Not yet")


def tap(page: Page, garden: str) -> None:
    """A garden tap, known by bucket and stopwatch."""
    page.goto(f"{garden}/taps")
    fill_form(page, "tap", {"Name": "Yard tap", "The bucket holds": "10 L", "It fills in": "20 s"})


def roof(page: Page, garden: str) -> None:
    """A roof with a downspout of its own."""
    page.goto(f"{garden}/catch")
    size = {"Length along the eaves": "6 m", "Depth from eaves to ridge": "3 m"}
    fill_form(page, "roof", {"Name": "Shed roof", "Roof covering": "pitched-hard"} | size)


def lay(page: Page, garden: str, what: str, **choices: str) -> None:
    """Lines laid for one bed, with what is chosen by the label of its field."""
    page.goto(f"{garden}/lay")
    wish = page.locator("#for-me")
    if not wish.evaluate("e => e.open"):
        wish.locator("summary").first.click()
    lay_it(page, what, **choices)


def lay_it(page: Page, what: str, **choices: str) -> None:
    """What is asked for in the open form, beside what is checked there already."""
    wish = page.locator("#for-me")
    wish.get_by_label("For", exact=True).select_option(label=what)
    for name, choice in choices.items():
        field = wish.locator(f"[name={name}]")
        if field.evaluate("e => e.tagName") == "SELECT":
            field.select_option(choice)
        else:
            field.fill(choice)
    with page.expect_navigation():
        wish.get_by_role("button", name="Lay it").click()
    expect(page.locator("#for-me .fault-box")).to_have_count(0)
