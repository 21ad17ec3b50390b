"""What a rule of assembly finds."""

from dataclasses import dataclass

from euhydra.garden.part import Part
from euhydra.garden.sentences import Sentence
from euhydra.planner.answers import Mark


@dataclass(frozen=True)
class RuleBreach:
    """Something about one part that wants a change."""

    part: Part
    mark: Mark
    message: Sentence
