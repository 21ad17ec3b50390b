"""What a garden still lacks, in the order in which it is easiest to say."""

from dataclasses import dataclass

from euhydra.garden.model import Garden
from euhydra.planner.water.zones import zones_of


@dataclass(frozen=True)
class NextStep:
    """Page to go to (`weather` or a station), the form on it that asks, and the words on the button."""

    page: str
    form: str
    label: str


def next_step(garden: Garden, has_weather: bool) -> NextStep | None:
    """The first thing that is missing; None when the chain is whole."""
    # Who waters from a tap, or with washing water, needs no roof and no barrel.
    is_from_pipes = bool(garden.taps or garden.greywaters) and not garden.stores
    is_topped = bool(garden.stores) and all(store.topped_by for store in garden.stores)
    by_hand = bool(garden.planted) and all(part.hand_from for part in garden.planted)
    timed = any(not zone.runs_by_itself for zone in zones_of(garden))
    steps = (
        (has_weather, NextStep("weather", "town", "Say how much it rains")),
        (
            garden.roofs or is_from_pipes or is_topped,
            NextStep("catch", "add-roof", "Describe the roof"),
        ),
        (garden.stores or is_from_pipes, NextStep("store", "add-store", "Add the barrel")),
        (garden.planted, NextStep("lay", "add-bed", "Add the bed")),
        (garden.pipes or by_hand, NextStep("lay", "for-me", "Lay a line in it")),
        (garden.timers or not timed, NextStep("time", "add-timer", "Choose your timer")),
    )
    return next((step for is_there, step in steps if not is_there), None)
