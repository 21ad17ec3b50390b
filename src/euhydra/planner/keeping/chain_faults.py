"""What can be wrong with planters behind a float: each cause put into the chain and solved."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from euhydra.garden.logbook import LogEntry
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.keeping.causes import Cause, CauseKind, Pattern, cause_kinds
from euhydra.planner.keeping.symptoms import CHAIN_SYMPTOMS
from euhydra.planner.push.float_chain import FloatChain
from euhydra.planner.push.planter_chain import ChainLevels, PlanterChain

ROOTS = 0.9
"""Share of the tubes' area that roots take in the trial. [-] Our choice: plainly felt."""

CLOGGED = 0.002
"""Share of its usual flow that a clogged screen lets through in the trial. [-] Our choice: drops."""

LEAK = 20.0 * 1e-3 / 3600
"""Leak in the trial. [m³ s⁻¹] Our choice: a drip that runs."""

RUNS_OVER = 1.5
"""Depth over the foot, against the usual, at which an overflow runs. [-]"""

UNSOLVED = {
    "chain-runs-over": ("float-open",),
    "chain-green": ("algae",),
    "chain-tops-dry": ("wick",),
}
"""Causes that no level shows, by what is seen."""


def chain_causes(
    found: FloatChain, symptom_id: str, log: Sequence[LogEntry]
) -> tuple[list[Cause], list[Cause], Pattern | None]:
    """Causes that fit what is seen, the likeliest first; those that do not; what was measured.

    Parameters
    ----------
    log : Oldest first; the last level in the box tells causes apart.
    """
    chain = found.chain
    draw = chain.mean_draw
    usual = chain.levels(draw, 0.0)
    fits, measured = CHAIN_SYMPTOMS[symptom_id].fits, _measured(chain, usual, log)
    likely: list[Cause] = []
    unlikely: list[Cause] = []
    for kind, levels, whole in _trials(chain, draw):
        pattern = _pattern(chain, usual, levels, whole)
        cause = Cause(kind, pattern, _said(chain, levels))
        (likely if fits(pattern) else unlikely).append(cause)
    if measured is None:
        likely.sort(key=lambda cause: cause.kind.order)
    else:
        likely.sort(key=lambda cause: cause.pattern.distance(measured) if cause.pattern else 9.0)
    by_hand = say("keeping-look-shows", "No sum shows it: look.")
    unsolved = (cause_kinds()[name] for name in UNSOLVED.get(symptom_id, ()))
    likely += [Cause(kind, None, by_hand) for kind in unsolved]
    return likely, unlikely, measured


def _trials(chain: PlanterChain, draw: float) -> Iterator[tuple[CauseKind, ChainLevels, float]]:
    """A cause, the levels with it at a mean hour, and what flows against the usual."""
    kinds = cause_kinds()
    if not chain.is_trough and chain.pots.count > 1:
        yield kinds["roots"], chain.levels(draw, ROOTS), 1.0
    starved = replace(chain, valve_share=CLOGGED)
    yield kinds["screen"], starved.levels(draw, 0.0), CLOGGED
    empty = ChainLevels(draw, None, (), ())
    if chain.zone.group is not None:
        yield kinds["empty-store"], empty, 0.0
    yield kinds["float-shut"], empty, 0.0
    more = draw + LEAK / chain.pots.count
    yield kinds["box-leak"], chain.levels(more, 0.0), more / draw if draw > 0 else RUNS_OVER
    hot = chain.peak_draw
    yield kinds["thirst"], chain.levels(hot, 0.0), hot / draw if draw > 0 else 1.0


def _pattern(chain: PlanterChain, usual: ChainLevels, now: ChainLevels, whole: float) -> Pattern:
    """Depth over the foot, in the box and in the last planter, as shares of the usual. [-]"""
    if now.box is None:
        return Pattern(whole, 0.0, 0.0)
    return Pattern(
        whole,
        _share(chain, usual.box, now.box),
        _share(chain, usual.levels[-1] if usual.levels else None, now.levels[-1]),
    )


def _share(chain: PlanterChain, usual: float | None, now: float) -> float:
    foot = chain.pots.foot_m
    over = (usual if usual is not None else chain.pots.set_level_m) - foot
    return max(0.0, now - foot) / over if over > 0 else 0.0


def _said(chain: PlanterChain, now: ChainLevels) -> Sentence:
    if now.box is None:
        return say("keeping-box-falls-dry", "Then the box falls dry, and all of them after it.")
    if chain.is_trough:
        return say(
            "keeping-trough-stands",
            "Then the trough stands at {box}.",
            box=Amount(max(now.box, 0.0), "height"),
        )
    return say(
        "keeping-chain-stands",
        "Then the box stands at {box} and the last one at {last}.",
        box=Amount(max(now.box, 0.0), "height"),
        last=Amount(max(now.levels[-1], 0.0), "height"),
    )


def _measured(chain: PlanterChain, usual: ChainLevels, log: Sequence[LogEntry]) -> Pattern | None:
    """The last level read at the float."""
    mine = [e for e in log if e.kind == "level" and e.part_id == chain.pots.id]
    if not mine or mine[-1].amounts[0] is None:
        return None
    return Pattern(float("nan"), _share(chain, usual.box, mine[-1].amounts[0]), float("nan"))
