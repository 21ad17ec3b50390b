"""One step of building, and how far the builder is."""

from dataclasses import dataclass

from euhydra.planner.answers import Sentence, Verdict


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
class StepsAnswer:
    """Every step, and the next that is to be done; none when all are."""

    steps: tuple[Step, ...]
    next: Step | None
    verdict: Verdict
