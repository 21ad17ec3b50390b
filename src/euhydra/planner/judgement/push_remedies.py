"""What may make water come: height, way, valve, outlets, pump, and the pieces that guard the line."""

from collections.abc import Iterator
from math import log

from euhydra.garden import catalogue, edits, plumbing
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Fitting, Pipe, Pump
from euhydra.garden.plumbing import FittingRole, PumpKind
from euhydra.garden.pots import KeptBy, Pots
from euhydra.garden.sentences import Amount, lowered, say, words
from euhydra.garden.sources import Tap
from euhydra.garden.timers import Timer
from euhydra.planner.answers import PlanError
from euhydra.planner.judgement.remedy import Case, Remedies, Remedy
from euhydra.planner.push import cures, drives, float_chain, shortfalls
from euhydra.planner.push.answer import PushAnswer
from euhydra.planner.water import laws, throttling
from euhydra.planner.water.zones import Zone

MOST_PUMP_HEAD = 40.0
"""Head over which no pump is sought. [m]"""


def of_push(case: Case) -> Iterator[Remedy]:
    """What solving the zone again finds: the practitioner's order."""
    push = _push_of(case)
    if push is None:
        return
    for cure in cures.find_cures(push.zone, push.duty):
        if cure.garden is not None:
            yield Remedy(cure.change, cure.garden)


def _push_of(case: Case) -> PushAnswer | None:
    """Of the zone, or of the first that the store it is about feeds."""
    if case.zone is not None:
        return case.zone.push if isinstance(case.zone.push, PushAnswer) else None
    about = case.finding.about
    return next(
        (
            z.push
            for z in case.chain.zones
            if isinstance(z.push, PushAnswer)
            and z.zone.group is not None
            and any(store.id == about for store in z.zone.group.stores)
        ),
        None,
    )


def other_valve(case: Case) -> Iterator[Remedy]:
    """A timer whose valve opens at so little head: one that is like it first."""
    zone = _zone(case)
    if zone is None or not isinstance(zone.head, Timer) or zone.timer is None:
        return
    there = min(zone.head_at_valve(share) for share in zone.levels.values())
    own = zone.timer
    kinds = [k for k in catalogue.timers().values() if k.id != own.id and not k.wants_somebody]
    kinds.sort(
        key=lambda k: (
            k.least_opening_head_m > there,
            k.works_by is not own.works_by,
            -k.least_opening_head_m,
        )
    )
    for kind in kinds:
        if kind.least_opening_head_m < own.least_opening_head_m:
            other = zone.head.model_copy(update={"kind": kind.id})
            yield Remedy(
                say("cure-other-valve", "Another timer: {timer}.", timer=lowered(kind.name)),
                edits.put(case.garden, "timers", other),
            )


def _zone(case: Case) -> Zone | None:
    push = _push_of(case)
    return push.zone if push else None


def wider_way(case: Case) -> Iterator[Remedy]:
    """The piece that takes the head: a wider pipe, or the valve taken out."""
    pipe = case.part(Pipe)
    if isinstance(pipe, Pipe):
        for name, wider in cures.widened(pipe):
            yield Remedy(
                say(
                    "cure-wider-pipe",
                    "A wider pipe for “{pipe}”: {kind}.",
                    pipe=pipe.name,
                    kind=words(name),
                ),
                edits.put(case.garden, "pipes", wider),
            )
        if pipe.fittings_loss > 0:
            open_ = pipe.model_copy(update={"fittings_loss": 0.0})
            yield Remedy(
                say(
                    "cure-fewer-bends",
                    "Open what is throttled on “{pipe}”, and lay it with fewer bends.",
                    pipe=pipe.name,
                ),
                edits.put(case.garden, "pipes", open_),
            )
    piece = case.part(Fitting)
    if isinstance(piece, Fitting):
        yield Remedy(
            say("cure-take-out", "Take “{piece}” out.", piece=piece.name),
            edits.remove(case.garden, piece.id),
        )


