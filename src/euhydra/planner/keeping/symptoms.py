"""What one sees of a fault: of lines, and of planters behind a float."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from euhydra.garden.pots import Pots
from euhydra.planner.keeping.causes import Pattern
from euhydra.planner.water.zones import Zone

WEAK, STRONG, NONE = 0.85, 1.15, 0.1
"""Share of its usual flow below or above which an outlet is called so. [-]"""

UNEQUAL = 0.85
"""Share of what the near half gives under which the far half is called weaker. [-]"""

RUNS_AWAY = 1.05
"""Share of the zone's usual flow above which some of it runs away. [-]"""

LOW = 0.5
"""Share of the usual depth over the foot under which planters begin to droop. [-] Our choice."""


@dataclass(frozen=True)
class Symptom:
    """What one sees.

    fits : Whether a solved pattern looks like it.
    unsolved : Causes that make it too, though no network shows them.
    """

    id: str
    words: str
    fits: Callable[[Pattern], bool]
    unsolved: tuple[str, ...] = ()


SYMPTOMS = {
    s.id: s
    for s in (
        Symptom(
            "all-weak",
            "All its lines are weak",
            lambda p: NONE < p.near < WEAK and p.far > 0.6 * p.near,
            ("air",),
        ),
        Symptom(
            "far-weak",
            "Only the far half is weak",
            lambda p: p.far < WEAK and p.far < UNEQUAL * p.near,
            ("air",),
        ),
        Symptom(
            "evening", "It is weak in the evening, or now and then", lambda p: NONE < p.near < WEAK
        ),
        Symptom(
            "nothing",
            "Nothing comes at all",
            lambda p: p.near <= NONE and p.far <= NONE and p.whole <= NONE,
            ("air",),
        ),
        Symptom(
            "first-floods",
            "The first pots flood, the last stay dry",
            lambda p: p.far < UNEQUAL * p.near,
            ("heights",),
        ),
        Symptom("strong", "It spits, or tubes come off", lambda p: p.near > STRONG),
        Symptom(
            "puddle",
            "Water stands where none belongs",
            lambda p: p.whole > RUNS_AWAY and p.near < 1.02,
        ),
        Symptom(
            "runs-on", "It runs while it should be off", lambda p: False, ("valve-stays-open",)
        ),
    )
}
"""What may be chosen, by id."""

CHAIN_SYMPTOMS = {
    s.id: s
    for s in (
        Symptom(
            "chain-last-dry",
            "Only the last ones of the chain droop",
            lambda p: p.far < LOW and p.near >= LOW,
        ),
        Symptom("chain-all-dry", "All of them droop, the box is low", lambda p: p.near < LOW),
        Symptom(
            "chain-drinks-more",
            "The store falls faster than it should",
            lambda p: p.whole > RUNS_AWAY,
        ),
        Symptom("chain-runs-over", "An overflow runs", lambda p: False),
        Symptom("chain-tops-dry", "The water stands right, the mix is dry", lambda p: False),
        Symptom("chain-green", "The water is green or smells", lambda p: False),
    )
}
"""What may be chosen of planters behind a float, by id."""


def symptoms_of(zone: Zone) -> Mapping[str, Symptom]:
    """What may be seen of a zone."""
    return CHAIN_SYMPTOMS if is_chain(zone) else SYMPTOMS


def is_chain(zone: Zone) -> bool:
    """Whether planters stand behind a float in it, and no lines."""
    return zone.keeps_level and any(isinstance(p, Pots) and p.is_joined for p in zone.watered)
