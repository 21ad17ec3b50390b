"""What a garden still lacks, in the order in which it is easiest to say."""

from dataclasses import dataclass

from euhydra.garden.model import Garden


@dataclass(frozen=True)
class NextStep:
    """Page to go to (`weather` or a station), and the words on the button."""

    page: str
    label: str


def next_step(garden: Garden, has_weather: bool) -> NextStep | None:
    """The first thing that is missing; None when the chain is whole."""
    steps = (
        (has_weather, NextStep("weather", "Say how much it rains")),
        (garden.roofs, NextStep("catch", "Describe the roof")),
        (garden.stores, NextStep("store", "Add the barrel")),
        (garden.beds or garden.pots, NextStep("lay", "Add the bed")),
        (garden.pipes, NextStep("lay", "Lay a line in it")),
        (garden.timers, NextStep("time", "Choose your timer")),
    )
    return next((step for is_there, step in steps if not is_there), None)
