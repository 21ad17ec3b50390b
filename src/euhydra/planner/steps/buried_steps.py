"""Stores in the ground: the pit, and how they are set, joined and covered. Common practice."""

from collections.abc import Iterator

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.stores import Store
from euhydra.planner.steps.step import Step
from euhydra.planner.store import installing
from euhydra.planner.store.standing import full_mass

PIT_MINUTES, SET_MINUTES = 240.0, 120.0
"""For each, with a digger. [min] Common practice: half a day, and a quarter of one."""


def pit(store: Store) -> Step:
    """What it stands in."""
    sentences = (
        say(
            "steps-buried-weighs",
            "“{store}” weighs {mass} when full{each}: it wants ground that was never filled.",
            store=store.name,
            each=" — each of them" if store.count > 1 else "",
            mass=Amount(full_mass(store), "mass"),
        ),
        say(
            "steps-dig-deep-floor",
            "Dig {deep} deep, its floor level, firm and free of stones, on a hand's depth of sand.",
            deep=Amount(store.sunk_m, "tape"),
        ),
        say(
            "steps-pit-edges",
            "Two spades wider all round than the tank; what comes out is heaped as far from the edge as the pit is deep.",
        ),
    )
    return Step(
        f"stand-{store.id}",
        f"Pit for “{store.name}”",
        sentences,
        "digger with its driver, spade, tamper, long level, sand",
        PIT_MINUTES * store.count,
        (store.id,),
        ("digging", "weight"),
        ("stands",),
    )


def set_in(store: Store, special: Iterator[Sentence], *, is_linked: bool, is_fed: bool) -> Step:
    """Lowered, joined, and the pit filled in.

    Parameters
    ----------
    special : Of its overflow and its intake.
    """
    plan = installing.plan_installation(store)
    sentences = (
        say(
            "steps-buried-openings",
            "Use the openings that it has. What it lacks is drilled before it is lowered, measured up from its base: "
            "outlet at {tap}, overflow at {overflow}.",
            tap=Amount(plan.tap, "tape"),
            overflow=Amount(plan.overflow, "tape"),
        ),
        say(
            "steps-buried-lower",
            "Lower it by straps, with nobody under it or in the pit, and check that it is level.",
        ),
        *special,
        say(
            "steps-buried-join",
            "Join inlet, overflow and outlet while you can reach them; fine mesh over inlet and overflow.",
        ),
        *_filled_in(is_linked=is_linked),
        say("steps-buried-lid", "Bring its neck above the ground, and close and lock the lid."),
    )
    return Step(
        f"drill-{store.id}",
        f"Set “{store.name}” in its pit" + ("" if is_fed else " (no roof leads to it)"),
        sentences,
        "straps, hole saw, spade, tamper, long level",
        SET_MINUTES * store.count,
        (store.id,),
        ("digging", "drilling", "lids", "overflow"),
        ("stores", "gutters", "joints"),
    )


def _filled_in(*, is_linked: bool) -> Iterator[Sentence]:
    if is_linked:
        yield say("steps-buried-link-first", "Link it with the others before the pit is filled.")
    yield say(
        "steps-buried-fill",
        "Fill the pit in layers of a hand's depth, with water in the tank as high as they reach: empty it would be"
        " pressed in, or float up in wet ground.",
    )
