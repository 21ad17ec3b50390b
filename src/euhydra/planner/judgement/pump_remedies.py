"""What may drive the water, or spare a pump: another, a stronger, one in the water, a larger vessel."""

from collections.abc import Iterator

from euhydra.garden import edits, plumbing, usual
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Pump
from euhydra.garden.plumbing import PumpKind
from euhydra.garden.sentences import Amount, lowered, say, words
from euhydra.planner.judgement import guarding
from euhydra.planner.judgement.remedy import Case, Remedy
from euhydra.planner.push import drives, shortfalls
from euhydra.planner.water.zones import Zone

MOST_PUMP_HEAD = 40.0
"""Head over which no pump is sought. [m]"""


def new_pump(case: Case) -> Iterator[Remedy]:
    """The smallest pump with which it works, before everything, and a regulator where the lines want one."""
    push = case.push
    if push is None or push.zone.pumps or push.zone.group is None:
        return
    least = drives.least_head(push.zone, push.duty, MOST_PUMP_HEAD)
    kinds = plumbing.pump_kinds().values()
    strong = [k for k in kinds if least is not None and max(head for _, head in k.points) >= least]
    for kind in sorted(strong, key=lambda k: k.price):
        garden = _with_pump(case.garden, push.zone, kind)
        if not shortfalls.bursts(drives.with_pump(push.zone, kind)):
            yield Remedy(
                say("cure-pump", "A pump at the source: {pump}.", pump=words(lowered(kind.name))),
                garden,
            )
            continue
        for regulator in guarding.regulators():
            yield Remedy(
                say(
                    "cure-pump-regulated",
                    "A pump at the source, {pump}, and before the lines, which do not bear its pressure: {regulator}.",
                    pump=words(lowered(kind.name)),
                    regulator=words(lowered(regulator.name)),
                ),
                guarding.with_fitting(garden, push.zone, regulator.id),
            )


def _with_pump(garden: Garden, zone: Zone, kind: PumpKind) -> Garden:
    pump = usual.with_usual(
        Pump,
        garden.units,
        id=edits.free_id(garden, "pump"),
        name="Pump",
        kind=kind.id,
        at=zone.source.at,
        begins_at=zone.source.id,
    )
    return edits.put_before(garden, "pumps", pump, zone.way.parts[0].id)


def other_pump(case: Case) -> Iterator[Remedy]:
    """Another pump in its place: a stronger one where it is too weak, a weaker one where it bursts the lines."""
    zone = case.pushed_zone
    if zone is None or not zone.pumps:
        return
    pump = zone.pumps[0]
    kinds = sorted(plumbing.pump_kinds().values(), key=lambda k: k.price)
    for kind in kinds:
        if kind.id != pump.kind:
            other = pump.model_copy(update={"kind": kind.id})
            yield Remedy(
                say("cure-other-pump", "Another pump: {pump}.", pump=words(lowered(kind.name))),
                edits.put(case.garden, "pumps", other),
            )


def pump_in_the_water(case: Case) -> Iterator[Remedy]:
    """The pump set in the water, or as low as it."""
    pump = case.part(Pump)
    if isinstance(pump, Pump):
        sunk = pump.model_copy(update={"suction_m": 0.0, "height_m": min(pump.height_m, 0.0)})
        yield Remedy(
            say(
                "cure-pump-in-water", "Set “{pump}” in the water, or as low as it.", pump=pump.name
            ),
            edits.put(case.garden, "pumps", sunk),
        )


def larger_vessel(case: Case) -> Iterator[Remedy]:
    """A vessel that holds more between two starts."""
    pump = case.part(Pump)
    if isinstance(pump, Pump):
        for litres in (8, 18, 24, 50, 100):
            if litres / 1000 > pump.band_m3:
                larger = pump.model_copy(update={"band_m3": litres / 1000})
                yield Remedy(
                    say(
                        "cure-larger-vessel",
                        "A pressure vessel that gives {litres} between two starts.",
                        litres=Amount.litres(litres),
                    ),
                    edits.put(case.garden, "pumps", larger),
                )
