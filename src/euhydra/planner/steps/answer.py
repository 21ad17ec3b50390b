"""Every step of a garden in order, and how far the builder is."""

from collections.abc import Collection, Iterable, Iterator

from euhydra.garden.model import Garden
from euhydra.garden.sentences import listed, lowered, say
from euhydra.planner.answers import Mark, Verdict
from euhydra.planner.same import GARDENS_KEPT, Asked, by_itself, kept
from euhydra.planner.steps import taking
from euhydra.planner.steps.drum_steps import greywaters
from euhydra.planner.steps.ground_steps import grounds
from euhydra.planner.steps.gutter_steps import gutters
from euhydra.planner.steps.step import Stage, StageLeft, Step, StepsAnswer, work_time
from euhydra.planner.steps.store_steps import links, store_steps
from euhydra.planner.steps.zone_steps import zone_steps
from euhydra.planner.water import zones
from euhydra.planner.water.cut_lengths import cut_lengths


def answer_steps(garden: Garden, done: Collection[str]) -> StepsAnswer:
    """The steps, with those that are ticked off.

    Parameters
    ----------
    done : Keys of the steps that are done.
    """
    stages = tuple(_counted(stages_of(garden), done))
    begun = [found for found in stages if found.count]
    if not begun:
        return StepsAnswer(
            stages,
            None,
            Verdict(
                Mark.WORKS,
                say("steps-everything-built-labelled", "Everything is built, labelled and set."),
            ),
        )
    steps, left = sum(len(s.stage.steps) for s in stages), sum(s.count for s in stages)
    now = begun[0].stage.left(done)[0]
    summary = say(
        "steps-steps-done-next",
        "{done} of {steps} steps are done. Next: {next_step}.",
        done=steps - left,
        steps=steps,
        next_step=lowered(now.title),
    )
    rest = say(
        "steps-work-left-person",
        "About {time} of work left, for one person (common practice).",
        time=work_time(sum(s.minutes for s in stages)),
    )
    return StepsAnswer(stages, now, Verdict(Mark.BUT, summary, (rest,)))


def _counted(stages: Iterable[Stage], done: Collection[str]) -> Iterator[StageLeft]:
    first = 1
    for stage in stages:
        left = stage.left(done)
        yield StageLeft(stage, first, len(left), sum(step.minutes for step in left))
        first += len(stage.steps)


def steps_of(garden: Garden) -> tuple[Step, ...]:
    """Every step, in order."""
    return tuple(step for stage in stages_of(garden) for step in stage.steps)


def stages_of(garden: Garden) -> tuple[Stage, ...]:
    """Steps by what is done in one go, in the order that works: nothing is built on what is not there."""
    return _stages_of(by_itself(garden))


def count_of(garden: Garden) -> int:
    """How many steps there are; what each takes from the shopping list need not be known for it."""
    return sum(len(stage.steps) for stage in _without_goods(by_itself(garden)))


@kept(GARDENS_KEPT)
def _stages_of(same: Asked[Garden]) -> tuple[Stage, ...]:
    return taking.with_goods(same.what, _without_goods(same))


@kept(GARDENS_KEPT)
def _without_goods(same: Asked[Garden]) -> tuple[Stage, ...]:
    garden = same.what
    stores = [step for store in garden.stores for step in store_steps(garden, store)]
    found = [
        Stage("gather", "Before you begin", (_gather(garden),)),
        Stage("stores", "Stores and their stands", (*stores, *links(garden))),
        Stage("rain", "Rain from the roof", tuple(gutters(garden))),
        Stage("washing", "Washing water", tuple(greywaters(garden))),
        Stage("ground", "Wet ground", tuple(grounds(garden))),
        *_zones(garden),
        Stage("loose", "Not joined yet", tuple(_loose(garden))),
        Stage("finish", "First run and labels", tuple(_finish(garden))),
    ]
    return tuple(stage for stage in found if stage.steps)


def _zones(garden: Garden) -> Iterator[Stage]:
    """Zone by zone; what two share is built with the first."""
    built: set[str] = set()
    lengths = cut_lengths(garden)
    for zone in zones.zones_of(garden):
        yield Stage(zone.id, f"Water to “{zone.name}”", tuple(zone_steps(zone, lengths, built)))
        built |= {part.id for part in zone.way.parts}


def _loose(garden: Garden) -> Iterator[Step]:
    """What is drawn and bought, and in no zone."""
    joined = {part.id for zone in zones.zones_of(garden) for part in zone.way.parts}
    loose = [part for part in garden.fed if part.id not in joined]
    if loose:
        yield Step(
            "loose",
            "Pieces that are in no zone",
            (
                say(
                    "steps-loose-pieces",
                    "{names}: on the list, but no water comes to them or none leaves them. Join them on Lay, or "
                    "take them out there.",
                    names=listed([f"“{part.name}”" for part in loose]),
                ),
            ),
            "",
            10,
            tuple(part.id for part in loose),
        )


def _gather(garden: Garden) -> Step:
    sunk = any(store.sunk_m > 0 for store in garden.stores) or bool(garden.wet_grounds)
    sentences = [
        say(
            "steps-print-shopping-list",
            "Print the shopping list and the plan, tick what is there, buy the rest.",
        ),
        say(
            "steps-mark-stores-beds",
            "Mark stores, beds and lines with pegs and string, and walk the way of every hose.",
        ),
    ]
    if sunk:
        sentences.append(
            say(
                "steps-cables-pipes-marked",
                "Have cables and pipes marked before you dig; wait for the answer.",
            )
        )
    return Step(
        "gather",
        "Gather and mark out",
        tuple(sentences),
        "tape, pegs, string",
        60,
        (),
        ("digging",) if sunk else (),
    )


def _finish(garden: Garden) -> Iterator[Step]:
    if not zones.zones_of(garden):
        return
    everything = tuple(p.id for p in garden.pipes)
    yield Step(
        "first-run",
        "First run",
        (
            say(
                "steps-leak-test-everything",
                "Leak test with everything shut; flush with all ends open until it runs clear; close "
                "the ends in order; walk the lines.",
            ),
            say(
                "steps-page-first-run",
                "The page First run has the order, what should come out where, and keeps what you "
                "measured.",
            ),
        ),
        "bucket, cup, stopwatch",
        45,
        everything,
        ("not-drinking",),
    )
    yield Step(
        "labels",
        "Labels and settings",
        (
            say(
                "steps-print-labels-tie",
                "Print the labels and tie one to each hose and line, by its beginning.",
            ),
            say(
                "steps-set-timers-settings",
                "Set the timers by the settings card; tape the card inside the shed door.",
            ),
            say("steps-mark-tap-stored", "Mark every tap on stored water: not drinking water."),
        ),
        "pen, tape",
        20,
        (),
        ("not-drinking",),
    )
