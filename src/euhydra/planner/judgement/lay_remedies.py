"""What may mend the lines: a piece put in, taken out or changed, or lines laid anew."""

from collections.abc import Iterator

from pydantic import ValidationError
from shapely import Point as Dot
from shapely import Polygon

from euhydra.garden import edits, plumbing, shapes
from euhydra.garden.beds import Bed
from euhydra.garden.drinker import Drinker
from euhydra.garden.part import Part
from euhydra.garden.pipes import EndKind, Fitting, Pipe
from euhydra.garden.sentences import lowered, say, words
from euhydra.garden.sources import Tap
from euhydra.garden.stores import Store
from euhydra.garden.timers import Timer
from euhydra.planner.answers import PlanError
from euhydra.planner.judgement import drum_remedies, guarding, push_remedies
from euhydra.planner.judgement.remedy import Case, Remedies, Remedy
from euhydra.planner.lay import proposed_manifold
from euhydra.planner.lay.wishes import Method, Wish
from euhydra.planner.water import laws, zones


def take_out(case: Case) -> Iterator[Remedy]:
    """The piece that does not belong there."""
    for kind in (Timer, Fitting):
        piece = case.part(kind)
        if isinstance(piece, Part):
            yield Remedy(
                say("cure-take-out", "Take “{piece}” out.", piece=piece.name),
                edits.remove(case.garden, piece.id),
            )
            return


def take_apart(case: Case) -> Iterator[Remedy]:
    """A pipe that joins two waters ended before the second."""
    pipe = case.part(Pipe)
    if isinstance(pipe, Pipe) and pipe.ends_at is not None:
        apart = pipe.model_copy(update={"ends_at": None, "end": EndKind.OPENS})
        yield Remedy(
            say(
                "cure-take-apart",
                "Take “{pipe}” off “{other}”, and close its end.",
                pipe=pipe.name,
                other=case.parts[pipe.ends_at].name,
            ),
            edits.put(case.garden, "pipes", apart),
        )


def end_that_opens(case: Case) -> Iterator[Remedy]:
    """A cap that comes off, to flush."""
    pipe = case.part(Pipe)
    if isinstance(pipe, Pipe):
        opens = pipe.model_copy(update={"end": EndKind.OPENS})
        yield Remedy(
            say("cure-end-opens", "End “{pipe}” with a cap that opens.", pipe=pipe.name),
            edits.put(case.garden, "pipes", opens),
        )


def join(case: Case) -> Iterator[Remedy]:
    """Joined to the source whose water comes to most of the rest, or to any."""
    part = case.parts.get(case.finding.parts[0])
    first = _first_loose(case, part)
    if first is None:
        return
    for source in (*case.garden.stores, *case.garden.taps):
        joined = first.model_copy(update={"begins_at": source.id, "begins_along_m": None})
        collection = "pipes" if isinstance(first, Pipe) else _collection(case, first)
        try:
            yield Remedy(
                say(
                    "cure-join", "Join “{part}” to “{source}”.", part=first.name, source=source.name
                ),
                edits.put(case.garden, collection, joined),
            )
        except ValidationError:
            continue


def _collection(case: Case, part: Part) -> str:
    return next(c for c in edits.FED if any(p.id == part.id for p in getattr(case.garden, c)))


def _first_loose(case: Case, part: Part | None) -> Part | None:
    """What leads to the part and is itself fed by nothing."""
    by_id = {p.id: p for p in case.garden.joinable}
    while part is not None and getattr(part, "begins_at", None) is not None:
        part = by_id.get(getattr(part, "begins_at", ""))
    return part if part is not None and hasattr(part, "begins_at") else None


def lay_for_it(case: Case) -> Iterator[Remedy]:
    """Lines laid for a bed or pots that nothing waters, from each source, with a timer that opens there."""
    part = case.part(Drinker)
    if not isinstance(part, Drinker):
        return
    sources: list[Store | Tap] = [*case.garden.stores, *case.garden.taps]
    for source in sources:
        stored = isinstance(source, Store)
        lines = ("line-low", "line-2") if stored else ("line-2", "line-pc")
        drippers = ("low-2", "button-2") if stored else ("holds-2", "button-2")
        is_bed = isinstance(part, Bed)
        for line in lines if is_bed else drippers:
            wish = Wish(
                part.id,
                source.id,
                Method.ROWS if is_bed else Method.POTS,
                line,
                timer="dial-ball" if stored else "dial-solenoid",
            )
            try:
                laid = proposed_manifold.lay_together(case.garden, [wish])
            except (PlanError, ValidationError):
                continue
            yield Remedy(
                say(
                    "cure-lay-lines",
                    "Lay lines for “{part}” from “{source}”, with a timer at their head.",
                    part=part.name,
                    source=source.name,
                ),
                laid,
            )


