"""One step of building, the stages that steps come in, and how far the builder is."""

from collections.abc import Collection
from dataclasses import dataclass

from euhydra.garden.sentences import Sentence
from euhydra.planner.answers import Verdict


@dataclass(frozen=True)
class Step:
    """One thing to do.

    key : Names it, so that its tick stays when the garden changes elsewhere.
    minutes : For one person. [min] Common practice.
    parts : Ids of what it is about, for its small drawing.
    cautions : Names of the cautions that belong here.
    """

    key: str
    title: str
    sentences: tuple[Sentence, ...]
    tools: str
    minutes: float
    parts: tuple[str, ...]
    cautions: tuple[str, ...] = ()


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
