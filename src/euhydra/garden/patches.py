"""What lies on the plan besides: paths, buildings, terraces, lawns, known heights, a picture."""

from enum import StrEnum

from pydantic import Field

from euhydra.garden.part import Model, Part, Point, asked


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
        "Height of the ground",
        "head",
        "Of a level terrace. Empty: as the ground lies.",
        default=None,
        ge=-50,
        le=50,
    )


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
