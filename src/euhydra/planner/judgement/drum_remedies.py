"""What may cure a drum of washing water: its float, its outlet, its height, its hose, its size, a pump."""

from collections.abc import Iterator

from euhydra.garden import edits, plumbing, usual
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Pump
from euhydra.garden.sentences import Amount, Sentence, lowered, say, words
from euhydra.garden.sources import DrumOutlet, Greywater
from euhydra.planner.catch import washing_week
from euhydra.planner.judgement.remedy import Case, Remedy

LOW_FLOAT = 0.1
"""Share of the drum at which a float set low starts its pump. [-] Common practice: a hand of water."""

RAISED = (0.3, 0.6)
"""Stands that are tried for a drum that does not keep up, higher than it is. [m]"""


def other_drum(case: Case) -> Iterator[Remedy]:
    """The drum changed in one way, the smallest change first."""
    system = case.part(Greywater)
    if isinstance(system, Greywater):
        for change, drum in _changes_of(case.garden, system):
            yield Remedy(change, edits.put(case.garden, "greywaters", drum))


def by_its_fall(case: Case) -> Iterator[Remedy]:
    """A drum without a pump said to empty by its own fall; or a pump set in at the drum."""
    system = case.part(Greywater)
    if not isinstance(system, Greywater):
        return
    falls = system.model_copy(update={"outlet": DrumOutlet.GRAVITY})
    yield Remedy(
        say("cure-drum-by-fall", "Let “{drum}” empty by its own fall.", drum=system.name),
        edits.put(case.garden, "greywaters", falls),
    )
    first = next((part for part in case.garden.fed if part.begins_at == system.id), None)
    for kind in (row for row in plumbing.pump_kinds().values() if first is not None):
        pump = usual.with_usual(
            Pump,
            case.garden.units,
            id=edits.free_id(case.garden, "pump"),
            name="Pump",
            kind=kind.id,
            at=system.at,
            begins_at=system.id,
        )
        yield Remedy(
            say(
                "cure-pump-in-drum",
                "Set a pump in at “{drum}”: {kind}.",
                drum=system.name,
                kind=words(lowered(kind.name)),
            ),
            edits.put_before(case.garden, "pumps", pump, first.id if first else ""),
        )


def _changes_of(garden: Garden, system: Greywater) -> Iterator[tuple[Sentence, Greywater]]:
    """Single changes of the drum, the smallest first."""
    is_pumped = any(week.run.is_pumped for week in washing_week.weeks_of(garden, system))
    has_lines = washing_week.has_lines(garden, system)
    if is_pumped:
        sooner = system.model_copy(
            update={"pump_on_m3": system.drum_m3 * LOW_FLOAT, "pump_off_m3": 0.0}
        )
        yield (
            say(
                "catch-lower-float",
                "Set the float low: the pump starts at {on} in the drum and empties it.",
                on=Amount(sooner.pump_on_m3, "volume"),
            ),
            sooner,
        )
    if is_pumped and system.pump_off_m3 > 0:
        yield (
            say("catch-set-float-pump", "Set the float so that the pump empties the drum."),
            system.model_copy(update={"pump_off_m3": 0.0}),
        )
    if not is_pumped and system.outlet_height_m > 0:
        yield (
            say("catch-lower-outlet", "Set the outlet at the very bottom of the drum."),
            system.model_copy(update={"outlet_height_m": 0.0}),
        )
    for by in RAISED if not is_pumped else ():
        yield (
            say("catch-raise-drum", "Raise the drum by {by}.", by=Amount(by, "height")),
            system.model_copy(update={"stand_m": system.stand_m + by}),
        )
    if not is_pumped and not has_lines:
        yield (
            say("catch-pump-in-drum", "Empty it with a pump in the drum, switched by its float."),
            system.model_copy(
                update={
                    "outlet": DrumOutlet.PUMP,
                    "pump_on_m3": min(system.pump_on_m3, system.drum_m3 / 2),
                    "pump_off_m3": min(system.pump_off_m3, system.drum_m3 / 20),
                }
            ),
        )
    for factor in (1.5, 2.0, 3.0):
        if not is_pumped and not has_lines:
            wider = system.model_copy(update={"bore_m": system.bore_m * factor})
            yield (
                say(
                    "catch-wider-hose",
                    "A hose {bore} wide inside.",
                    bore=Amount(wider.bore_m, "bore"),
                ),
                wider,
            )
        bigger = _of_size(system, factor)
        yield (
            say("catch-larger-drum", "A drum of {drum}.", drum=Amount(bigger.drum_m3, "volume")),
            bigger,
        )
    smaller = _of_size(system, 0.5)
    yield (
        say("catch-smaller-drum", "A drum of only {drum}.", drum=Amount(smaller.drum_m3, "volume")),
        smaller,
    )


def _of_size(system: Greywater, factor: float) -> Greywater:
    """The drum so many times as wide, its float at the same heights."""
    return system.model_copy(
        update={
            "drum_m3": system.drum_m3 * factor,
            "pump_on_m3": system.pump_on_m3 * factor,
            "pump_off_m3": system.pump_off_m3 * factor,
        }
    )
