"""What grows in beds and pots: plantings, the owner's own crops, and what changes their thirst."""

from collections.abc import Iterable
from enum import StrEnum
from typing import Self

from pydantic import Field, field_validator, model_validator

from euhydra.core.crop import Crop
from euhydra.garden import catalogue
from euhydra.garden.catalogue import CropKind
from euhydra.garden.part import Id, Model, Part, asked, known_entry, linked, refuse

MONTH_DAYS = (31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)

OWN = "own-"
"""How the ids of the owner's own entries begin, so that they never meet those that ship."""

LONGEST_SEASON = 366
"""[d]"""


class PlantingDate(Model):
    """A day of the year."""

    month: int = Field(ge=1, le=12)
    day: int = Field(ge=1, le=31)

    @model_validator(mode="after")
    def _exists(self) -> Self:
        if self.day > MONTH_DAYS[self.month - 1]:
            raise refuse(
                "day-month-type",
                "There is no day {day} in month {month}: type another date.",
                day=self.day,
                month=self.month,
            )
        return self

    def days_until(self, other: "PlantingDate") -> int:
        """Days from this date to the next time that it is `other`, 1 to 366."""
        mine, its = self._in_leap_year, other._in_leap_year
        return (its - mine - 1) % sum(MONTH_DAYS) + 1

    @property
    def _in_leap_year(self) -> int:
        return sum(MONTH_DAYS[: self.month - 1]) + self.day


class Start(StrEnum):
    """How a crop begins in its place."""

    PLANTED = "planted"
    SOWN = "sown"


class Timekeeping(StrEnum):
    """What a crop's stages go by."""

    CALENDAR = "calendar"
    WARMTH = "warmth"


def known_crop(value: str) -> str:
    """`value`, if it may be a crop: one that ships, or an id of the owner's own."""
    return value if value.startswith(OWN) else known_entry(value, catalogue.crops())


def check_cleared(name: str, planted: PlantingDate, cleared: PlantingDate | None) -> None:
    """Refuse a harvest that comes before the planting.

    Raises
    ------
    PydanticCustomError : with what to change.
    """
    if cleared is None:
        return
    if planted.days_until(cleared) > LONGEST_SEASON - 60:
        raise refuse(
            "cleared-before-planted",
            "“{name}” would be cleared before it is planted: give a later harvest, or leave it "
            "empty for the crop's usual season.",
            name=name,
        )


class Planting(Part):
    """Another crop in a bed: beside the first, or after it."""

    bed_id: Id = linked("In the bed", "beds")
    crop: str = asked("Crop", "crops")
    planting: PlantingDate = asked("Planted or sown on", "day")
    cleared: PlantingDate | None = asked(
        "Cleared on", "day", "Empty: at the end of its usual season.", default=None
    )
    share: float = asked(
        "Share of the bed",
        "share",
        "100 % where it follows the crop before it.",
        default=1.0,
        gt=0,
        le=1,
    )
    started: Start = asked("It is", "starts", default=Start.PLANTED)

    _known_crop = field_validator("crop")(known_crop)

    @model_validator(mode="after")
    def _is_cleared_after_planting(self) -> Self:
        check_cleared(self.name, self.planting, self.cleared)
        return self


class Warmth(StrEnum):
    """Whether a crop likes warm water and soil."""

    WARM = "warm"
    COOL = "cool"


class OwnCrop(Part):
    """A crop of the owner's own, with its coefficients."""

    initial_d: int = asked(
        "Days until it covers a tenth of the soil", "count", "", default=20, ge=1, le=366
    )
    development_d: int = asked(
        "then until it covers the soil", "count", "", default=30, ge=1, le=366
    )
    mid_d: int = asked("then until it fades or ripens", "count", "", default=40, ge=1, le=366)
    late_d: int = asked("then until harvest", "count", "", default=20, ge=1, le=366)
    kc_initial: float = asked(
        "Drinks when young, against grass", "plain", "0.3 to 0.7 is usual.", default=0.6, gt=0, le=2
    )
    kc_mid: float = asked("full-grown", "plain", "0.9 to 1.2 is usual.", default=1.05, gt=0, le=2)
    kc_end: float = asked("at the end", "plain", "0.3 to 1.0 is usual.", default=0.9, gt=0, le=2)
    root_start_m: float = asked("Roots when planted", "height", "", default=0.15, gt=0.01, le=3)
    root_full_m: float = asked("Roots full-grown", "height", "", default=0.5, gt=0.01, le=3)
    depletion_fraction: float = asked(
        "Soil water it can use before it suffers",
        "share",
        "{~30 %|share} for tender leaves, {~50 %|share} for most, more for tough plants.",
        default=0.45,
        ge=0.1,
        le=0.8,
    )
    warmth: Warmth = asked("It likes", "warmths", default=Warmth.WARM)
    eaten: str = asked("How it is eaten", "eaten", default="cooked")

    _known = field_validator("eaten")(lambda value: known_entry(value, catalogue.greywater_rules()))

    @model_validator(mode="after")
    def _ends(self) -> Self:
        days = self.season.season_days
        if days > LONGEST_SEASON:
            raise refuse(
                "never-ends-stages",
                "“{name}” never ends: its stages make {days} days, and a year has {longest_season}. "
                "Shorten one; for what stays all year let them make 365.",
                name=self.name,
                days=days,
                longest_season=LONGEST_SEASON,
            )
        if self.root_full_m < self.root_start_m:
            raise refuse(
                "roots-shrink-full",
                "The roots of “{name}” shrink: full-grown is the deeper of the two.",
                name=self.name,
            )
        return self

    @property
    def season(self) -> Crop:
        """Its stages, for the core."""
        return Crop(
            self.initial_d,
            self.development_d,
            self.mid_d,
            self.late_d,
            self.kc_initial,
            self.kc_mid,
            self.kc_end,
            self.root_start_m,
            self.root_full_m,
            self.depletion_fraction,
        )

    @property
    def kind(self) -> CropKind:
        """The crop as those that ship are."""
        is_warm = self.warmth is Warmth.WARM
        base = WARM_BASE if is_warm else COOL_BASE
        return CropKind(
            self.id, self.name, "Your own figures", self.season, is_warm, self.eaten, base, False
        )


WARM_BASE, COOL_BASE = 10.0, 5.0
"""Temperature below which a crop stands still. [°C] Common practice."""


def find_crop(own: Iterable[OwnCrop], crop_id: str) -> CropKind:
    """The crop called so: the owner's own, or one that ships."""
    for crop in own:
        if crop.id == crop_id:
            return crop.kind
    return catalogue.find(catalogue.crops(), crop_id)
