"""Cures tried: each remedy is made, the whole chain worked out again, and offered only if it cures."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import islice
from operator import attrgetter

from pydantic import ValidationError

from euhydra.core.network import NetworkError
from euhydra.garden import changes
from euhydra.garden.changes import Change
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.chain import Chain, begin_chain
from euhydra.planner.judgement.answer import Judgement, judge, shows_before_timers
from euhydra.planner.judgement.catch_remedies import CATCH_REMEDIES
from euhydra.planner.judgement.finding import Finding, Severity
from euhydra.planner.judgement.ground_remedies import GROUND_REMEDIES
from euhydra.planner.judgement.hand_remedies import HAND_REMEDIES
from euhydra.planner.judgement.lay_remedies import LAY_REMEDIES
from euhydra.planner.judgement.need_remedies import NEED_REMEDIES
from euhydra.planner.judgement.push_remedies import PUSH_REMEDIES
from euhydra.planner.judgement.remedy import Case, Remedies, Remedy
from euhydra.planner.judgement.store_remedies import STORE_REMEDIES
from euhydra.planner.judgement.supply import OF_THIRST
from euhydra.planner.judgement.thirst_findings import DRYING
from euhydra.planner.judgement.time_remedies import TIME_REMEDIES
from euhydra.planner.push.answer import PushAnswer
from euhydra.planner.season.fared import lived_of
from euhydra.planner.time.answer import TimeAnswer

GREENER = 0.9
"""Times as often dry as before from which on plants are better off. [-] Our choice."""

MOST_OFFERED = 3
"""Cures of one finding that are offered. Our choice: the practitioner's first, and two others."""

MOST_TRIED = 10
"""Remedies of one sort that are tried."""

MOST_FIRST = 3
"""Remedies of one sort that are tried together with others."""

REMEDIES: Mapping[str, tuple[Remedies, ...]] = {
    **CATCH_REMEDIES,
    **STORE_REMEDIES,
    **GROUND_REMEDIES,
    **NEED_REMEDIES,
    **PUSH_REMEDIES,
    **LAY_REMEDIES,
    **TIME_REMEDIES,
    **HAND_REMEDIES,
}
"""By the code of the finding, the practitioner's first."""


@dataclass(frozen=True)
class TriedCure:
    """A change that cures, as edits, and what it promises.

    promises : Figures of the finding's station, by name, before and after.
    """

    change: Sentence
    edits: tuple[Change, ...]
    promises: Mapping[str, tuple[Amount | None, Amount]]

    @property
    def outcome(self) -> Sentence:
        """What it brings, in the figures of its station."""
        for name, (code, template) in OUTCOMES.items():
            was, now = self.promises.get(name, (None, None))
            if now is not None and (was is None or was.value != now.value):
                return say(code, template, value=now)
        return say("cure-then-gone", "Then it is mended.")


@dataclass(frozen=True)
class CureTrial:
    """A cure, and the garden with it: years of days, which whoever keeps cures need not keep."""

    cure: TriedCure
    after: Judgement


OUTCOMES = {
    "met": ("cure-then-met", "Then the store gives {value} of what is asked."),
    "caught_a_year": ("cure-then-caught", "Then the roofs bring {value} a year."),
    "weakest": ("cure-then-weakest", "Then the weakest outlet gets {value} of its due."),
    "flow": ("cure-then-flow", "Then {value} come."),
    "too_dry": ("cure-then-dry", "Then the driest bed is too dry on {value} of its days."),
}
"""What is said of the figures of a station: the first that changes."""

FIGURE_NAMES = {
    "met": "Of what is asked, given",
    "caught_a_year": "Caught a year",
    "weakest": "Weakest outlet, of its due",
    "flow": "Whole zone",
    "too_dry": "Driest bed, days too dry",
}
"""Names of the figures of before and after."""


def cures_of(
    judgement: Judgement, finding: Finding, most: int = MOST_OFFERED
) -> Iterator[TriedCure]:
    """Cures of a finding, as they are found, the practitioner's first.

    Between one and the next it holds no garden but the judgement's own.
    """
    return map(attrgetter("cure"), islice(trials_of(judgement, finding), most))


def trials_of(judgement: Judgement, finding: Finding) -> Iterator[CureTrial]:
    """The first that cures of each way to do it, with what it was tried on."""
    case = Case(judgement.chain, finding)
    for remedies in REMEDIES.get(finding.code, ()):
        made = islice(_made(remedies(case)), MOST_TRIED)
        tried = (_tried(judgement, finding, remedy) for remedy in made)
        yield from islice(filter(None, tried), 1)