def new_pump(case: Case) -> Iterator[Remedy]:
    """The smallest pump with which it works, before everything, and a regulator where the lines want one."""
    push = _push_of(case)
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
        for regulator in _regulators():
            yield Remedy(
                say(
                    "cure-pump-regulated",
                    "A pump at the source, {pump}, and before the lines, which do not bear its pressure: {regulator}.",
                    pump=words(lowered(kind.name)),
                    regulator=words(lowered(regulator.name)),
                ),
                with_fitting(garden, push.zone, regulator.id),
            )


def _with_pump(garden: Garden, zone: Zone, kind: PumpKind) -> Garden:
    pump = Pump(
        id=edits.free_id(garden, "pump"),
        name="Pump",
        kind=kind.id,
        at=zone.source.at,
        begins_at=zone.source.id,
    )
    return edits.put_before(garden, "pumps", pump, zone.way.parts[0].id)


def other_pump(case: Case) -> Iterator[Remedy]:
    """Another pump in its place: a stronger one where it is too weak, a weaker one where it bursts the lines."""
    zone = _zone(case)
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


def regulator(case: Case) -> Iterator[Remedy]:
    """A regulator before the lines, the one that holds most first; or the one there set lower."""
    zone = _zone(case)
    if zone is None:
        return
    there = next(
        (p for p in zone.pieces if isinstance(p, Fitting) and p.role is FittingRole.REGULATES), None
    )
    if there is not None:
        for setting in reversed(cures.SETTINGS):
            set_so = there.model_copy(update={"setting_m": setting})
            yield Remedy(
                say(
                    "cure-regulator-setting",
                    "Set “{piece}” to {setting}, or take one that holds it.",
                    piece=there.name,
                    setting=Amount(setting, "head"),
                ),
                edits.put(case.garden, "fittings", set_so),
            )
        return
    for kind in _regulators():
        yield Remedy(
            say(
                "cure-regulator",
                "Put in before the lines: {regulator}.",
                regulator=words(lowered(kind.name)),
            ),
            with_fitting(case.garden, zone, kind.id),
        )


def _regulators() -> list[plumbing.FittingKind]:
    return sorted(
        (k for k in plumbing.fitting_kinds().values() if k.setting_m > 0),
        key=lambda k: -k.setting_m,
    )


def guard(kind_id: str, code: str, template: str) -> Remedies:
    """A piece set in where it belongs in the head of the zone."""

    def remedies(case: Case) -> Iterator[Remedy]:
        for zone in _zones_about(case):
            yield Remedy(
                say(code, template, zone=zone.name), with_fitting(case.garden, zone, kind_id)
            )
        several = _zones_about(case)
        if len(several) > 1:
            garden = case.garden
            for zone in several:
                garden = with_fitting(garden, zone, kind_id)
            names = ", ".join(zone.name for zone in several)
            yield Remedy(say(code, template, zone=names), garden)

    return remedies


def _zones_about(case: Case) -> list[Zone]:
    """The zone that it is about, or all that run through its first part."""
    if case.zone is not None:
        return [case.zone.zone]
    first = case.finding.parts[0]
    return [
        z.zone
        for z in case.chain.zones
        if z.zone.source.id == first or any(part.id == first for part in z.zone.way.parts)
    ]


def with_fitting(garden: Garden, zone: Zone, kind_id: str) -> Garden:
    """The garden with a piece in the zone's head, after its timer and what belongs before it."""
    kind = plumbing.fitting_kinds()[kind_id]
    behind = _first_after(zone, kind.order)
    piece = Fitting(
        id=edits.free_id(garden, kind_id),
        name=f"{zone.name}, {kind.noun}"[:60],
        kind=kind_id,
        at=zone.source.at,
        begins_at=zone.source.id,
    )
    return edits.put_before(garden, "fittings", piece, behind)


def _first_after(zone: Zone, order: int) -> str:
    """The first part of the way that belongs after a piece of such an order."""
    timer_seen = zone.timer is None
    for part in zone.way.parts:
        if isinstance(part, Timer):
            timer_seen = True
            continue
        if isinstance(part, Pump):
            continue
        if isinstance(part, Fitting):
            kind = catalogue.find(plumbing.fitting_kinds(), part.kind)
            if kind.order and kind.order <= order:
                continue
        if timer_seen:
            return part.id
    return zone.way.parts[-1].id


