"""What is planted out of its season, or does not get the water that stands under it."""

from collections.abc import Iterator

from euhydra.planner.answers import Mark
from euhydra.planner.chain import Chain
from euhydra.planner.judgement.finding import Finding
from euhydra.planner.need import lifting, seasonable
from euhydra.planner.need.daily import Need


def need_findings(chain: Chain) -> Iterator[Finding]:
    """Of every bed and group of pots."""
    for plant in chain.planted:
        if not isinstance(plant.need, Need):
            continue
        part = plant.part
        for sentence in seasonable.out_of_season(plant.need, chain.garden):
            yield Finding.of(sentence, part.id, about=part.id)
        lifts = lifting.lifting_of(plant.need, chain.garden)
        if lifts is not None and lifts.verdict.mark is not Mark.WORKS:
            yield Finding.of(
                lifts.verdict.summary, part.id, about=part.id, symptoms=lifts.verdict.reasons
            )
