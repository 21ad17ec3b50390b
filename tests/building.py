"""Short ways to build a garden through the pages, as a stranger would."""

from pathlib import Path

from euhydra.garden import demo
from visitor import Visitor

BUCKET = {"The bucket holds": "10 L", "It fills in": "20 s"}
"""A tap known by bucket and stopwatch."""


def begin(data: Path) -> Visitor:
    """A visitor in a garden without anything in it."""
    stranger = Visitor(data)
    stranger.open("/")
    where = {"Latitude, degrees": "48", "Height above the sea": "120 m"}
    stranger.fill("by-place", {"Name": "Quince Corner"} | where)
    return stranger


def rain(stranger: Visitor) -> None:
    """The usual months, typed."""
    stranger.open("weather")
    months = {
        f"{column}-{i + 1}": str(value)
        for column, values in demo.normals().items()
        for i, value in enumerate(values)
    }
    stranger.send_with("Plan with these months", months)


def tap(stranger: Visitor, name: str = "Yard tap", **answers: str) -> None:
    """A garden tap."""
    stranger.open("taps")
    stranger.fill("tap", {"Name": name} | BUCKET | answers)


def roof(stranger: Visitor) -> None:
    """A roof with a downspout of its own."""
    stranger.open("catch")
    size = {"Length along the eaves": "6 m", "Depth from eaves to ridge": "3 m"}
    stranger.fill("roof", {"Name": "Shed roof", "Roof covering": "pitched-hard"} | size)


def barrel(stranger: Visitor) -> None:
    """A roof, and a barrel on a stand under its downspout."""
    roof(stranger)
    stranger.open("store")
    sizes = {"Holds, to the overflow": "200 L", "Water depth when full": "85 cm"}
    stands = {"Tap above the store's base": "8 cm", "Height of the stand": "40 cm"}
    stranger.fill("store", {"Name": "Barrel"} | sizes | stands)


def bed(
    stranger: Visitor,
    name: str,
    crop: str,
    length: str = "3 m",
    width: str = "1 m",
    **heights: str,
) -> None:
    """A bed, typed on Lay; `ground` and `raised` are its heights."""
    stranger.open("lay")
    size = {"Length of the bed": length, "Width of the bed": width}
    labels = {"ground": "Ground at the bed", "raised": "Raised above the ground"}
    size |= {labels[key]: height for key, height in heights.items()}
    grows = {"Soil": "loam", "Crop": crop, "Planted or sown on": "10 May"}
    stranger.fill("add-bed", {"Name": name} | size | grows)


def planters(stranger: Visitor, below: dict[str, str], **more: str) -> None:
    """A row of buckets on the ground, and how their water is kept."""
    stranger.open("lay")
    size = {"Width of one": "30 cm", "Dripper above the ground": "0 cm"} | more
    grows = {"What grows in them": "pepper", "Planted or out on": "15 May"}
    stranger.fill("add-pots", {"Name": "Buckets"} | size | grows)
    stranger.open("lay?at=pots")
    stranger.fill("pots-pot-below", below)


def answers(stranger: Visitor, *stations: str) -> None:
    """Every one of these pages has an answer."""
    for station in stations:
        stranger.open(station)
        assert stranger.status == 200
        assert "Not yet" not in stranger.verdict
