"""What else stands and lies in a garden: pots and plants, paths, buildings, heights."""

from enum import StrEnum
from typing import Self

from pydantic import Field, model_validator

from euhydra.garden.part import Model, Part, Point, asked, refuse

MOST_AT_ONCE = 200
"""Most pots or plants in one group."""


class PotKind(StrEnum):
    """What stands there."""

    POT = "pot"
    BAG = "bag"
    TOWER = "tower"
    SHRUB = "shrub"
    TREE = "tree"


class Pots(Part):
    """Pots, grow bags, towers, shrubs or trees: one, a row or a grid of them."""

    kind: PotKind = asked("They are", "pot_kinds", default=PotKind.POT)
    at: Point = Point()
    across_m: float = asked("Width of one", "height", "", default=0.3, ge=0.05, le=12)
    columns: int = asked("In a row", "count", "", default=1, ge=1, le=50)
    rows: int = asked("Rows", "count", "", default=1, ge=1, le=50)
    pitch_m: float = asked("From one to the next", "height", "", default=0.5, ge=0.05, le=20)
    turned_deg: float = asked("Turned by", "angle", "", default=0.0, ge=-360, le=360)
    ground_m: float = asked(
        "Ground they stand on", "head", "Against the same mark as stores.",
        default=0.0, ge=-50, le=50,
    )  # fmt: skip
    height_m: float = asked(
        "Dripper above the ground", "height", "Of the lowest tier.", default=0.3, ge=0, le=5
    )
    tiers: int = asked("Tiers, one over another", "count", "Of a tower.", default=1, ge=1, le=12)
    tier_m: float = asked("From tier to tier", "height", "", default=0.25, ge=0.05, le=2)
    drinks_m3: float = asked(
        "One drinks a day, at the most", "volume", "On a hot day. Weigh it or watch the saucer.",
        default=0.0015, ge=0.00005, le=1,
    )  # fmt: skip

    @model_validator(mode="after")
    def _are_not_too_many(self) -> Self:
        if self.columns * self.rows > MOST_AT_ONCE:
            raise refuse(
                f"{self.columns * self.rows} at once: make groups of up to {MOST_AT_ONCE}."
            )
        return self

    @property
    def count(self) -> int:
        """How many there are."""
        return self.columns * self.rows

    @property
    def outlet_m(self) -> float:
        """Height of the lowest drippers. [m]"""
        return self.ground_m + self.height_m


class PatchKind(StrEnum):
    """What a stretch of ground is."""

    PATH = "path"
    BUILDING = "building"
    TERRACE = "terrace"
    LAWN = "lawn"


class Patch(Part):
    """A stretch of ground with a corner at each of its points: path, building, terrace, lawn."""

    kind: PatchKind = asked("It is", "patch_kinds", default=PatchKind.PATH)
    corners: tuple[Point, ...] = Field(min_length=3, max_length=100)
    ground_m: float | None = asked(
        "Height of the ground", "head", "Of a level terrace. Empty: as the ground lies.",
        default=None, ge=-50, le=50,
    )  # fmt: skip


class Spot(Part):
    """A place whose height is known."""

    at: Point = Point()
    ground_m: float = asked("Height of the ground", "head", "", default=0.0, ge=-50, le=50)


class Backdrop(Model):
    """A picture under the plan, to trace over.

    digest : Names the picture in the data folder.
    metre_px : Picture elements that make a metre.
    """

    digest: str = Field(pattern=r"^[0-9a-f]{64}$")
    at: Point = Point()
    width_px: int = Field(ge=1, le=20000)
    height_px: int = Field(ge=1, le=20000)
    metre_px: float = Field(gt=0.01, le=100000)
