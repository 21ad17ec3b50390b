"""Stores: their stands, their holes, and how they are linked."""

from collections.abc import Iterator

from euhydra.core.cutting import Cut
from euhydra.garden.model import Garden
from euhydra.garden.quantities import System
from euhydra.garden.sentences import Amount, Sentence, counted, say
from euhydra.garden.store_groups import Group, group_of, groups_of
from euhydra.garden.stores import FLOAT_HANGS, Intake, Store
from euhydra.planner.parts import counting
from euhydra.planner.steps import buried_steps
from euhydra.planner.steps.step import Step
from euhydra.planner.store import installing, linking
from euhydra.planner.store.standing import full_mass

LEVEL_ENOUGH = 0.01
"""Difference of the overflows of linked stores that does not matter. [m] Our choice."""


def store_steps(garden: Garden, store: Store) -> Iterator[Step]:
    """Its stand, and its holes; or its pit, and how it is set there."""
    if store.sunk_m > 0:
        yield buried_steps.pit(store)
        yield buried_steps.set_in(
            store,
            _overflow_said(garden, store),
            is_linked=_is_linked(garden, store),
            is_fed=_is_fed(garden, store),
        )
        return
    yield stand(store, garden.units)
    yield _drill(garden, store)


def stand(store: Store, units: System) -> Step:
    """What a store, or a drum, stands on."""
    sentences = [
        say(
            "steps-weighs-when-full",
            "“{store}” weighs {mass} when full{each}.",
            store=store.name,
            each=" — each of them" if store.count > 1 else "",
            mass=Amount(full_mass(store), "mass"),
        )
    ]
    cuts = counting.cuts_of(store, units)
    if cuts:
        sentences.append(
            say(
                "steps-build-stand-high",
                "Build a stand {high} high, level both ways, each post on a slab bedded in sand.",
                high=Amount(store.stand_m, "tape"),
            )
        )
        sentences += [_cut_said(cut) for cut in cuts.cuts]
        sentences.append(
            say(
                "steps-rails-go-outside",
                "Rails go outside the posts, flush with their tops, and again near the ground; boards "
                "across them, {screws} screws in all.",
                screws=Amount(float(cuts.screws), "plain"),
            )
        )
    elif store.stand_m > 0:
        sentences.append(
            say(
                "steps-lay-solid-blocks",
                "Lay solid blocks in four columns to {high}, on firm ground, none of them loose.",
                high=Amount(store.stand_m, "tape"),
            )
        )
    else:
        sentences.append(
            say(
                "steps-take-turf-tamp",
                "Take off turf, tamp the ground firm, and bed slabs level both ways.",
            )
        )
    minutes = 150.0 if cuts else 60.0
    return Step(
        f"stand-{store.id}",
        f"Ground and stand for “{store.name}”",
        tuple(sentences),
        "spade, tamper, long level, saw, screwdriver" if cuts else "spade, tamper, long level",
        minutes * store.count,
        (store.id,),
        ("weight", "cutting") if cuts else ("weight",),
        ("stands",),
    )


def _cut_said(cut: Cut) -> Sentence:
    return say(
        "steps-cut-pieces",
        "Cut {pieces} of {length}.",
        pieces=counted(cut.count, cut.section),
        length=Amount(cut.length, "tape"),
    )


def _drill(garden: Garden, store: Store) -> Step:
    plan = installing.plan_installation(store)
    sentences = (
        say(
            "steps-mark-measured-base",
            "Mark, measured up from its base: tap at {tap}, overflow at {overflow}.",
            tap=Amount(plan.tap, "tape"),
            overflow=Amount(plan.overflow, "tape"),
        ),
        say(
            "steps-drill-outside-slowly",
            "Drill from outside, slowly; take the edge off; seal on the inside, nut hand-tight and "
            "a half turn.",
        ),
        say(
            "steps-lead-overflow-go",
            "Lead the overflow where it may go before any water comes; fine mesh over it and over "
            "the inlet.",
        ),
        *_overflow_said(garden, store),
        say(
            "steps-set-stand-check",
            "Set it on its stand, check level again, fasten what is tall, close and lock the lid.",
        ),
        say(
            "steps-no-water-before-link",
            "Let no water in yet: it is linked with others first.",
        )
        if _is_linked(garden, store)
        else say(
            "steps-fill-hands-depth",
            "Fill a hand's depth above the tap and look for drips for ten minutes before you fill "
            "it up.",
        ),
    )
    return Step(
        f"drill-{store.id}",
        f"Drill and set “{store.name}”"
        + ("" if _is_fed(garden, store) else " (no roof leads to it)"),
        sentences,
        "drill, hole saw, file, eye protection, level",
        60.0 * store.count,
        (store.id,),
        ("drilling", "lids", "overflow"),
        ("stores", "gutters", "joints"),
    )


