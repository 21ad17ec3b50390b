"""Stores, gutters and washing water: steps before any hose."""

from collections.abc import Iterator

from euhydra.core.cutting import Cut
from euhydra.garden import catalogue
from euhydra.garden.model import Garden
from euhydra.garden.quantities import System
from euhydra.garden.roofs import Downspout
from euhydra.garden.sentences import Amount, Sentence, lowered, say
from euhydra.garden.sources import DrumOutlet
from euhydra.garden.store_groups import Group, group_of, groups_of
from euhydra.garden.stores import FLOAT_HANGS, Intake, Store
from euhydra.planner.catch import spouts, washing_week
from euhydra.planner.parts import counting
from euhydra.planner.steps import buried_steps
from euhydra.planner.steps.step import Step
from euhydra.planner.store import installing, linking, wet_ground
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
    yield _stand(store, garden.units)
    yield _drill(garden, store)


def _stand(store: Store, units: System) -> Step:
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
    plural = "s" if cut.count > 1 else ""
    return say(
        "steps-cut-pieces",
        "Cut {count} {section}{plural} of {length}.",
        count=cut.count,
        section=cut.section,
        plural=plural,
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


def gutters(garden: Garden) -> Iterator[Step]:
    stores = {store.id: store for store in garden.stores}
    for spout in garden.downspouts:
        store = stores.get(spout.leads_to or "")
        if store is None:
            if spout.leads_to in {other.id for other in garden.downspouts}:
                yield _branch(garden, spout)
            elif spout.restricted_m3_s is not None:
                yield _restrictor(spout)
            continue
        plan = installing.plan_installation(store)
        guard = catalogue.find(catalogue.leaf_guards(), spout.guard)
        flush = spouts.spouts_of(garden)[spout.id].flush_m3
        sentences = [
            say(
                "steps-level-over-rim",
                "Level over the rim of the store, mark it on the downspout, and {below} below that the "
                "middle of the diverter.",
                below=Amount(plan.below_rim, "tape"),
            ),
            say(
                "steps-cut-hole-take",
                "Cut the hole or take the piece out, fit the diverter, and let its hose fall {fall} to "
                "the inlet.",
                fall=Amount(plan.fall, "tape"),
            )
            if plan.fall >= installing.LEAST_FALL
            else say(
                "steps-hose-would-not-fall",
                "A diverter there would have no fall to an inlet beside the overflow: fit it, and lead its hose "
                "in through the lid; or drill the overflow {lower} lower and say so on Store.",
                lower=Amount(installing.LEAST_FALL - plan.fall, "tape"),
            ),
        ]
        if spout.guard != "none":
            sentences.append(
                say(
                    "steps-fit-against-leaves",
                    "Fit against leaves: {guard}.",
                    guard=lowered(guard.name),
                )
            )
        if flush > 0:
            sentences.append(
                say(
                    "steps-before-inlet-first",
                    "Before the inlet the first-flush tube: cut {long} of it, which holds {litres}, its drip "
                    "cap open so far that it is empty in a day or two.",
                    long=Amount(counting.flush_tube_m(flush), "tape"),
                    litres=Amount(flush, "volume"),
                )
            )
        yield Step(
            f"spout-{spout.id}",
            f"“{spout.name}” into “{store.name}”",
            tuple(sentences),
            "ladder, fine saw, drill, file, eye protection, gloves",
            60,
            (store.id, spout.roof_id, spout.id),
            ("ladders", "drilling", "not-drinking"),
            ("gutters",),
        )


def _restrictor(spout: Downspout) -> Step:
    """A downspout that no store takes, held back so that the ground has time."""
    return Step(
        f"spout-{spout.id}",
        f"Restrictor in “{spout.name}”",
        (
            say(
                "steps-restrictor",
                "Set the restrictor in at eye height, where it can be cleaned: it lets {flow} through. What more "
                "comes stands on a flat roof or runs over the gutter: see that this does no harm.",
                flow=Amount(spout.restricted_m3_s or 0.0, "flow"),
            ),
        ),
        "ladder, fine saw, file, gloves",
        30,
        (spout.roof_id, spout.id),
        ("ladders",),
        ("gutters",),
    )


def _branch(garden: Garden, spout: Downspout) -> Step:
    """A downspout that is led into another."""
    other = next(each for each in garden.downspouts if each.id == spout.leads_to)
    return Step(
        f"spout-{spout.id}",
        f"“{spout.name}” into “{other.name}”",
        (
            say(
                "steps-branch-falls",
                "Fit the branch so that the water falls from “{spout}” into “{other}” all the way.",
                spout=spout.name,
                other=other.name,
            ),
        ),
        "ladder, fine saw, file, eye protection, gloves",
        45,
        (spout.roof_id, other.roof_id, spout.id),
        ("ladders",),
        ("gutters",),
    )


def greywaters(garden: Garden) -> Iterator[Step]:
    """Diverter, drum and its open hose; lines that are drawn from a drum have steps of their own."""
    for line in garden.greywaters:
        bed = next((bed for bed in garden.beds if bed.id == line.bed_id), None)
        has_lines = washing_week.has_lines(garden, line)
        yield _stand(line.as_store, garden.units)
        sentences = [
            say(
                "steps-ask-local-code",
                "Ask your local code first, and have the diverter in the house drain fitted by a "
                "licensed plumber.",
            ),
            say(
                "steps-set-drum",
                "Set the drum where it stands for good, its outlet {outlet} above its bottom.",
                outlet=Amount(line.outlet_height_m, "tape"),
            )
            if line.outlet_height_m > 0
            else say(
                "steps-set-drum-low",
                "Set the drum where it stands for good, its outlet or its pump at the very bottom.",
            ),
            say(
                "steps-drum-inlet-overflow",
                "Lead the washing water in above its highest level, {depth}, so that none runs back; at that height "
                "an overflow back into the sewer, wider than the inlet, with a trap or a mesh against flies.",
                depth=Amount(line.drum_depth_m, "tape"),
            ),
        ]
        if line.outlet is DrumOutlet.PUMP:
            sentences.append(
                say(
                    "steps-drum-float",
                    "Set the pump's float so that it starts at {on} in the drum and stops at {off}.",
                    on=Amount(line.pump_on_m3, "volume"),
                    off=Amount(line.pump_off_m3, "volume"),
                )
            )
        if not has_lines and bed is not None:
            sentences.append(
                say(
                    "steps-run-hose-steady",
                    "Run the hose to “{bed}”, {long}, with a steady fall and no low place, to under the mulch.",
                    bed=bed.name,
                    long=Amount(line.hose_m, "length"),
                )
            )
        sentences.append(
            say(
                "steps-lint-bag-over",
                "Lint bag over the inlet; label the line “washing water, do not drink”.",
            )
        )
        yield Step(
            f"grey-{line.id}",
            f"Washing water: “{line.name}”",
            tuple(sentences),
            "tape, level, spade",
            120,
            (bed.id, line.id) if bed is not None and not has_lines else (line.id,),
            ("greywater",),
            ("greywater",),
        )


def grounds(garden: Garden) -> Iterator[Step]:
    """Trench, sump, pump and hose of every wet ground."""
    for ground in garden.wet_grounds:
        yield Step(
            f"ground-{ground.id}",
            f"Drain “{ground.name}”",
            (
                say(
                    "steps-trench-falls",
                    "Dig a trench for {long} of perforated pipe, its floor falling {drop} evenly to the sump; "
                    "bed the pipe in clean gravel, and gravel over it to a hand under the turf.",
                    long=Amount(ground.pipe_m, "length"),
                    drop=Amount(wet_ground.laid_drop(ground), "tape"),
                ),
                say(
                    "steps-sump-set",
                    "Set the sump {across} wide at its lower end, so deep that the float can travel {travel} under "
                    "the pipe, on gravel, its lid at the ground.",
                    across=Amount(ground.sump_across_m, "tape"),
                    travel=Amount(ground.sump_depth_m, "tape"),
                ),
                say(
                    "steps-drain-hose-laid",
                    "Stand the pump in it on a brick, lead {hose} of hose to where the water may lawfully go, and "
                    "see that it cannot run back.",
                    hose=Amount(ground.hose_m, "length"),
                ),
            ),
            "spade, level, barrow",
            60.0 + 45 * ground.pipe_m,
            (ground.id,),
            ("digging", "electricity"),
            ("ground", "greywater"),
        )
