"""Every step of a garden in order, and how far the builder is."""

from collections.abc import Collection, Iterator

from euhydra.garden.model import Garden
from euhydra.planner import zones
from euhydra.planner.answers import Mark, Sentence, Verdict, say
from euhydra.planner.steps.along import zone_steps
from euhydra.planner.steps.ground import greywaters, gutters, links, store_steps
from euhydra.planner.steps.step import Step, StepsAnswer


def answer_steps(garden: Garden, done: Collection[str]) -> StepsAnswer:
    """The steps, with those that are ticked off.

    Parameters
    ----------
    done : Keys of the steps that are done.
    """
    steps = steps_of(garden)
    left = [step for step in steps if step.key not in done]
    if not left:
        return StepsAnswer(
            steps, None, Verdict(Mark.WORKS, Sentence("Everything is built, labelled and set."))
        )
    minutes = sum(step.minutes for step in left)
    summary = say(
        f"{len(steps) - len(left)} of {len(steps)} steps are done. Next: {_lower(left[0].title)}.",
    )
    rest = say(
        "About {time} of work left, for one person (common practice).", time=(minutes * 60, "hours")
    )
    return StepsAnswer(steps, left[0], Verdict(Mark.BUT, summary, (rest,)))


def _lower(title: str) -> str:
    return title[0].lower() + title[1:]


def steps_of(garden: Garden) -> tuple[Step, ...]:
    """Every step, in order."""
    found = [_gather(garden)]
    for store in garden.stores:
        found += store_steps(garden, store)
    found += links(garden)
    found += gutters(garden)
    found += greywaters(garden)
    for zone in zones.zones_of(garden):
        found += zone_steps(zone)
    found += _finish(garden)
    return tuple(found)


def _gather(garden: Garden) -> Step:
    sunk = any(store.sunk_m > 0 for store in garden.stores) or bool(garden.wet_grounds)
    sentences = [
        Sentence("Print the shopping list and the plan, tick what is there, buy the rest."),
        Sentence(
            "Mark stores, beds and lines with pegs and string, and walk the way of every hose."
        ),
    ]
    if sunk:
        sentences.append(
            Sentence("Have cables and pipes marked before you dig; wait for the answer.")
        )
    return Step(
        "gather", "Gather and mark out", tuple(sentences), "tape, pegs, string", 60, (),
        ("digging",) if sunk else (),
    )  # fmt: skip


def _finish(garden: Garden) -> Iterator[Step]:
    if not zones.zones_of(garden):
        return
    everything = tuple(p.id for p in garden.pipes)
    yield Step(
        "first-run", "First run",
        (
            Sentence("Leak test with everything shut; flush with all ends open until it runs clear; close the ends in order; walk the lines."),
            Sentence("The page First run has the order, what should come out where, and keeps what you measured."),
        ),
        "bucket, cup, stopwatch", 45, everything, ("not-drinking",),
    )  # fmt: skip
    yield Step(
        "labels", "Labels and settings",
        (
            Sentence("Print the labels and tie one to each hose and line, by its beginning."),
            Sentence("Set the timers by the settings card; tape the card inside the shed door."),
            Sentence("Mark every tap on stored water: not drinking water."),
        ),
        "pen, tape", 20, (), ("not-drinking",),
    )  # fmt: skip