def lay_again(case: Case) -> Iterator[Remedy]:
    """The lines of a bed or pots laid anew, as close as they need to be."""
    part = case.part(Drinker)
    if not isinstance(part, Drinker):
        return
    found = zones.zones_to(case.garden, part.id)
    if not found:
        return
    zone = found[0]
    own = [pipe for pipe in zone.pipes if pipe.waters == part.id]
    rows = [pipe for pipe in own if laws.kind_of(pipe).has_outlets or pipe.dripper]
    if not rows:
        return
    is_bed = isinstance(part, Bed)
    kind = rows[0].dripper or rows[0].kind
    garden = case.garden
    feed = rows[0].begins_at
    for row in rows:
        garden = edits.remove(garden, row.id)
    header = next((p for p in zone.pipes if p.id == feed), None)
    start = feed
    if header is not None and not any(p.begins_at == header.id for p in garden.fed):
        start = header.begins_at
        garden = edits.remove(garden, header.id)
    if start is None:
        return
    porous = is_bed and laws.kind_of(rows[0]).family == "porous"
    method = (
        Method.POTS
        if not is_bed
        else Method.SOAKER
        if porous
        else Method.STEMS
        if rows[0].dripper
        else Method.ROWS
    )
    try:
        laid = proposed_manifold.lay_together(garden, [Wish(part.id, start, method, kind)])
    except (PlanError, ValidationError):
        return
    yield Remedy(
        say(
            "cure-lay-again",
            "Lay the lines of “{part}” anew, as close as its soil asks.",
            part=part.name,
        ),
        laid,
    )


def closer_outlets(case: Case) -> Iterator[Remedy]:
    """Outlets closer along the rows that are there."""
    part = case.part(Drinker)
    rows = [pipe for pipe in case.garden.pipes if part is not None and pipe.waters == part.id]
    for spacing in (0.3, 0.25, 0.2, 0.15, 0.1):
        closer = [
            ("pipes", pipe.model_copy(update={"spacing_m": spacing}))
            for pipe in rows
            if laws.kind_of(pipe).has_outlets and laws.spacing_of(pipe) > spacing + 1e-6
        ]
        if closer:
            yield Remedy(
                say(
                    "cure-closer-outlets",
                    "Take line with an outlet every {spacing} there.",
                    spacing=f"{spacing * 100:.0f} cm",
                ),
                edits.put_all(case.garden, closer),
            )


def drip_instead(case: Case) -> Iterator[Remedy]:
    """Drippers instead of what sprays."""
    pipe = case.part(Pipe)
    sprays = plumbing.drippers()
    own = [p for p in case.garden.pipes if p.dripper and sprays[p.dripper].sprays]
    if not isinstance(pipe, Pipe):
        return
    for dripper in ("low-2", "button-4", "button-2"):
        others = [("pipes", p.model_copy(update={"dripper": dripper})) for p in own]
        if others:
            yield Remedy(
                say(
                    "cure-drip-instead",
                    "Drippers instead of sprays: {kind}.",
                    kind=words(lowered(sprays[dripper].name)),
                ),
                edits.put_all(case.garden, others),
            )


def in_its_bed(case: Case) -> Iterator[Remedy]:
    """A line that waters nothing said to water what it lies in; or taken out."""
    pipe = case.part(Pipe)
    if not isinstance(pipe, Pipe):
        return
    middle = pipe.point_at(pipe.drawn_m / 2)
    dot = Dot(middle.x_m, middle.y_m)
    outlines: list[tuple[Drinker, Polygon]] = [
        (bed, shapes.of_bed(bed)) for bed in case.garden.beds
    ]
    outlines += [(pots, pot) for pots in case.garden.pots for pot in shapes.of_pots(pots)]
    for part in dict.fromkeys(part for part, outline in outlines if outline.covers(dot)):
        yield Remedy(
            say(
                "cure-waters-its-bed",
                "Say that “{pipe}” waters “{part}”.",
                pipe=pipe.name,
                part=part.name,
            ),
            edits.put(case.garden, "pipes", pipe.model_copy(update={"waters": part.id})),
        )
    yield Remedy(
        say("cure-take-out", "Take “{piece}” out.", piece=pipe.name),
        edits.remove(case.garden, pipe.id),
    )


FILTER = guarding.guard("filter", "cure-filter", "A screen filter in the head of “{zone}”.")
AIR_RELEASE = guarding.guard(
    "air-release", "cure-air-release-in-head", "An air release in the head of “{zone}”."
)

LAY_REMEDIES: dict[str, tuple[Remedies, ...]] = {
    "lay-no-water-reaches": (join,),
    "lay-nothing-laid": (lay_for_it,),
    "lay-nothing-waters": (lay_for_it,),
    "lay-pots-without": (lay_again,),
    "lay-no-end-opens": (end_that_opens,),
    "lay-line-waters-nothing": (in_its_bed,),
    "lay-washing-water-joined": (take_apart,),
    "lay-drum-lacks-pump": (drum_remedies.by_its_fall,),
    "lay-master-without-controller": (take_out,),
    "lay-sprays-stored-water": (drip_instead,),
    "lay-no-filter": (FILTER,),
    "lay-no-screen-before-float": (FILTER,),
    "lay-regulator-starved": (take_out,),
    "lay-timer-on-washing-water": (take_out,),
    "lay-timer-before-float": (take_out,),
    "lay-bed-wetted-in-part": (lay_again, closer_outlets),
    "lay-lines-end-short": (lay_again,),
    "lay-lines-run-past": (lay_again,),
    "lay-wetted-beside-bed": (lay_again,),
    "lay-water-too-fast": (push_remedies.wider_way,),
    "lay-tube-carries-too-much": (push_remedies.wider_way,),
    "lay-floats-without-air-release": (AIR_RELEASE,),
    "lay-tank-too-low-for-floats": (push_remedies.raise_store,),
}
