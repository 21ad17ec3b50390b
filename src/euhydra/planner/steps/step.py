"""One step of building, the stages that steps come in, and how far the builder is."""

from collections.abc import Collection
from dataclasses import dataclass

from euhydra.garden.goods import Unit
from euhydra.garden.sentences import Amount, Sentence
from euhydra.planner.answers import Verdict
from euhydra.planner.parts.uses import Good, Use


def work_time(minutes: float) -> Amount:
    """As one tells how long work takes: to five minutes, from an hour on to half an hour, from ten to one."""
    step = 5 if minutes < 57.5 else 30 if minutes < 600 else 60
    return Amount(60.0 * step * max(1, round(minutes / step)), "hours")


@dataclass(frozen=True)
class Taken:
    """So many of a good, or metres of it, as a step takes them."""

    good: Good
    count: float

    @property
    def amount(self) -> Amount:
        """For the page."""
        return Amount(self.count, "length" if self.good.unit is Unit.METRE else "plain")


@dataclass(frozen=True)
class Step:
    """One thing to do.

    key : Names it, so that its tick stays when the garden changes elsewhere.
    minutes : For one person. [min] Common practice.
    parts : Ids of what it is about, for its small drawing.
    cautions : Names of the cautions that belong here.
    groups : Groups of goods, or single goods, of its parts that it builds in; see ``steps.taking``.
    takes : What is taken from the shopping list for it.
    """

    key: str
    title: str
    sentences: tuple[Sentence, ...]
    tools: str
    minutes: float
    parts: tuple[str, ...]
    cautions: tuple[str, ...] = ()
    groups: tuple[str, ...] = ()
    takes: tuple[Use, ...] = ()

    @property
    def takes_about(self) -> Amount:
        """How long it takes one person."""
        return work_time(self.minutes)

    @property
    def taken(self) -> tuple[Taken, ...]:
        """What is taken, each good once, in the order of the list."""
        counted: dict[str, float] = {}
        goods = {use.good.key: use.good for use in self.takes}
        for use in self.takes:
            counted[use.good.key] = counted.get(use.good.key, 0.0) + use.amount
        return tuple(Taken(goods[key], counted[key]) for key in sorted(counted))


@dataclass(frozen=True)
class Stage:
    """Steps that are done in one go: a morning or a day."""

    key: str
    title: str
    steps: tuple[Step, ...]

    def left(self, done: Collection[str]) -> list[Step]:
        """Steps that are not ticked off."""
        return [step for step in self.steps if step.key not in done]


@dataclass(frozen=True)
class StageLeft:
    """A stage and what is left of it.

    first : Number of its first step in the whole.
    count : Of its steps that are not done.
    minutes : That they take. [min]
    """

    stage: Stage
    first: int
    count: int
    minutes: float

    @property
    def takes_about(self) -> Amount:
        """How long what is left takes one person."""
        return work_time(self.minutes)


@dataclass(frozen=True)
class StepsAnswer:
    """Every stage, and the next step that is to be done; none when all are."""

    stages: tuple[StageLeft, ...]
    next: Step | None
    verdict: Verdict

    @property
    def steps(self) -> tuple[Step, ...]:
        """Of every stage, in order."""
        return tuple(step for found in self.stages for step in found.stage.steps)