def _overflow_said(garden: Garden, store: Store) -> Iterator[Sentence]:
    """The pipe to a lower store, and an intake that floats, where there are such."""
    other = next((each for each in garden.stores if each.id == store.overflow_to), None)
    if other is not None:
        yield say(
            "steps-overflow-pipe",
            "From its overflow cut {length} of pipe to the inlet of “{other}”, falling all the way, under that "
            "one's rim.",
            length=Amount(linking.overflow_pipe_m(garden, store), "length"),
            other=other.name,
        )
    if store.intake is Intake.FLOATING:
        yield say(
            "steps-float-intake",
            "Screw the floating intake to its tap from within, the strainer {hangs} under its float; it must swing "
            "freely from full to empty.",
            hangs=Amount(FLOAT_HANGS, "tape"),
        )


def _is_fed(garden: Garden, store: Store) -> bool:
    return any(spout.leads_to == store.id for spout in garden.downspouts)


def _is_linked(garden: Garden, store: Store) -> bool:
    return group_of(garden.stores, store.id).count > 1


def _tops_said(group: Group) -> Sentence:
    """What their heights make of the level that all share, and how to even them."""
    lowest = min(group.stores, key=lambda store: store.overflow_m)
    highest = max(group.stores, key=lambda store: store.overflow_m)
    litres = Amount(group.capacity_m3, "volume")
    apart = highest.overflow_m - lowest.overflow_m
    if apart < LEVEL_ENOUGH:
        return say(
            "steps-their-tops-height",
            "Their overflows stand at one height, as they have to. {litres} in all.",
            litres=litres,
        )
    return say(
        "steps-their-tops-differ",
        "The overflow of “{lowest}” stands {apart} lower than that of “{highest}”, and is the level of all: "
        "{litres} in all so. A stand {apart} higher under “{lowest}” would fill them all.",
        lowest=lowest.name,
        highest=highest.name,
        apart=Amount(apart, "tape"),
        litres=litres,
    )


def _links_said(garden: Garden, group: Group) -> Iterator[Sentence]:
    """How they are joined: at the bottom before any water, by siphons once there is some."""
    own = [link for link in linking.links_of(garden) if link.store in group.stores]
    if any(not link.is_siphon for link in own):
        yield say(
            "steps-join-bottom-linking",
            "Join them at the bottom with the linking set, before any water is in them.",
        )
    for link in own:
        if link.is_siphon:
            yield say(
                "steps-siphon",
                "Siphon from “{store}” to “{other}”: cut {hose}, sink it in water until no air is in it, and hang an "
                "end in a cup at the bottom of each, the cups full. So it stays primed when the water sinks below "
                "its ends, {foot} over the bottom; it breaks if air gets in at a joint or an end leaves its cup.",
                store=link.store.name,
                other=link.other.name if link.other is not link.store else "the next",
                hose=Amount(link.hose_m, "length"),
                foot=Amount(linking.FOOT, "tape"),
            )


def links(garden: Garden) -> Iterator[Step]:
    """Stores that share one level."""
    for group in groups_of(garden.stores):
        if group.count < 2:
            continue
        ids = tuple(store.id for store in group.stores)
        yield Step(
            f"link-{group.stores[0].id}",
            f"Link “{group.name}”",
            (
                *_links_said(garden, group),
                _tops_said(group),
                say(
                    "steps-fill-hand-over",
                    "Fill to a hand over link and taps, see that all rise alike, and look for drips for ten "
                    "minutes before you fill them up.",
                ),
            ),
            "drill, hole saw, file, eye protection, level",
            45,
            ids,
            ("drilling", "weight"),
            ("link-set", "siphon-hose", "siphon-cup"),
        )