def allow_longer(case: Case) -> Iterator[Remedy]:
    """More hours of watering on a day."""
    zone = _zone(case)
    if zone is None:
        return
    head = zone.head
    for hours in (2, 3, 4, 6, 8, 10, 12):
        seconds = hours * 3600.0
        if seconds <= zone.window_s:
            continue
        allow = say(
            "cure-allow-longer",
            "Allow {hours} of watering on a day.",
            hours=Amount(seconds, "hours"),
        )
        garden = case.garden
        if isinstance(head, Timer):
            garden = edits.put(garden, "timers", head.model_copy(update={"window_s": seconds}))
        if isinstance(zone.source, Tap) and zone.source.window_s < seconds:
            tap = zone.source.model_copy(update={"window_s": seconds})
            garden = edits.put(garden, "taps", tap)
        yield Remedy(allow, garden)


def one_after_another(case: Case) -> Iterator[Remedy]:
    """A valve of its own for everything watered, opened one after another, instead of one for all."""
    zone = _zone(case)
    if zone is None or not isinstance(zone.head, Timer) or len(zone.watered) < 2:
        return
    branches = throttling.branches_of(zone)
    if len(branches) < 2:
        return
    garden = case.garden
    for pipe, own in branches:
        watered = next(p for p in zone.watered if p.id == zone.outlets[own[0]].waters)
        timer = zone.head.model_copy(
            update={
                "id": edits.free_id(garden, f"{watered.id[:30]}-valve"),
                "name": f"{watered.name}, timer"[:60],
                "at": pipe.path[0],
                "body": None,
                "set_minutes": None,
            }
        )
        garden = edits.put_before(garden, "timers", timer, pipe.id)
    garden = edits.remove(garden, zone.head.id)
    names = " and ".join(f"“{part.name}”" for part in zone.watered)
    yield Remedy(
        say(
            "cure-one-after-another",
            "A valve of its own each for {names}, opened one after another.",
            names=names,
        ),
        garden,
    )


def air_release(case: Case) -> Iterator[Remedy]:
    """An air release at the place that is named, or the store raised."""
    pipe = case.part(Pipe)
    along = case.finding.cause.values.get("along")
    if isinstance(pipe, Pipe) and isinstance(along, Amount):
        piece = Fitting(
            id=edits.free_id(case.garden, "air-release"),
            name="Air release",
            kind="air-release",
            at=pipe.point_at(min(along.value, pipe.drawn_m)),
            begins_at=pipe.id,
            begins_along_m=min(along.value, pipe.drawn_m),
        )
        yield Remedy(
            say(
                "cure-air-release",
                "An air release on “{pipe}”, {along} from its beginning.",
                pipe=pipe.name,
                along=along,
            ),
            edits.put(case.garden, "fittings", piece),
        )


def raise_store(case: Case) -> Iterator[Remedy]:
    """The store on a higher stand, by the least of some steps."""
    zone = _zone(case)
    if zone is None or zone.group is None or zone.drum is not None:
        return
    for by in (0.1, 0.2, 0.3, 0.4, 0.5, 0.7, 0.9, 1.1, 1.4):
        stores = [
            ("stores", store.model_copy(update={"stand_m": round(store.stand_m + by, 3)}))
            for store in zone.group.stores
        ]
        if any(store.stand_m + by > cures.HIGHEST_STAND for store in zone.group.stores):
            return
        try:
            yield Remedy(
                say("cure-raise-stand", "Raise the stand by {by}.", by=Amount(by, "height")),
                edits.put_all(case.garden, stores),
            )
        except PlanError:
            return


def wider_joints(case: Case) -> Iterator[Remedy]:
    """Wider tubes from one planter to the next."""
    pots = case.part(Pots)
    if isinstance(pots, Pots) and pots.kept_by is KeptBy.CHAIN:
        for factor in float_chain.WIDER:
            bore = pots.joint_bore_m * factor
            yield Remedy(
                say(
                    "cure-wider-joints",
                    "Tubes {bore} wide inside from one of “{pots}” to the next.",
                    bore=Amount(bore, "bore"),
                    pots=pots.name,
                ),
                edits.put(case.garden, "pots", pots.model_copy(update={"joint_bore_m": bore})),
            )


