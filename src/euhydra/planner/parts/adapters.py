"""How pieces, sources and tubes hold on to each other: threads, barbs, adapters, washers."""

from collections.abc import Iterator
from dataclasses import dataclass

from euhydra.core.threads import Seal, seal_between
from euhydra.garden import catalogue, plumbing
from euhydra.garden import goods as kinds
from euhydra.garden.goods import Adapter, End, Grip
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.pipes import Fitting, Piece, Pipe
from euhydra.garden.sentences import Sentence, say, words
from euhydra.garden.sources import Greywater, Tap
from euhydra.garden.stores import Store
from euhydra.planner.parts import uses
from euhydra.planner.parts.uses import Good, Use
from euhydra.planner.same import GARDENS_KEPT, Asked, by_itself, kept
from euhydra.planner.water import laws

MOST_ADAPTERS = 3
"""Longest chain of adapters between two ends that is sought."""


@dataclass(frozen=True)
class Joint:
    """Two parts, one behind the other, and what goes between; `fault` where nothing fits."""

    before: Part
    after: Part
    uses: tuple[Use, ...]
    seal: Seal | None
    fault: Sentence | None = None

    @property
    def adapters(self) -> tuple[Use, ...]:
        """What goes between, seals left out."""
        return tuple(use for use in self.uses if use.good.key != "washer")


def joints(garden: Garden) -> tuple[Joint, ...]:
    """Every place where a piece or a pipe is held by a source or a piece, or a piece by a pipe."""
    return _joints_of(by_itself(garden))


@kept(GARDENS_KEPT)
def _joints_of(same: Asked[Garden]) -> tuple[Joint, ...]:
    return tuple(_joints(same.what))


def _joints(garden: Garden) -> Iterator[Joint]:
    parts: dict[str, Part] = {part.id: part for part in garden.joinable}
    for part in garden.joinable:
        if isinstance(part, Pipe) and part.ends_at is not None:
            held = parts[part.ends_at]
            if not isinstance(held, Pipe):
                yield _join(garden, part, held, out_of(garden, part), out_of(garden, held))
        if not isinstance(part, Piece | Pipe) or part.begins_at is None:
            continue
        before = parts[part.begins_at]
        if isinstance(before, Pipe) and isinstance(part, Pipe):
            continue  # tubes meet in tees and couplings: see ``meetings``
        yield _join(garden, before, part, out_of(garden, before), into(garden, part))


def _join(garden: Garden, before: Part, after: Part, given: End, wanted: End) -> Joint:
    seal, is_held = _hold(given, wanted)
    if is_held:
        return Joint(before, after, tuple(_seals(seal, after.id)), seal)
    chain = _chain(given, wanted, garden.place.hose_thread)
    if chain is None:
        return Joint(
            before,
            after,
            (),
            None,
            say(
                "parts-nothing-joins",
                "Nothing sold here joins “{before}” ({given}) with “{after}” ({wanted}): "
                "check the thread of the tap, or ask for a piece made for both.",
                before=before.name,
                given=words(_said(given)),
                after=after.name,
                wanted=words(_said(wanted)),
            ),
        )
    uses, end, last = [], given, None
    for good, one, other in chain:
        last = _hold(end, one)[0]
        uses += [Use(good, 1, after.id), *_seals(last, after.id)]
        end = other
    seal = _hold(end, wanted)[0]
    return Joint(before, after, (*uses, *_seals(seal, after.id)), seal or last)


def _seals(seal: Seal | None, where: str) -> list[Use]:
    return [Use(uses.plain("washer"), 1, where)] if seal is Seal.WASHER else []


def out_of(garden: Garden, part: Part) -> End:
    """The end that a part offers to what follows it."""
    hose = garden.place.hose_thread
    if isinstance(part, Pipe):
        return tube_end(part)
    if isinstance(part, Tap):
        return End(Grip.MALE, part.thread or hose)
    if isinstance(part, Greywater):
        return End(Grip.MALE, hose)
    if isinstance(part, Store):
        usual = catalogue.find(catalogue.store_kinds(), part.kind).outlet_thread
        return End(Grip.MALE, part.thread or usual or hose)
    if isinstance(part, Fitting):
        kind = catalogue.find(plumbing.fitting_kinds(), part.kind)
        return _fitting_end(garden, part, kind.thread_out)
    return End(Grip.MALE, hose)  # timers and pumps


