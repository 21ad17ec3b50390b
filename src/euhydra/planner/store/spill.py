"""Where the last overflow goes, and whether it can."""

from dataclasses import dataclass

from euhydra.core import soaking
from euhydra.garden import catalogue
from euhydra.garden.sentences import Amount, say
from euhydra.garden.store_groups import Group
from euhydra.garden.stores import DESTINATIONS, DOWNSPOUT, DRAIN, GROUND, RAIN_GARDEN
from euhydra.planner.answers import Figure, Mark, Verdict, Working

PONDING = 0.15
"""Depth of a rain garden's hollow. [m] Common practice: a hand's length."""

STORM_SECONDS = 3600.0
"""The hour's cloudburst that it is sized for. [s]"""

SOAK_WITHIN = 24 * 3600.0
"""Time in which standing water should be gone. [s] Common practice: a day, before mosquitoes
hatch and roots drown."""

SOAK_SOURCE = "Intake of the soil: FAO Training Manual 5 (1988), from memory"


@dataclass(frozen=True)
class SpillAnswer:
    """One group's overflow: where it goes, figures, and whether it does no harm."""

    figures: tuple[Figure, ...]
    verdict: Verdict


def answer_spill(
    group: Group, hour_spill_m3: float, below: str | None, ponding_m: float = PONDING
) -> SpillAnswer:
    """Whether the overflow's way takes an hour's cloudburst.

    Parameters
    ----------
    hour_spill_m3 : That spills in an hour of it. [m³]
    below : Name of the store that takes it; None if it leaves.
    ponding_m : Depth of the hollow, such as one round in inches. [m]
    """
    store = group.lowest
    spill = Amount(hour_spill_m3, "volume")
    if below is not None:
        return SpillAnswer(
            (),
            Verdict(
                Mark.WORKS,
                say(
                    "store-spills-hour",
                    "It spills into {below}: {spill} in an hour.",
                    below=below,
                    spill=spill,
                ),
            ),
        )
    if group.overflow_to not in DESTINATIONS:
        summary = say(
            "store-runs-downspout-ground",
            "It runs into a downspout to the ground: {spill} in an hour.",
            spill=spill,
        )
        return SpillAnswer((), Verdict(Mark.BUT, summary))
    if group.overflow_to == DRAIN:
        summary = say(
            "store-runs-drain-hours",
            "It runs into the drain: {spill} in an hour's cloudburst.",
            spill=spill,
        )
        ask = say(
            "store-ask-water-authority", "Ask your water authority whether roof water may go there."
        )
        return SpillAnswer((), Verdict(Mark.WORKS, summary, (ask,)))
    if group.overflow_to == DOWNSPOUT:
        summary = say(
            "store-diverter-full-hour",
            "With the diverter full, {spill} an hour stay in the downspout.",
            spill=spill,
        )
        return SpillAnswer((), Verdict(Mark.WORKS, summary))
    soil = catalogue.find(catalogue.soils(), store.soak_soil)
    if group.overflow_to == RAIN_GARDEN:
        return _rain_garden(store.soak_area_m2, soil.intake_m_s, hour_spill_m3, ponding_m)
    assert group.overflow_to == GROUND
    return _ground(store.soak_area_m2, soil.intake_m_s, hour_spill_m3, ponding_m)


def _rain_garden(area: float, intake: float, spill: float, ponding: float) -> SpillAnswer:
    needed = soaking.rain_garden_area(spill, ponding, intake, STORM_SECONDS)
    gone = soaking.soak_time(ponding, intake)
    figures = (
        Figure(
            "Rain garden it takes",
            Amount(needed, "area"),
            Working(
                "spill ÷ (depth of the hollow + intake × time)",
                {
                    "spill of an hour's cloudburst": Amount(spill, "volume"),
                    "depth of the hollow": Amount(ponding, "height"),
                    "intake of the soil": Amount(intake, "intake"),
                    "it has": Amount(area, "area"),
                },
                f"Water balance; {SOAK_SOURCE}",
            ),
        ),
        Figure(
            "Empty again after",
            Amount(gone, "hours"),
            Working(
                "depth ÷ intake",
                {
                    "depth of the hollow": Amount(ponding, "height"),
                    "intake of the soil": Amount(intake, "intake"),
                },
                SOAK_SOURCE,
            ),
        ),
    )
    amounts = {
        "needed": Amount(needed, "area"),
        "area": Amount(area, "area"),
        "gone": Amount(gone, "hours"),
    }
    if area < needed:
        verdict = Verdict(
            Mark.BUT,
            say(
                "store-rain-garden-small",
                "The rain garden is too small: it takes {needed} and has {area}.",
                **amounts,
            ),
        )
    elif gone > SOAK_WITHIN:
        verdict = Verdict(
            Mark.BUT,
            say(
                "store-large-enough-but",
                "Large enough, but on this soil it stands for {gone}.",
                **amounts,
            ),
        )
    else:
        verdict = Verdict(
            Mark.WORKS,
            say(
                "store-rain-garden-takes",
                "The rain garden takes it, and is empty after {gone}.",
                **amounts,
            ),
        )
    return SpillAnswer(figures, verdict)


def _ground(area: float, intake: float, spill: float, ponding: float) -> SpillAnswer:
    taken = soaking.soaks_in(area, intake, STORM_SECONDS)
    left = max(0.0, spill - taken)
    figures = (
        Figure(
            "The ground takes in that hour",
            Amount(taken, "volume"),
            Working(
                "area × intake × time",
                {
                    "area it spreads over": Amount(area, "area"),
                    "intake of the soil": Amount(intake, "intake"),
                    "spill of an hour's cloudburst": Amount(spill, "volume"),
                    "runs on": Amount(left, "volume"),
                },
                SOAK_SOURCE,
            ),
        ),
    )
    amounts = {"left": Amount(left, "volume"), "taken": Amount(taken, "volume")}
    if left <= 0:
        return SpillAnswer(
            figures,
            Verdict(
                Mark.WORKS,
                say("store-ground-takes-hours", "The ground takes an hour's cloudburst."),
            ),
        )
    needed = soaking.rain_garden_area(spill, ponding, intake, STORM_SECONDS)
    return SpillAnswer(
        figures,
        Verdict(
            Mark.BUT,
            say(
                "store-ground-takes-run",
                "The ground takes {taken} of it; {left} run on. See where to.",
                **amounts,
            ),
            (
                say(
                    "store-hollow-deep-wide",
                    "A hollow {deep} deep and {area} wide would hold it all.",
                    deep=Amount(ponding, "height"),
                    area=Amount(needed, "area"),
                ),
            ),
        ),
    )
