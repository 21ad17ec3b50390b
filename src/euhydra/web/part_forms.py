"""Which forms there are: about which part of a garden, and which of its fields each asks."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from euhydra.garden.beds import Bed
from euhydra.garden.kinds import Collection
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.patches import Patch, Spot
from euhydra.garden.pipes import Fitting, Pipe, Pump, Turn
from euhydra.garden.plantings import OwnCrop, Planting
from euhydra.garden.plumbing import FittingRole
from euhydra.garden.pots import Pots
from euhydra.garden.roofs import Downspout, Roof
from euhydra.garden.sources import Greywater, Tap, WetGround
from euhydra.garden.stores import Store
from euhydra.garden.timers import OwnTimer, Timer


@dataclass(frozen=True)
class PartForm:
    """A form about parts of one kind.

    noun : What the part is called, as the form's heading.
    fields : In the order in which they are asked.
    is_facet : Whether it asks more about a part that is already there, and so adds none.
    is_drawn : Whether such parts are added by drawing alone.
    station : The only page that adds one; "" for every page that has the form.
    needs_place : Whether a new one is set before something that the page is about.
    is_many : Whether several alike may be added in one go.
    remembers : Fields that begin as the last one has them: neighbours are mostly alike.
    where : Of a field that only some parts have: whether this part does. A new part has none such.
    """

    key: str
    noun: str
    model: type[Part]
    collection: Collection
    fields: tuple[str, ...]
    is_facet: bool = False
    is_drawn: bool = False
    station: str = ""
    needs_place: bool = False
    is_many: bool = False
    remembers: tuple[str, ...] = ()
    where: Mapping[str, Callable[[Garden, Part], bool]] = field(default_factory=dict, hash=False)

    def asks(self, name: str, garden: Garden, part: Part | None) -> bool:
        """Whether a field is asked of this part, or of a new one."""
        has = self.where.get(name)
        return has is None or (part is not None and has(garden, part))

    @property
    def can_add(self) -> bool:
        """Whether a part can be added by the form."""
        return not self.is_facet and not self.is_drawn


def _with_role(*roles: FittingRole) -> Callable[[Garden, Part], bool]:
    return lambda _garden, part: isinstance(part, Fitting) and part.role in roles


def _may_feed_by_turns(garden: Garden, part: Part) -> bool:
    feeds = _with_role(FittingRole.SPLITS, FittingRole.MOVES_BETWEEN)
    return feeds(garden, part) or (isinstance(part, Fitting) and part.turn is Turn.BY_TURNS)


def _may_shut_in_months(garden: Garden, part: Part) -> bool:
    if not isinstance(part, Fitting):
        return False
    is_valve = part.role in (FittingRole.SHUTS, FittingRole.THROTTLES)
    return bool(part.open_months) or (is_valve and bool(garden.greywaters))


BY_HAND = (
    "hand_from",
    "by_hand_d",
    "hand_with",
    "can_m3",
    "deep_m3",
    "deep_every_d",
    "gives_m3",
)

PART_FORMS = {
    form.key: form
    for form in (
        PartForm(
            "roof",
            "Roof",
            Roof,
            "roofs",
            (
                "name",
                "length_m",
                "width_m",
                "area_m2",
                "gutter_m",
                "material",
                "runoff_coefficient",
                "gutter_width_m",
                "ground_m",
            ),
        ),
        PartForm(
            "downspout",
            "Downspout",
            Downspout,
            "downspouts",
            (
                "name",
                "roof_id",
                "leads_to",
                "share",
                "bore_m",
                "restricted_m3_s",
                "guard",
                "first_flush_m",
                "first_flush_m3",
                "first_flush_reset",
                "first_flush_dry_d",
                "cloudburst_m",
            ),
        ),
        PartForm(
            "store",
            "Store",
            Store,
            "stores",
            (
                "name",
                "kind",
                "volume_m3",
                "height_m",
                "across_m",
                "width_m",
                "outlet_height_m",
                "intake",
                "count",
                "ground_m",
                "stand_m",
                "sunk_m",
                "rim_m",
            ),
        ),
        PartForm(
            "joints",
            "Joined to, and spilling to",
            Store,
            "stores",
            ("linked_to", "link_by", "overflow_to", "soak_area_m2", "soak_soil", "rule", "dregs_m"),
            True,
        ),
        PartForm(
            "reserve",
            "Topped up, moved on",
            Store,
            "stores",
            (
                "topped_by",
                "top_up_below",
                "top_up_to",
                "top_up_every_d",
                "moves_to",
                "moves_before_m",
                "moves_m3",
                "gives_back_below",
            ),
            True,
        ),
        PartForm(
            "standing",
            "Standing, and price",
            Store,
            "stores",
            (
                "footing",
                "held_by",
                "blocks",
                "feet_across_m",
                "feet_m2",
                "stand_kg",
                "shell_kg",
                "gust_m_s",
                "thread",
                "price",
            ),
            True,
        ),
        PartForm(
            "bed",
            "Bed",
            Bed,
            "beds",
            (
                "name",
                "length_m",
                "width_m",
                "ground_m",
                "raised_m",
                "soil",
                "crop",
                "planting",
                "shape",
                "turned_deg",
            ),
            is_many=True,
            remembers=("soil", "crop", "planting"),
        ),
        PartForm(
            "thirst",
            "Sun, wind, mulch and season",
            Bed,
            "beds",
            (
                "mulch",
                "shade",
                "wind",
                "spacing",
                "soil_depth_m",
                "soil_holds",
                "soil_intake_m_s",
                "slope",
                "started",
                "cleared",
                "timekeeping",
                "need_factor",
            ),
            True,
        ),
        PartForm(
            "planting",
            "Crop beside or after it",
            Planting,
            "plantings",
            ("name", "bed_id", "crop", "planting", "cleared", "share", "started"),
            station="need",
        ),
        PartForm(
            "own-crop",
            "Crop of your own",
            OwnCrop,
            "own_crops",
            (
                "name",
                "initial_d",
                "development_d",
                "mid_d",
                "late_d",
                "kc_initial",
                "kc_mid",
                "kc_end",
                "root_start_m",
                "root_full_m",
                "depletion_fraction",
                "warmth",
                "eaten",
            ),
            station="need",
        ),
        PartForm("sources", "Takes its water from", Bed, "beds", ("sources",), True),
        PartForm("hand", "Watered by hand", Bed, "beds", BY_HAND, True),
        PartForm(
            "pots",
            "Group of pots, shrubs or trees",
            Pots,
            "pots",
            (
                "name",
                "kind",
                "across_m",
                "length_m",
                "columns",
                "rows",
                "pitch_m",
                "crop",
                "plants_each",
                "planting",
                "ground_m",
                "height_m",
                "tiers",
                "tier_m",
                "turned_deg",
            ),
            remembers=("kind", "across_m", "length_m", "crop", "planting"),
            is_many=True,
        ),
        PartForm(
            "pot-thirst",
            "Leaves, soil and place",
            Pots,
            "pots",
            (
                "canopy_m",
                "depth_m",
                "soil",
                "soil_holds",
                "exposure",
                "colour",
                "reserve_m3",
                "drinks_m3",
                "need_factor",
            ),
            True,
        ),
        PartForm("pot-sources", "Take their water from", Pots, "pots", ("sources",), True),
        PartForm(
            "pot-below",
            "Water from below",
            Pots,
            "pots",
            (
                "kept_by",
                "set_level_m",
                "foot_m",
                "wick",
                "wick_across_m",
                "wick_m",
                "over_water_m",
                "joint_m",
                "joint_bore_m",
                "trough_width_m",
                "trough_open",
            ),
            True,
        ),
        PartForm("pot-hand", "Watered by hand", Pots, "pots", BY_HAND, True),
        PartForm(
            "pipe",
            "Pipe",
            Pipe,
            "pipes",
            ("name", "kind", "bore_m", "length_m", "spacing_m", "fittings_loss", "waters"),
            is_drawn=True,
        ),
        PartForm(
            "joint",
            "Its ends and outlets",
            Pipe,
            "pipes",
            (
                "begins_at",
                "begins_along_m",
                "end",
                "dripper",
                "ends_at",
                "ends_along_m",
                "rise_m",
                "hole_m",
                "outlet_factor",
                "own_flow_m3_s",
                "own_head_m",
            ),
            True,
        ),
        PartForm(
            "timer",
            "Timer",
            Timer,
            "timers",
            ("name", "kind", "window_s", "starts_s", "body"),
            station="time",
            needs_place=True,
        ),
        PartForm(
            "now-set",
            "What it is set to now",
            Timer,
            "timers",
            ("set_minutes", "set_every_d", "set_starts"),
            True,
        ),
        PartForm(
            "own-timer",
            "Timer of your own",
            OwnTimer,
            "own_timers",
            (
                "name",
                "works_by",
                "run_minutes",
                "interval_days",
                "starts",
                "delay_days",
                "outlets",
                "battery_months",
                "least_opening_head_m",
                "loss_coefficient",
            ),
            station="time",
        ),
        PartForm(
            "fitting",
            "Piece",
            Fitting,
            "fittings",
            (
                "name",
                "kind",
                "begins_at",
                "begins_along_m",
                "setting_m",
                "loss",
                "turn",
                "visits_week",
                "open_months",
            ),
            station="lay",
            where={
                "setting_m": _with_role(FittingRole.REGULATES),
                "loss": _with_role(FittingRole.THROTTLES),
                "turn": _may_feed_by_turns,
                "visits_week": _may_feed_by_turns,
                "open_months": _may_shut_in_months,
            },
        ),
        PartForm(
            "pump",
            "Pump",
            Pump,
            "pumps",
            (
                "name",
                "kind",
                "points",
                "power_w",
                "height_m",
                "suction_m",
                "band_m3",
                "battery_ah",
            ),
            station="push",
            needs_place=True,
        ),
        PartForm("patch", "Ground", Patch, "patches", ("name", "kind", "ground_m"), is_drawn=True),
        PartForm("spot", "Known height", Spot, "spots", ("name", "ground_m"), is_drawn=True),
        PartForm(
            "tap",
            "Tap or well",
            Tap,
            "taps",
            (
                "name",
                "kind",
                "bucket_m3",
                "fills_in_s",
                "static_pa",
                "window_s",
                "stands_m3",
                "recovers_m3_s",
                "most_a_day_m3",
                "price_m3",
                "ground_m",
                "spout_m",
                "thread",
            ),
        ),
        PartForm(
            "greywater",
            "Greywater line",
            Greywater,
            "greywaters",
            ("name", "loads", "load_m3", "people", "shower_m3", "bath_m3", "basin_m3", "bed_id"),
        ),
        PartForm(
            "drum",
            "Drum, hose or pump",
            Greywater,
            "greywaters",
            (
                "drum_m3",
                "drum_depth_m",
                "ground_m",
                "stand_m",
                "outlet_height_m",
                "outlet",
                "pump_on_m3",
                "pump_off_m3",
                "pump_m3_s",
                "hose_m",
                "bore_m",
                "lint_m3",
                "rest_before_m",
            ),
            True,
        ),
        PartForm(
            "wet",
            "Wet ground",
            WetGround,
            "wet_grounds",
            (
                "name",
                "area_m2",
                "runoff",
                "uncaught",
                "storm_m",
                "storm_s",
                "store_room",
                "soil",
                "pipe_m",
                "drop_m",
                "bore_m",
                "sump_across_m",
                "sump_depth_m",
                "pump_m3_s",
                "lift_m",
                "hose_m",
                "hose_bore_m",
                "turned_deg",
            ),
        ),
    )
}
"""Every form about a part, by key."""
