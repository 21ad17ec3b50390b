"""Figures of a month's setting, each with its working."""

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.schedule import MINUTES_PER_HOUR, Setting
from euhydra.garden.sentences import Amount
from euhydra.planner.answers import Figure, Working
from euhydra.planner.time.design import BedShare, Design
from euhydra.planner.time.outcomes import MonthChoice

SECONDS_PER_MINUTE = 60.0
DAYS_PER_WEEK = 7.0


def litres(amount: float) -> Amount:
    """[L]"""
    return Amount.litres(amount)


def need_figure(month: int, design: Design, gross: float) -> Figure:
    """Litres that the zone needs on a day."""
    net = design.mean("settled_a_day", month)
    return Figure(
        "Water a day",
        litres(gross),
        Working(
            "net watering a day × area ÷ what the worst-fed quarter of plants keeps",
            {
                "crop's drinking ETc": Amount.millimetres(design.drinks[month - 1]),
                "net watering, after rain": Amount.millimetres(net),
                "area of beds and leaves": Amount(design.area_m2, "area"),
                "what the worst-fed quarter keeps": Amount(net * design.area_m2 / gross, "share"),
            },
            "FAO-56 ch. 6 and 8; low quarter: Merriam and Keller (1978), with the maker's variation: Karmeli and Keller (1975)",
            (
                "Mean of the days in season of this month, over the whole record, but for those on which something is new.",
            ),
        ),
    )


def run_figure(design: Design, choice: MonthChoice) -> Figure:
    """Litres that one run gives."""
    setting = choice.setting
    worst = max(choice.beds, key=lambda bed: bed.stressed)
    return Figure(
        "Water a run",
        litres(setting.litres_a_run),
        Working(
            "flow of the solved line, added up while the store's level falls",
            {
                "run": Amount.minutes(setting.position.run_minutes),
                "water there when the run begins": litres(design.level_in(choice.month)),
                "longest you allow a day": Amount(design.zone.window_s, "hours"),
                "longest before water runs off": Amount(
                    min(design.minutes_before_runoff(choice.month), 24 * 60) * SECONDS_PER_MINUTE,
                    "hours",
                ),
                "days drier than the refill point, at worst": Amount(worst.stressed, "share"),
            },
            "Solved network; positions tried on the root zones of every year (FAO-56 ch. 8)",
            (
                f"Positions of the “{design.timer.name}” only: of those under which no bed is drier than its refill point on more than 5 % of its days, the one that uses least.",
                *_set_for(design),
            ),
        ),
    )


def _set_for(design: Design) -> tuple[str, ...]:
    """From which level a run is set; nothing from a tap."""
    if design.zone.group is None:
        return ()
    return (
        "Set for the store as full as it usually stands in that month when it is asked for water.",
    )


def fill_figure(design: Design, bed: BedShare) -> Figure | None:
    """Time in which the empty reserves of pots that water themselves are full; None without any."""
    part, pot = bed.need.part, bed.need.part.container
    if pot is None or pot.reserve_m3 <= 0:
        return None
    volume = pot.reserve_m3 * part.plants
    lowest = min(design.months_that_ask, key=design.level_in)
    an_hour = design.litres(MINUTES_PER_HOUR, lowest) * bed.flow_share / LITRES_PER_CUBIC_METRE
    if an_hour <= 0:
        return None
    return Figure(
        f"Empty reserves of “{part.name}” are full in",
        Amount.hours(volume / an_hour),
        Working(
            "water under all of them ÷ what comes to them in an hour",
            {
                "under one": Amount(pot.reserve_m3, "volume"),
                "pots and tiers": Amount(float(part.plants), "plain"),
                "comes to them in an hour": Amount(an_hour, "volume"),
            },
            "Solved network, in the month in which the store stands lowest",
            ("Runs are as long as the season asks; this is after you let them go dry.",),
        ),
    )


def day_figure(setting: Setting, gross: float) -> Figure:
    """Litres that it gives on a day, on the mean."""
    position = setting.position
    return Figure(
        "Water a day, given",
        litres(setting.litres_a_day),
        Working(
            "water a run × runs a day ÷ days from one watering to the next, less what rain lets you skip",
            {
                "water a run": litres(setting.litres_a_run),
                "runs a watering day": Amount(float(position.runs_a_day), "plain"),
                "from one watering to the next": Amount.days(position.mean_days),
                "share of the need": Amount(setting.litres_a_day / gross, "share"),
            },
            "Tried over the same month of every year in the record",
        ),
    )


def error_figure(setting: Setting, gross: float) -> Figure:
    """Litres over the need, a week."""
    return Figure(
        "Over the need, a week",
        litres((setting.litres_a_day - gross) * DAYS_PER_WEEK),
        Working(
            "(water given − water needed a day) × 7",
            {"given a day": litres(setting.litres_a_day), "needed a day": litres(gross)},
            "Arithmetic",
            (
                "Plus is too much, minus too little. Some plus is the price of dry years: the need is a mean of all.",
            ),
        ),
    )