def into(garden: Garden, part: Part) -> End:
    """The end that a part turns to what feeds it."""
    if isinstance(part, Pipe):
        return tube_end(part)
    if isinstance(part, Fitting):
        kind = catalogue.find(plumbing.fitting_kinds(), part.kind)
        return _fitting_end(garden, part, kind.thread_in)
    return End(Grip.FEMALE, garden.place.hose_thread)


def tube_end(pipe: Pipe) -> End:
    """The open end of a tube."""
    return End(Grip.TUBE, uses.size_key(laws.bore_of(pipe)))


def _fitting_end(garden: Garden, fitting: Fitting, told: str) -> End:
    if told.startswith(("male", "female")):
        return End(Grip(told.split()[0]), garden.place.hose_thread)
    return End(Grip.BARB, _bore_beside(garden, fitting))


def _bore_beside(garden: Garden, fitting: Fitting) -> str:
    """Inside width of the tube that a barbed piece sits in."""
    beside = [p for p in garden.pipes if p.begins_at == fitting.id or p.id == fitting.begins_at]
    bore = laws.bore_of(beside[0]) if beside else laws.USUAL_BORE
    return uses.size_key(bore)


def _hold(one: End, other: End) -> tuple[Seal | None, bool]:
    """The seal between two ends, and whether they hold at all."""
    holds = {one.hold, other.hold}
    if holds == {Grip.MALE, Grip.FEMALE}:
        male, female = (one, other) if one.hold is Grip.MALE else (other, one)
        forms = kinds.threads()
        seal = seal_between(forms[male.size].form, forms[female.size].form)
        return seal, seal is not None
    if holds == {Grip.BARB} and one.size == other.size:
        return None, True  # a short piece of tube joins two barbs
    return None, holds == {Grip.BARB, Grip.TUBE} and one.size == other.size


Link = tuple[Good, End, End]


def _chain(given: End, wanted: End, hose: str) -> list[Link] | None:
    """The shortest chain of adapters from one end to another."""
    links = _links(given, wanted, hose)
    paths: list[list[Link]] = [[]]
    for _ in range(MOST_ADAPTERS):
        longer = []
        for path in paths:
            end = path[-1][2] if path else given
            for link in links:
                if link not in path and _hold(end, link[1])[1]:
                    if _hold(link[2], wanted)[1]:
                        return [*path, link]
                    longer.append([*path, link])
        paths = longer
    return None


def _links(given: End, wanted: End, hose: str) -> list[Link]:
    found: list[Link] = []
    for adapter in kinds.adapters().values():
        good = _adapter_good(adapter)
        found += [(good, adapter.one, adapter.other), (good, adapter.other, adapter.one)]
    for end in (given, wanted):
        if end.hold in (Grip.TUBE, Grip.BARB):
            for hold in (Grip.FEMALE, Grip.MALE):
                found += _barbed(End(hold, hose), end)
    if given.hold is Grip.BARB and wanted.hold in (Grip.TUBE, Grip.BARB):
        found += _reducing(given, wanted)
    return found


def _barbed(thread: End, tube: End) -> list[Link]:
    """The adapter from a hose thread to a tube, either way round."""
    name = f"{{{tube.size} mm|bore}} tube"
    plain = uses.plain("barb-thread")
    good = Good(
        f"barb-{thread.hold}-{thread.size}-{tube.size}",
        f"Adapter: {thread.hold} {kinds.threads()[thread.size].name} to {name}",
        plain.group,
        plain.unit,
        plain.pack,
        plain.price,
    )
    barb = End(Grip.BARB, tube.size)
    return [(good, thread, barb), (good, barb, thread)]


def _reducing(barb: End, tube: End) -> list[Link]:
    """A coupling between two widths, on a short piece of the barb's own tube."""
    good = uses.sized("coupling", [float(barb.size) / 1000, float(tube.size) / 1000])
    return [(good, End(Grip.BARB, barb.size), End(Grip.BARB, tube.size))]


def _adapter_good(adapter: Adapter) -> Good:
    plain = uses.plain("barb-thread")
    return Good(f"adapter-{adapter.id}", adapter.name, plain.group, plain.unit, 1, adapter.price)


def _said(end: End) -> str:
    if end.hold in (Grip.MALE, Grip.FEMALE):
        return f"{end.hold} {kinds.threads()[end.size].name}"
    return f"{end.hold} of {{{end.size} mm|bore}}"
