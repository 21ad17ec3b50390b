"""Gutters and downspouts: diverter, first flush, branch, restrictor."""

from collections.abc import Iterator

from euhydra.garden import catalogue
from euhydra.garden.model import Garden
from euhydra.garden.roofs import Downspout
from euhydra.garden.sentences import Amount, Sentence, lowered, say
from euhydra.garden.stores import Store
from euhydra.planner.catch import spouts
from euhydra.planner.parts import counting
from euhydra.planner.steps.step import Step
from euhydra.planner.store import installing, linking

UNDERGROUND_FALL = 0.01
"""Of a pipe that carries rain under the ground. [-] Common practice."""

DIVERTER_MINUTES, UNDERGROUND_MINUTES = 60, 180
"""For each downspout. [min] Common practice."""


def gutters(garden: Garden) -> Iterator[Step]:
    """Every downspout that something is fitted to."""
    stores = {store.id: store for store in garden.stores}
    for spout in garden.downspouts:
        store = stores.get(spout.leads_to or "")
        if store is None:
            if spout.leads_to in {other.id for other in garden.downspouts}:
                yield _branch(garden, spout)
            elif spout.restricted_m3_s is not None:
                yield _restrictor(spout)
            continue
        guard = catalogue.find(catalogue.leaf_guards(), spout.guard)
        flush = spouts.spouts_of(garden)[spout.id].flush_m3
        buried = store.is_below_ground
        sentences = list(_underground(garden, spout, store) if buried else _diverted(store))
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
            "spade, level, fine saw, gloves"
            if buried
            else "ladder, fine saw, drill, file, eye protection, gloves",
            UNDERGROUND_MINUTES if buried else DIVERTER_MINUTES,
            (store.id, spout.roof_id, spout.id),
            ("digging", "not-drinking") if buried else ("ladders", "drilling", "not-drinking"),
            ("gutters",),
        )


def _diverted(store: Store) -> Iterator[Sentence]:
    """From a diverter in the downspout over the store's rim."""
    plan = installing.plan_installation(store)
    yield say(
        "steps-level-over-rim",
        "Level over the rim of the store, mark it on the downspout, and {below} below that the "
        "middle of the diverter.",
        below=Amount(plan.below_rim, "tape"),
    )
    if plan.fall >= installing.LEAST_FALL:
        yield say(
            "steps-cut-hole-take",
            "Cut the hole or take the piece out, fit the diverter, and let its hose fall {fall} to "
            "the inlet.",
            fall=Amount(plan.fall, "tape"),
        )
    else:
        yield say(
            "steps-hose-would-not-fall",
            "A diverter there would have no fall to an inlet beside the overflow: fit it, and lead its hose "
            "in through the lid; or drill the overflow {lower} lower and say so on Store.",
            lower=Amount(installing.LEAST_FALL - plan.fall, "tape"),
        )


def _underground(garden: Garden, spout: Downspout, store: Store) -> Iterator[Sentence]:
    """From the downspout's foot under the ground. Common practice: a fall of one in a hundred."""
    length = linking.spout_pipe_m(garden, spout, store)
    yield say(
        "steps-spout-trap",
        "At the foot of the downspout set a leaf trap whose lid you can lift, and clean it when leaves fall.",
    )
    yield say(
        "steps-spout-underground",
        "From it lead about {length} of whole pipe, as wide as the downspout, to the inlet of the tank: it falls "
        "{fall} over that at least, and lies under where the ground freezes.",
        length=Amount(length, "length"),
        fall=Amount(length * UNDERGROUND_FALL, "tape"),
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
