"""Washing water: the drum, its way in and out, and its open hose."""

from collections.abc import Iterator

from euhydra.garden.model import Garden
from euhydra.garden.sentences import Amount, say
from euhydra.garden.sources import DrumOutlet
from euhydra.planner.catch import washing_week
from euhydra.planner.steps.step import Step
from euhydra.planner.steps.store_steps import stand


def greywaters(garden: Garden) -> Iterator[Step]:
    """Diverter, drum and its open hose; lines that are drawn from a drum have steps of their own."""
    for line in garden.greywaters:
        bed = next((bed for bed in garden.beds if bed.id == line.bed_id), None)
        has_lines = washing_week.has_lines(garden, line)
        yield stand(line.as_store, garden.units)
        sentences = [
            say(
                "steps-ask-local-code",
                "Ask your local code first, and have the diverter in the house drain fitted by a "
                "licensed plumber.",
            ),
            say(
                "steps-set-drum",
                "Set the drum where it stands for good, its outlet {outlet} above its bottom.",
                outlet=Amount(line.outlet_height_m, "tape"),
            )
            if line.outlet_height_m > 0
            else say(
                "steps-set-drum-low",
                "Set the drum where it stands for good, its outlet or its pump at the very bottom.",
            ),
            say(
                "steps-drum-inlet-overflow",
                "Lead the washing water in above its highest level, {depth}, so that none runs back; at that height "
                "an overflow back into the sewer, wider than the inlet, with a trap or a mesh against flies.",
                depth=Amount(line.drum_depth_m, "tape"),
            ),
        ]
        if line.outlet is DrumOutlet.PUMP:
            sentences.append(
                say(
                    "steps-drum-float",
                    "Set the pump's float so that it starts at {on} in the drum and stops at {off}.",
                    on=Amount(line.pump_on_m3, "volume"),
                    off=Amount(line.pump_off_m3, "volume"),
                )
            )
        if not has_lines and bed is not None:
            sentences.append(
                say(
                    "steps-run-hose-steady",
                    "Run the hose to “{bed}”, {long}, with a steady fall and no low place, to under the mulch.",
                    bed=bed.name,
                    long=Amount(line.hose_m, "length"),
                )
            )
        sentences.append(
            say(
                "steps-lint-bag-over",
                "Lint bag over the inlet; label the line “washing water, do not drink”.",
            )
        )
        yield Step(
            f"grey-{line.id}",
            f"Washing water: “{line.name}”",
            tuple(sentences),
            "tape, level, spade",
            120,
            (bed.id, line.id) if bed is not None and not has_lines else (line.id,),
            ("greywater",),
            ("greywater",),
        )