def other_drippers(case: Case) -> Iterator[Remedy]:
    """Drippers made for about the head that is there, those nearest to it first."""
    zone = _zone(case)
    tubes = [pipe for pipe in zone.pipes if pipe.dripper] if zone else []
    if zone is None or not tubes:
        return
    there = max(zone.head_at(zone.levels[zone.usual_level]), 0.1)
    own = plumbing.drippers()[tubes[0].dripper or ""].outlet
    kinds = [
        d
        for d in plumbing.drippers().values()
        if not d.keeps_level and not d.sprays and d.outlet.flow_m3_s >= own.flow_m3_s / 3
    ]
    kinds.sort(key=lambda d: (d.outlet.opens_m > there / 2, abs(log(d.outlet.at_head_m / there))))
    for dripper in kinds:
        if all(pipe.dripper != dripper.id for pipe in tubes):
            others = [("pipes", pipe.model_copy(update={"dripper": dripper.id})) for pipe in tubes]
            yield Remedy(
                say(
                    "cure-other-drippers",
                    "Other drippers: {kind}.",
                    kind=words(lowered(dripper.name)),
                ),
                edits.put_all(case.garden, others),
            )


def other_lines(case: Case) -> Iterator[Remedy]:
    """Line made for about the head that is there, that nearest to it first."""
    zone = _zone(case)
    if zone is None:
        return
    rows = [pipe for pipe in zone.pipes if laws.kind_of(pipe).has_outlets]
    if not rows:
        return
    there = max(zone.head_at(zone.levels[zone.usual_level]), 0.1)
    if any(isinstance(p, Fitting) and p.role is FittingRole.REGULATES for p in zone.pieces):
        there = min(there, 10.0)
    own = laws.kind_of(rows[0])
    kinds = [k for k in plumbing.pipe_kinds().values() if k.has_outlets and k.id != own.id]
    kinds.sort(
        key=lambda k: (
            k.family != own.family,
            k.outlet.opens_m > there / 2,
            abs(log(k.outlet.at_head_m / there)),
        )
    )
    for kind in kinds:
        others = [
            ("pipes", pipe.model_copy(update={"kind": kind.id, "bore_m": None, "hole_m": None}))
            for pipe in rows
        ]
        yield Remedy(
            say("cure-other-lines", "Other line: {kind}.", kind=words(lowered(kind.name))),
            edits.put_all(case.garden, others),
        )


PUSH_REMEDIES: dict[str, tuple[Remedies, ...]] = {
    "push-valve-does-not-open": (other_valve, raise_store, new_pump),
    "push-no-regulator": (regulator,),
    "push-line-bursts": (regulator, of_push),
    "push-pump-bursts-line": (regulator, of_push, other_pump),
    "push-pump-too-weak": (other_pump, raise_store),
    "push-stands-over-lowest": (pump_in_the_water,),
    "push-suction-head-spare": (pump_in_the_water,),
    "push-water-too-low": (raise_store, new_pump),
    "push-outlets-do-not-open": (other_drippers, other_lines, raise_store, new_pump),
    "push-gives-nothing": (of_push, new_pump),
    "push-tap-too-weak": (one_after_another, other_drippers, other_lines, regulator),
    "push-too-slow": (allow_longer, of_push, other_drippers, new_pump),
    "push-piece-takes-head": (wider_way, of_push),
    "push-lowest-takes-it": (of_push, other_drippers, one_after_another, raise_store, new_pump),
    "push-line-too-long": (of_push, raise_store, new_pump),
    "push-shared-unevenly": (of_push, other_drippers, other_lines),
    "push-outlets-want-head": (other_drippers, other_lines, raise_store, new_pump),
    "push-over-line-of-head": (raise_store, wider_way),
    "push-air-stays": (air_release, raise_store),
    "push-float-does-not-suffice": (raise_store, wider_joints),
    "push-chain-starves": (wider_joints, raise_store),
    "push-chain-late": (wider_joints, raise_store),
    "lay-no-backflow-preventer": (
        guard("backflow", "cure-backflow", "A backflow preventer after the timer of “{zone}”."),
    ),
    "lay-pump-would-cycle": (larger_vessel, other_pump),
}
