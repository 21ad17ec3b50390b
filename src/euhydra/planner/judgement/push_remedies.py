"""What may make water come: height, way, valve, outlets, pump, and the pieces that guard the line."""

from collections.abc import Iterator
from math import log

from euhydra.garden import catalogue, edits, plumbing
from euhydra.garden.pipes import Fitting, Pipe
from euhydra.garden.plumbing import FittingRole
from euhydra.garden.sentences import Amount, lowered, quoted, say, words
from euhydra.garden.sources import Tap
from euhydra.garden.timers import Timer
from euhydra.planner.judgement import float_remedies, guarding, pump_remedies
from euhydra.planner.judgement.remedy import Case, Remedies, Remedy
from euhydra.planner.push import cures
from euhydra.planner.water import laws, throttling

MISTYPED = 4.0
"""Times that a pipe is as long as it is drawn from which on its length is doubted. [-] Our choice."""


def of_push(case: Case) -> Iterator[Remedy]:
    """What solving the zone again finds: the practitioner's order."""
    push = case.push
    if push is None:
        return
    for cure in cures.find_cures(push.zone, push.duty):
        if cure.garden is not None:
            yield Remedy(cure.change, cure.garden)


def other_valve(case: Case) -> Iterator[Remedy]:
    """A timer whose valve opens at so little head: one that is like it first."""
    zone = case.pushed_zone
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


def allow_longer(case: Case) -> Iterator[Remedy]:
    """More hours of watering on a day."""
    zone = case.pushed_zone
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
    zone = case.pushed_zone
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
    names = quoted(part.name for part in zone.watered)
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
    zone = case.pushed_zone
    if zone is None or zone.group is None or zone.drum is not None:
        return
    for by in (0.1, 0.2, 0.3, 0.4, 0.5, 0.7, 0.9, 1.1, 1.4):
        stores = [
            ("stores", store.model_copy(update={"stand_m": round(store.stand_m + by, 3)}))
            for store in zone.group.stores
        ]
        if any(store.stand_m + by > cures.HIGHEST_STAND for store in zone.group.stores):
            return
        yield Remedy(
            say("cure-raise-stand", "Raise the stand by {by}.", by=Amount(by, "height")),
            edits.put_all(case.garden, stores),
        )


def clean_line(case: Case) -> Iterator[Remedy]:
    """Clogged outlets flushed, or a new line in their place: all that is known of them begins anew."""
    pipe = case.part(Pipe)
    if isinstance(pipe, Pipe):
        yield Remedy(
            say(
                "cure-clean-line",
                "Flush “{pipe}” with its end open, or lay a new one in its place.",
                pipe=pipe.name,
            ),
            edits.put(case.garden, "pipes", pipe.model_copy(update={"outlet_factor": 1.0})),
        )


def other_drippers(case: Case) -> Iterator[Remedy]:
    """Drippers made for about the head that is there, those nearest to it first."""
    zone = case.pushed_zone
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
    zone = case.pushed_zone
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


def as_drawn(case: Case) -> Iterator[Remedy]:
    """Pipes said to be many times as long as they are drawn, taken to be as drawn."""
    zone = next((z.zone for z in case.chain.zones if z.zone.id == case.finding.about), None)
    if zone is None:
        return
    odd = [pipe for pipe in zone.pipes if pipe.lies_m > MISTYPED * pipe.drawn_m]
    if odd:
        longest = max(odd, key=lambda pipe: pipe.lies_m)
        yield Remedy(
            say(
                "cure-as-drawn",
                "“{pipe}” is said to be {said} long and is drawn with {drawn}: take the drawing's length.",
                pipe=longest.name,
                said=Amount(longest.lies_m, "length"),
                drawn=Amount(longest.drawn_m, "length"),
            ),
            edits.put_all(
                case.garden,
                [("pipes", pipe.model_copy(update={"length_m": None})) for pipe in odd],
            ),
        )


PUSH_REMEDIES: dict[str, tuple[Remedies, ...]] = {
    "push-valve-does-not-open": (other_valve, raise_store, pump_remedies.new_pump),
    "push-no-regulator": (guarding.regulator,),
    "push-line-bursts": (guarding.regulator, of_push),
    "push-pump-bursts-line": (guarding.regulator, of_push, pump_remedies.other_pump),
    "push-pump-too-weak": (pump_remedies.other_pump, raise_store),
    "push-stands-over-lowest": (pump_remedies.pump_in_the_water,),
    "push-suction-head-spare": (pump_remedies.pump_in_the_water,),
    "push-water-too-low": (raise_store, pump_remedies.new_pump),
    "push-outlets-do-not-open": (other_drippers, other_lines, raise_store, pump_remedies.new_pump),
    "push-cannot-be-solved": (as_drawn,),
    "push-tap-too-weak": (one_after_another, other_drippers, other_lines, guarding.regulator),
    "push-too-slow": (allow_longer, of_push, other_drippers, pump_remedies.new_pump),
    "push-piece-takes-head": (wider_way, of_push),
    "push-lowest-takes-it": (
        of_push,
        other_drippers,
        one_after_another,
        raise_store,
        pump_remedies.new_pump,
    ),
    "push-line-too-long": (as_drawn, of_push, raise_store, pump_remedies.new_pump),
    "push-shared-unevenly": (of_push, other_drippers, other_lines),
    "push-outlets-want-head": (other_drippers, other_lines, raise_store, pump_remedies.new_pump),
    "push-over-line-of-head": (raise_store, wider_way),
    "push-air-stays": (air_release, raise_store),
    "push-float-does-not-suffice": (float_remedies.second_float, raise_store),
    "push-line-clogged": (clean_line,),
    "push-chain-starves": (float_remedies.wider_joints, float_remedies.second_float, raise_store),
    "push-chain-buffer-carries": (float_remedies.wider_joints, float_remedies.second_float),
    "push-chain-late": (float_remedies.wider_joints, float_remedies.second_float, raise_store),
    "lay-no-backflow-preventer": (
        guarding.guard(
            "backflow", "cure-backflow", "A backflow preventer after the timer of “{zone}”."
        ),
    ),
    "lay-pump-would-cycle": (pump_remedies.larger_vessel, pump_remedies.other_pump),
}
