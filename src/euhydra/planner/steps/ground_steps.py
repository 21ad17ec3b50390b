"""Wet ground: trench, sump, pump and hose."""

from collections.abc import Iterator

from euhydra.garden.model import Garden
from euhydra.garden.sentences import Amount, say
from euhydra.planner.steps.step import Step
from euhydra.planner.store import wet_ground


def grounds(garden: Garden) -> Iterator[Step]:
    """Trench, sump, pump and hose of every wet ground."""
    for ground in garden.wet_grounds:
        yield Step(
            f"ground-{ground.id}",
            f"Drain “{ground.name}”",
            (
                say(
                    "steps-trench-falls",
                    "Dig a trench for {long} of perforated pipe, its floor falling {drop} evenly to the sump; "
                    "bed the pipe in clean gravel, and gravel over it to a hand under the turf.",
                    long=Amount(ground.pipe_m, "length"),
                    drop=Amount(wet_ground.laid_drop(ground), "tape"),
                ),
                say(
                    "steps-sump-set",
                    "Set the sump {across} wide at its lower end, so deep that the float can travel {travel} under "
                    "the pipe, on gravel, its lid at the ground.",
                    across=Amount(ground.sump_across_m, "tape"),
                    travel=Amount(ground.sump_depth_m, "tape"),
                ),
                say(
                    "steps-drain-hose-laid",
                    "Stand the pump in it on a brick, lead {hose} of hose to where the water may lawfully go, and "
                    "see that it cannot run back.",
                    hose=Amount(ground.hose_m, "length"),
                ),
            ),
            "spade, level, barrow",
            60.0 + 45 * ground.pipe_m,
            (ground.id,),
            ("digging", "electricity"),
            ("ground", "greywater"),
        )
