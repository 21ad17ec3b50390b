"""Stores, gutters and washing water: steps before any hose."""

from collections.abc import Iterator

from euhydra.core.cutting import Cut
from euhydra.garden import catalogue
from euhydra.garden.model import Garden
from euhydra.garden.quantities import System
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.store_groups import groups_of
from euhydra.garden.stores import Store
from euhydra.planner.catch import spouts
from euhydra.planner.parts import counting
from euhydra.planner.steps.step import Step
from euhydra.planner.store import installing
from euhydra.planner.store.standing import full_mass


def store_steps(garden: Garden, store: Store) -> Iterator[Step]:
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
    if store.sunk_m > 0:
        sentences.append(
            say(
                "steps-dig-deep-floor",
                "Dig {deep} deep, its floor level, firm and free of stones, on a hand's depth of sand.",
                deep=Amount(store.sunk_m, "tape"),
            )
        )
    elif cuts:
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
        ("digging", "weight")
        if store.sunk_m > 0
        else ("weight", "cutting")
        if cuts
        else ("weight",),
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
    fed = any(spout.leads_to == store.id for spout in garden.downspouts)
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
        say(
            "steps-set-stand-check",
            "Set it on its stand, check level again, fasten what is tall, close and lock the lid.",
        ),
        say(
            "steps-fill-hands-depth",
            "Fill a hand's depth above the tap and look for drips for ten minutes before you fill "
            "it up.",
        ),
    )
    return Step(
        f"drill-{store.id}",
        f"Drill and set “{store.name}”" + ("" if fed else " (no roof leads to it)"),
        sentences,
        "drill, hole saw, file, eye protection, level",
        60.0 * store.count,
        (store.id,),
        ("drilling", "lids", "overflow"),
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
                say(
                    "steps-join-bottom-linking",
                    "Join them at the bottom with the linking set, before any water is in them.",
                ),
                say(
                    "steps-their-tops-height",
                    "Their tops have to be at one height: the overflow of the lowest is the level of all. "
                    "{litres} in all.",
                    litres=Amount(group.capacity_m3, "volume"),
                ),
                say(
                    "steps-fill-hand-over",
                    "Fill to a hand over the link and see that both rise alike.",
                ),
            ),
            "drill, hole saw, file, eye protection, level",
            45,
            ids,
            ("drilling", "weight"),
        )


def gutters(garden: Garden) -> Iterator[Step]:
    stores = {store.id: store for store in garden.stores}
    for spout in garden.downspouts:
        store = stores.get(spout.leads_to or "")
        if store is None:
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
                fall=Amount(max(0.0, plan.fall), "tape"),
            ),
        ]
        if spout.guard != "none":
            sentences.append(
                say(
                    "steps-fit-against-leaves",
                    "Fit against leaves: {guard}.",
                    guard=guard.name.lower(),
                )
            )
        if flush > 0:
            sentences.append(
                say(
                    "steps-before-inlet-first",
                    "Before the inlet the first-flush tube, for {litres}, its drip cap open so far that it "
                    "is empty in a day or two.",
                    litres=Amount(flush, "volume"),
                )
            )
        yield Step(
            f"spout-{spout.id}",
            f"“{spout.name}” into “{store.name}”",
            tuple(sentences),
            "ladder, fine saw, drill, file, eye protection, gloves",
            60,
            (store.id, spout.roof_id),
            ("ladders", "drilling", "not-drinking"),
        )


def greywaters(garden: Garden) -> Iterator[Step]:
    for line in garden.greywaters:
        yield Step(
            f"grey-{line.id}",
            f"Washing water: “{line.name}”",
            (
                say(
                    "steps-ask-local-code",
                    "Ask your local code first, and have the diverter in the house drain fitted by a "
                    "licensed plumber.",
                ),
                say(
                    "steps-set-drum-outlet",
                    "Set the drum with its outlet {drop} above the bed.",
                    drop=Amount(line.drop_m, "tape"),
                ),
                say(
                    "steps-run-hose-steady",
                    "Run the hose, {long}, with a steady fall and no low place, to under the mulch.",
                    long=Amount(line.hose_m, "length"),
                ),
                say(
                    "steps-lint-bag-over",
                    "Lint bag over the inlet; label the line “washing water, do not drink”.",
                ),
            ),
            "tape, level, spade",
            120,
            (line.bed_id,),
            ("greywater",),
        )
