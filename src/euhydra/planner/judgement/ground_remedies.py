"""What may cure ground that stays wet: downspouts led elsewhere, a stronger pump, a wider pipe, a larger sump."""

from collections.abc import Iterator
from math import ceil

from euhydra.garden import edits
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.sources import Uncaught, WetGround
from euhydra.planner.judgement.remedy import Case, Remedies, Remedy
from euhydra.planner.store import wet_ground

STEP = 0.05
"""Step in which a float's travel is tried. [m]"""

MOST_TRAVEL = 0.6
"""Longest travel of a float that is offered. [m] Common practice: a sump of a metre."""

SUMPS_ACROSS = (0.6, 0.8, 1.0, 1.2)
"""Widths of sump that are tried. [m] Common practice."""

PIPES = (0.15, 0.2)
"""Widths of perforated pipe that are tried. [m] Common practice."""

SPARE = (1.0, 1.25, 1.6, 2.0)
"""Times the flow wanted that a pump is tried with. [-]"""


def _with(case: Case, ground: WetGround, change: Sentence, **fields: object) -> Remedy:
    """The ground with other fields."""
    changed = ground.model_copy(update=fields)
    return Remedy(change, edits.put(case.garden, "wet_grounds", changed))


def lead_spouts_off(case: Case) -> Iterator[Remedy]:
    """Loose downspouts led elsewhere than onto it."""
    ground = case.part(WetGround)
    if isinstance(ground, WetGround) and ground.uncaught is Uncaught.HERE:
        yield _with(
            case,
            ground,
            say(
                "cure-spouts-elsewhere",
                "Catch the downspouts that run onto “{ground}” in a store, or lead them elsewhere.",
                ground=ground.name,
            ),
            uncaught=Uncaught.ELSEWHERE,
        )


def stronger_pump(case: Case) -> Iterator[Remedy]:
    """A pump that takes it away in time, if the pipe brings as much."""
    ground = case.part(WetGround)
    if not isinstance(ground, WetGround):
        return
    storm = wet_ground.storm_on(case.garden, ground)
    wanted = storm.left / (ground.storm_s + wet_ground.SOON)
    for times in SPARE:
        flow = wanted * times
        if ground.pump_m3_s < flow <= storm.pipe:
            stronger = ground.model_copy(update={"pump_m3_s": flow})
            yield _with(
                case,
                ground,
                say(
                    "cure-sump-pump",
                    "Take a pump that gives {flow} at {head} of head.",
                    flow=Amount(flow, "flow"),
                    head=Amount(wet_ground.pump_head(stronger), "head"),
                ),
                pump_m3_s=flow,
            )


def wider_pipe(case: Case) -> Iterator[Remedy]:
    """A perforated pipe that brings more to the sump."""
    ground = case.part(WetGround)
    if not isinstance(ground, WetGround):
        return
    for bore in PIPES:
        if bore > ground.bore_m:
            yield _with(
                case,
                ground,
                say(
                    "cure-wider-drain",
                    "Lay a perforated pipe {bore} wide.",
                    bore=Amount(bore, "bore"),
                ),
                bore_m=bore,
            )


def longer_travel(case: Case) -> Iterator[Remedy]:
    """A float that lets more water gather between its starts."""
    ground = case.part(WetGround)
    if not isinstance(ground, WetGround):
        return
    starts = wet_ground.storm_on(case.garden, ground).starts
    travel = ceil(ground.sump_depth_m * starts / wet_ground.MOST_STARTS / STEP) * STEP
    if ground.sump_depth_m < travel <= MOST_TRAVEL:
        yield _with(
            case,
            ground,
            say(
                "cure-float-travel",
                "Let the float travel {travel} between on and off.",
                travel=Amount(travel, "height"),
            ),
            sump_depth_m=travel,
        )


def wider_sump(case: Case) -> Iterator[Remedy]:
    """A sump that holds more between its starts."""
    ground = case.part(WetGround)
    if not isinstance(ground, WetGround):
        return
    for across in SUMPS_ACROSS:
        if across > ground.sump_across_m:
            yield _with(
                case,
                ground,
                say(
                    "cure-wider-sump", "Take a sump {across} wide.", across=Amount(across, "height")
                ),
                sump_across_m=across,
            )


GROUND_REMEDIES: dict[str, tuple[Remedies, ...]] = {
    "store-takes-after-storm": (lead_spouts_off, stronger_pump, wider_pipe),
    "store-pump-starts-times": (longer_travel, wider_sump),
}
