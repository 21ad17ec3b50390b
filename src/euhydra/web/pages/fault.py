"""Keep: from what one sees to what is wrong."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from fastapi import Request

from euhydra.garden.logbook import LogEntry
from euhydra.garden.sentences import Sentence, lowered, say
from euhydra.planner.answers import Gap, Mark, PlanError, Verdict
from euhydra.planner.chain import ZoneChain
from euhydra.planner.keeping import causes, diagnosis
from euhydra.planner.keeping.diagnosis import Diagnosis
from euhydra.planner.keeping.symptoms import CHAIN_SYMPTOMS, is_chain, symptoms_of
from euhydra.planner.push.float_chain import FloatChain
from euhydra.web.desk import Desk
from euhydra.web.logged_year import log_of
from euhydra.web.pages.station import Shown, StationPage
from euhydra.web.pages.zone_page import zone_choices


def show_fault(request: Request, desk: Desk, at: str) -> Shown:
    """From what one sees to what is wrong."""
    zone = desk.chain.zone(at)
    if isinstance(zone, Gap):
        return Shown(None, zone)
    if not zone.zone.outlets:
        return Shown(
            None,
            Gap(
                say(
                    "fault-no-outlets",
                    "“{zone}” has no outlets yet: lay a line on Lay.",
                    zone=zone.zone.name,
                )
            ),
        )
    seen = request.query_params.get("seen", "")
    offered = symptoms_of(zone.zone)
    symptoms = offered.values()
    if seen not in offered:
        asks = Verdict(
            Mark.BUT,
            say(
                "fault-say-see-cause",
                "Say what you see at “{zone}”; each cause is then tried on its pipes.",
                zone=zone.zone.name,
            ),
        )
        return Shown(_Asks(asks), None, {"symptoms": symptoms, "seen": "", "zone": zone.zone})
    entries = log_of(request, desk, date.today())
    chains = _chains(zone) if seen in CHAIN_SYMPTOMS else ()
    chain = _meant(chains, request.query_params.get("of", ""), entries)
    try:
        found = desk.kept_with_log(
            request,
            ("fault", zone.zone.id, seen, chain.pots.id if chain else ""),
            lambda: _found(zone, chain, seen, entries),
        )
    except PlanError as error:
        return Shown(None, Gap.of(error))
    return Shown(
        _Asks(_cause_first(found), found),
        None,
        {
            "symptoms": symptoms,
            "seen": seen,
            "zone": zone.zone,
            "leak_wide": causes.LEAK_WIDE,
            "is_chain": is_chain(zone.zone),
            "chains": chains,
            "of": chain.pots.id if chain else "",
        },
    )


def _chains(zone: ZoneChain) -> tuple[FloatChain, ...]:
    return () if isinstance(zone.push, Gap) else zone.push.chains


def _meant(
    chains: Sequence[FloatChain], asked: str, entries: Sequence[LogEntry]
) -> FloatChain | None:
    """The planters that are asked about, else those last written about, else the first."""
    about = [entry.part_id for entry in entries if entry.kind in ("level", "float")]
    named = (
        chain for part in (asked, *reversed(about)) for chain in chains if chain.pots.id == part
    )
    return next(named, chains[0] if chains else None)


def _found(
    zone: ZoneChain, chain: FloatChain | None, seen: str, entries: list[LogEntry]
) -> Diagnosis:
    """Of planters behind a float, or of the pipes."""
    if chain is None:
        return diagnosis.diagnose(zone.zone, seen, entries)
    return diagnosis.diagnose_chain(zone.zone, chain, seen, entries)


@dataclass(frozen=True)
class _Asks:
    verdict: Verdict
    found: Diagnosis | None = None


def _cause_first(found: Diagnosis) -> Verdict:
    if not found.likely:
        return Verdict(
            Mark.BUT,
            say(
                "fault-none-usual-causes",
                "None of the usual causes makes that on these pipes: measure at First run, and look "
                "again.",
            ),
        )
    summary, *reasons = look_first(found)
    return Verdict(Mark.BUT, summary, tuple(reasons))


def look_first(found: Diagnosis) -> tuple[Sentence, ...]:
    """The likeliest cause, and what the sums say of it."""
    first = found.likely[0]
    where = say(
        "fault-look-first-here",
        "Look first here: {cause}.",
        cause=lowered(first.kind.title),
    )
    return where, first.said


PAGE = StationPage(
    key="fault",
    station="keep",
    tab="Find the fault",
    question="Something is weak, dry or wet: what is wrong?",
    show=show_fault,
    choices=zone_choices,
)
