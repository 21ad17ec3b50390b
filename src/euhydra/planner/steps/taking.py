"""Which step takes what from the shopping list: every good of the list in one step, and in one alone."""

from collections.abc import Sequence
from dataclasses import replace

from euhydra.garden.model import Garden
from euhydra.planner.parts import counting
from euhydra.planner.parts.uses import Use
from euhydra.planner.steps.step import Stage, Step


def with_goods(garden: Garden, stages: Sequence[Stage]) -> tuple[Stage, ...]:
    """The stages, each step with what is taken for it.

    A good goes to the first step about its part that names it; else to the first that builds in its
    group; else to the first about its part; what is about no step's part is gathered before.
    """
    steps = [step for stage in stages for step in stage.steps]
    takes: dict[str, list[Use]] = {step.key: [] for step in steps}
    for use in counting.uses_of(garden):
        takes[_step_of(use, steps).key].append(use)
    return tuple(
        replace(
            stage,
            steps=tuple(replace(step, takes=tuple(takes[step.key])) for step in stage.steps),
        )
        for stage in stages
    )


def _step_of(use: Use, steps: Sequence[Step]) -> Step:
    about = [step for step in steps if use.where in step.parts]
    for wanted in (use.good.key, use.good.group):
        for step in about:
            if wanted in step.groups:
                return step
    return next(iter(about), steps[0])
