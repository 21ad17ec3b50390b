"""Roofs, their gutters and downspouts."""

from typing import Any, Self

from pydantic import field_validator, model_validator

from euhydra.core.catchment import FirstFlushReset
from euhydra.garden import catalogue
from euhydra.garden.part import Id, Part, Point, asked, known_entry, linked, refuse


class Roof(Part):
    """A roof by its plan: what a bird sees, eaves included, never along the slope."""

    at: Point = Point()
    turned_deg: float = asked(
        "Turned by", "angle", "Against the clock.", default=0.0, ge=-360, le=360
    )
    length_m: float | None = asked(
        "Length along the eaves",
        "length",
        "Level, from end to end of the gutter.",
        default=None,
        ge=0.1,
        le=100,
    )
    width_m: float | None = asked(
        "Depth from eaves to ridge",
        "level",
        "Level, as seen from above. Measured up the slope? Type {~3.5 m|length} at 30°.",
        default=None,
        ge=0.1,
        le=100,
    )
    area_m2: float | None = asked(
        "Or its area, from above",
        "area",
        "If you know it. It counts before the two lengths.",
        default=None,
        ge=0.1,
        le=10000,
    )
    material: str = asked("Roof covering", "roof_materials")
    runoff_coefficient: float | None = asked(
        "Own runoff share",
        "share",
        "Leave empty to use the covering's.",
        default=None,
        ge=0.05,
        le=1,
    )
    gutter_m: float = asked(
        "Gutter above the ground",
        "head",
        "From the ground at the wall.",
        default=2.4,
        ge=0.3,
        le=15,
    )
    ground_m: float = asked(
        "Ground at the wall",
        "head",
        "Against the same mark as stores and beds.",
        default=0.0,
        ge=-50,
        le=50,
    )
    gutter_width_m: float = asked(
        "Gutter, across the top", "bore", "", default=0.1, ge=0.03, le=0.4
    )

    _known = field_validator("material")(
        lambda value: known_entry(value, catalogue.roof_materials())
    )

    @model_validator(mode="after")
    def _has_an_area(self) -> Self:
        if self.area_m2 is None and (self.length_m is None or self.width_m is None):
            raise refuse(
                "say-roofs-length", "Say the roof's length and depth, or its area from above."
            )
        return self

    @property
    def plan_area_m2(self) -> float:
        """Area under the eaves. [m²]"""
        if self.area_m2 is not None:
            return self.area_m2
        assert self.length_m is not None
        assert self.width_m is not None
        return self.length_m * self.width_m

    @property
    def eaves_m(self) -> float:
        """Height of the gutter. [m]"""
        return self.ground_m + self.gutter_m


class Downspout(Part):
    """The pipe from a roof to a store, with its first-flush device.

    leads_to : A store, or another downspout that it joins; None while it runs to the ground.
    """

    roof_id: Id = linked("From the roof", "roofs")
    leads_to: Id | None = linked(
        "Leads to",
        "stores",
        "downspouts",
        default=None,
        help_text="Another downspout: they share one pipe from there on.",
    )
    share: float = asked(
        "Share of the roof on it",
        "share",
        "All of it if there is only one.",
        default=1.0,
        ge=0.01,
        le=1,
    )
    guard: str = asked("Leaves are kept out by", "leaf_guards", default="none")
    first_flush_m: float = asked(
        "First flush, as rain",
        "rain",
        "Depth turned away. Usual: {~0.4 mm|rain}.",
        default=0.0,
        ge=0,
        le=0.01,
    )
    first_flush_m3: float | None = asked(
        "Or what its tube holds", "volume", "Counts before the depth.", default=None, ge=0, le=2
    )
    first_flush_reset: FirstFlushReset = asked(
        "First flush is taken", "first_flush_resets", default=FirstFlushReset.WET_SPELL
    )
    first_flush_dry_d: int = asked(
        "Dry days until it is empty", "count", "It empties by a slow drip.", default=1, ge=1, le=60
    )
    bore_m: float = asked(
        "Inside width of the downspout", "bore", "", default=0.08, ge=0.02, le=0.3
    )
    restricted_m3_s: float | None = asked(
        "A restrictor lets through",
        "flow",
        "Of a downspout that no store takes. Empty: none; the rest stands on a flat roof or runs over the gutter.",
        default=None,
        gt=0,
        le=0.02,
    )
    cloudburst_m: float = asked(
        "Cloudburst: rain in an hour",
        "rain",
        "What your gutters should take.",
        default=0.05,
        ge=0.005,
        le=0.4,
    )

    _known = field_validator("guard")(lambda value: known_entry(value, catalogue.leaf_guards()))

    @model_validator(mode="after")
    def _leads_on(self) -> Any:
        if self.leads_to == self.id:
            raise refuse(
                "leads-itself-lead",
                "“{name}” leads to itself: lead it to a store or another downspout.",
                name=self.name,
            )
        return self
