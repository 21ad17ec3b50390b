"""A tap or well: its flow, what one zone may use of it."""

from dataclasses import dataclass
from math import inf

from euhydra.core.constants import (
    GRAVITY,
    LITRES_PER_CUBIC_METRE,
    SECONDS_PER_DAY,
    WATER_DENSITY,
)
from euhydra.garden.sentences import Amount, say
from euhydra.garden.sources import Tap, TapKind
from euhydra.planner.answers import Figure, Mark, Verdict, Working

USABLE_SHARE = 0.75
"""Share of the measured flow that one zone may use. [-] Common practice: three quarters."""

TOO_MUCH_PRESSURE_PA = 4e5
"""Pressure above which drip lines want a regulator. [Pa] Common practice: 4 bar; they are made
for 1 to 2."""

BIG_ENOUGH = 15.0
"""Least time that a bucket test should take. [s] Common practice: less cannot be timed well."""


@dataclass(frozen=True)
class TapAnswer:
    """One tap: figures and verdict."""

    tap: Tap
    figures: tuple[Figure, ...]
    verdict: Verdict


def usable_flow(tap: Tap) -> float:
    """What one zone may use. [m³ s⁻¹]"""
    return USABLE_SHARE * tap.flow_m3_s


def daily_litres(tap: Tap) -> float:
    """Most that it gives in a day, day after day. [L]

    A well gives what stands in it and what runs in meanwhile, and no more in a day than runs in.
    """
    limits = [usable_flow(tap) * tap.window_s]
    if tap.recovers_m3_s is not None:
        limits.append(tap.recovers_m3_s * SECONDS_PER_DAY)
        if tap.stands_m3 is not None:
            limits.append(tap.stands_m3 + tap.recovers_m3_s * tap.window_s)
    if tap.most_a_day_m3 is not None:
        limits.append(tap.most_a_day_m3)
    return min(limits) * LITRES_PER_CUBIC_METRE


def lasts_s(tap: Tap, flow: float | None = None) -> float:
    """Time for which it gives so much before the well is empty. [s]

    Parameters
    ----------
    flow : Drawn from it; None for its usable flow. [m³ s⁻¹]
    """
    drawn = usable_flow(tap) if flow is None else flow
    if tap.recovers_m3_s is None or drawn <= tap.recovers_m3_s:
        return inf
    return (tap.stands_m3 or 0.0) / (drawn - tap.recovers_m3_s)


def refills_s(tap: Tap) -> float:
    """Time in which an empty well fills again. [s]"""
    return (tap.stands_m3 or 0.0) / (tap.recovers_m3_s or inf)


def answer_tap(tap: Tap) -> TapAnswer:
    """Usable flow, what a day may take, and the pressure in metres of water."""
    return TapAnswer(tap, tuple(_figures(tap)), tap_verdict(tap))


def _figures(tap: Tap) -> list[Figure]:
    bucket = {
        "bucket": Amount(tap.bucket_m3, "volume"),
        "fills in": Amount(tap.fills_in_s, "seconds"),
    }
    flow = Amount(tap.flow_m3_s, "flow")
    figures = [
        Figure(
            "Measured flow",
            flow,
            Working("bucket ÷ time to fill it", bucket, "Bucket and stopwatch"),
        ),
        Figure(
            "One zone may use",
            Amount(usable_flow(tap), "flow"),
            Working(
                "three quarters of the measured flow",
                {"measured flow": flow, "share": Amount(USABLE_SHARE, "share")},
                "Common practice: the rest keeps the pressure up while someone washes hands",
            ),
        ),
        Figure(
            "Most in a day",
            Amount.litres(daily_litres(tap)),
            Working(
                "usable flow × longest time, and no more than the well or a limit allows",
                {
                    "usable flow": Amount(usable_flow(tap), "flow"),
                    "longest time": Amount(tap.window_s, "hours"),
                    **_limits(tap),
                },
                "Arithmetic",
            ),
        ),
    ]
    if tap.static_pa is not None:
        figures.append(
            Figure(
                "Its head at rest",
                Amount(tap.static_pa / (WATER_DENSITY * GRAVITY), "head"),
                Working(
                    "pressure ÷ (density × gravity)",
                    {"pressure with all shut": Amount(tap.static_pa, "tap_pressure")},
                    "Hydrostatics; 10.2 m of water is 1 bar",
                ),
            )
        )
    return figures


def _limits(tap: Tap) -> dict[str, Amount]:
    """What else bounds a day of it, as far as it is known."""
    found: dict[str, Amount] = {}
    if tap.stands_m3 is not None:
        found["stands in the well"] = Amount(tap.stands_m3, "volume")
    if tap.recovers_m3_s is not None:
        found["fills again by"] = Amount(tap.recovers_m3_s, "flow")
    if tap.most_a_day_m3 is not None:
        found["most it may give"] = Amount(tap.most_a_day_m3, "volume")
    return found


def tap_verdict(tap: Tap) -> Verdict:
    """What it carries, and what stands in the way of that."""
    amounts = {
        "flow": Amount(usable_flow(tap), "flow"),
        "day": Amount.litres(daily_litres(tap)),
    }
    summary = say(
        "catch-carry-zone-day",
        "“{tap}” can carry a zone of {flow}, {day} a day at most.",
        tap=tap.name,
        **amounts,
    )
    first = (
        say("catch-backflow-first", "A backflow preventer comes first, always.")
        if tap.kind is TapKind.MAINS
        else say(
            "catch-well-runs-long",
            "A well pump that starts often wears: run zones long, not often.",
        )
    )
    reasons = [first]
    if tap.fills_in_s < BIG_ENOUGH:
        reasons.append(
            say(
                "catch-bucket-full-hard",
                "A bucket full in {time} is hard to time: use a larger one, or fill it three times and "
                "take the mean.",
                time=Amount(tap.fills_in_s, "seconds"),
            )
        )
    if tap.static_pa is not None and tap.static_pa > TOO_MUCH_PRESSURE_PA:
        reasons.append(
            say(
                "catch-drip-lines-need",
                "At {pressure} drip lines need a pressure regulator after the filter.",
                pressure=Amount(tap.static_pa, "tap_pressure"),
            )
        )
    if lasts_s(tap) < tap.window_s:
        empty = say(
            "catch-well-runs-empty",
            "At that flow the well is empty after {lasts} and needs {again} to fill: run zones no "
            "longer, one after another over the day.",
            lasts=Amount(lasts_s(tap), "minutes"),
            again=Amount(refills_s(tap), "hours"),
        )
        return Verdict(Mark.WORKS, summary, (empty, *reasons))
    return Verdict(Mark.WORKS, summary, tuple(reasons))