def _made(found: Iterator[Remedy]) -> Iterator[Remedy]:
    """As far as they can be made: a garden that does not hold together, or cannot be solved, is none."""
    while True:
        try:
            yield next(found)
        except (StopIteration, PlanError, ValidationError, NetworkError):
            return


def _tried(judgement: Judgement, finding: Finding, remedy: Remedy) -> CureTrial | None:
    """The remedy made, if its finding goes and nothing as bad comes."""
    garden = changes.holds_together(remedy.garden)
    if garden is None:
        return None
    done = changes.between(judgement.chain.garden, garden)
    if not done:
        return None
    begun = begin_chain(garden, judgement.chain.record)
    if shows_before_timers(begun, finding):
        return None
    after = judge(begun.finished())
    if not cures(judgement, after, finding):
        return None
    return CureTrial(TriedCure(remedy.change, done, _promises(judgement, after, finding)), after)


def cures(before: Judgement, after: Judgement, finding: Finding) -> bool:
    """Whether a finding is gone, and nothing as bad has come.

    What only shows now that plants are given what they need, such as a store that cannot give it, is no
    worse while the driest bed is less often dry.
    """
    if finding.key in after.keys or _dries_otherwise(after, finding):
        return False
    is_greener = driest(after.chain) < GREENER * driest(before.chain)
    for each in after.findings:
        was = before.keys.get(each.key)
        is_worse = was is None or each.severity.weight < was.weight
        is_as_bad = each.severity.weight <= finding.severity.weight
        if is_greener and _tells_of_thirst(each) and each.station != finding.station:
            continue
        if is_worse and is_as_bad and each.severity is not Severity.BETTER:
            return False
    return True


def _tells_of_thirst(finding: Finding) -> bool:
    """Whether it weighs by how plants fare, and not by what is broken."""
    is_grave = finding.severity is Severity.CANNOT_WORK
    return finding.severity is Severity.PLANTS_SUFFER or (is_grave and finding.code in OF_THIRST)


def _dries_otherwise(after: Judgement, finding: Finding) -> bool:
    """Whether what dried dries still, if less, and is told of what waters it now."""
    return finding.code in DRYING and any(
        each.code in DRYING and set(each.parts) & set(finding.parts) for each in after.findings
    )


def driest(chain: Chain) -> float:
    """Share of its days on which the driest bed is too dry, all told. [-]"""
    return _driest_of(chain, [part.id for part in chain.garden.planted])


def _driest_of(chain: Chain, part_ids: Sequence[str]) -> float:
    """As `driest`, of some."""
    if isinstance(chain.season, Gap):
        return 0.0
    lived = lived_of(chain.season).items()
    return max((bed.dry_share for key, bed in lived if key in part_ids), default=0.0)


def _promises(
    before: Judgement, after: Judgement, finding: Finding
) -> dict[str, tuple[Amount | None, Amount]]:
    old = figures_of(before.chain, finding)
    new = figures_of(after.chain, finding)
    return {name: (old.get(name), value) for name, value in new.items()}


def figures_of(chain: Chain, finding: Finding) -> dict[str, Amount]:
    """The figures that a finding's station leads with, about what the finding is about."""
    if finding.code in DRYING:
        return {"too_dry": Amount(_driest_of(chain, finding.parts), "share")}
    found: dict[str, Amount] = {}
    if finding.station in ("catch", "store"):
        if not isinstance(chain.catch, Gap):
            found["caught_a_year"] = chain.catch.year.amount
        if not isinstance(chain.store, Gap):
            group = chain.store.group(finding.about or finding.parts[-1])
            if float(group.run.demand.sum()) > 0:
                found["met"] = Amount(group.run.volumetric_reliability, "share")
    zone = next((z for z in chain.zones if z.zone.id == finding.about), None)
    if (
        finding.station in ("push", "lay")
        and zone is not None
        and isinstance(zone.push, PushAnswer)
    ):
        state = zone.push.usual.state
        found["weakest"] = Amount(state.lowest_share, "share")
        found["flow"] = Amount(state.flow, "flow")
    if finding.station == "time" and zone is not None and isinstance(zone.time, TimeAnswer):
        found["too_dry"] = Amount(zone.time.promised, "share")
    return found
