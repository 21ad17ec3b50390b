"""Screw threads of hoses and pipes: which male goes into which female, and how it is sealed."""

from dataclasses import dataclass
from enum import StrEnum

ALIKE = 0.0003
"""Difference of diameters that is no more than tolerance. [m] Our choice: 0.3 mm."""


class Seal(StrEnum):
    """What makes a screwed joint tight."""

    WASHER = "washer"
    TAPE = "tape"


@dataclass(frozen=True)
class Thread:
    """A thread by its form.

    diameter : Outside, of the male; of a taper at its gauge. [m]
    per_inch : Threads to an inch.
    angle : Of the flanks. [°]
    """

    diameter: float
    per_inch: float
    angle: float
    is_taper: bool


def seal_between(male: Thread, female: Thread) -> Seal | None:
    """How a male in a female is made tight; None if they do not mate.

    Diameter, pitch and flank have to agree. A taper male wedges into a parallel female or a taper
    one, with tape; a parallel male never closes in a taper female.

    References
    ----------
    ISO 7-1 and ISO 228-1 (pipe threads of 55°), ASME B1.20.1 (taper of 60°) and B1.20.7 (hose):
    from memory.
    """
    if abs(male.diameter - female.diameter) > ALIKE:
        return None
    if (male.per_inch, male.angle) != (female.per_inch, female.angle):
        return None
    if male.is_taper:
        return Seal.TAPE
    return None if female.is_taper else Seal.WASHER
