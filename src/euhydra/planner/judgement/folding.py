"""Symptoms under their cause: what a zone that gives nothing, or a store without water, brings about."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from euhydra.planner.chain import Chain
from euhydra.planner.judgement.finding import Finding, Severity

RUNS_OFF = "time-water-stand-run"
"""The finding of water that runs off."""

LACKS = ("store-too-small", "store-too-little-comes")
"""The findings of a store that does not give what is asked of it."""

TOO_LOW_TO_RUN = "store-water-too-low"
"""The finding of a store that stands too low for its beds; what it is too low for, Push tells."""

GIVES_NO_MORE, WELL_EMPTY = "time-source-gives-too-little", "catch-well-drawn-empty"
"""The finding of a source that gives less than is asked, and that of a well that does."""

CLOGGED = "push-line-clogged"
"""The finding of a line that gives too little for what is in its outlets."""

TAP_TOO_HIGH = "store-tap-too-high"
"""The finding of a store whose water stands under its tap."""

WATERS_NOTHING = "lay-line-waters-nothing"
"""The finding of a line that lies in no bed."""

WETTED_IN_PART = "lay-bed-wetted-in-part"
"""The finding of dry ground between outlets."""

WASHED_TOO_LITTLE = "catch-washing-too-little"
"""The finding of beds that washing water alone does not do for."""

WASHING_LOST = {
    "catch-no-pump-in-lines",
    "catch-nothing-comes-out",
    "catch-drum-keep-week",
    "catch-clogged-does-not-keep-up",
}
"""The findings of a drum whose water does not come to the beds, or not all of it."""

UNEVEN_DRUM = "catch-lines-uneven"
"""The finding of a drum's lines that share unevenly; what makes them do so is Push's."""

STARVED_SETTINGS = {
    "time-no-setting-does",
    "time-run-over-window",
    "time-source-gives-too-little",
    "hand-opens-too-seldom",
}
"""The findings of settings that do not do: no wonder where the lines do not bring the water."""

SAME = {
    "lay-washing-water-refused": "catch-greywater-not-allowed",
    "lay-drum-lacks-pump": "catch-no-pump-in-lines",
}
"""Findings of lines, and those of their drum that are the same thing."""


@dataclass(frozen=True)
class Causes:
    """What a garden's findings explain of one another.

    watered : Ids of the beds and pots of each zone.
    fed_by : Id of the source of each zone, of linked stores that of the group.
    """

    found: Sequence[Finding]
    watered: Mapping[str, tuple[str, ...]]
    fed_by: Mapping[str, str]

    def of(self, finding: Finding) -> Finding | None:
        """The finding that explains it; None where it stands by itself."""
        if finding.code in SAME:
            return self._told.get(SAME[finding.code])
        if finding.severity is Severity.DANGEROUS:
            return None
        rules: tuple[Callable[[Finding], Finding | None], ...] = (
            self._of_setting,
            self._of_store,
            self._of_dry_ground,
            self._of_drum,
        )
        return next((cause for rule in rules if (cause := rule(finding)) is not None), None)

    def _of_setting(self, finding: Finding) -> Finding | None:
        if finding.station != "time":
            return None
        cause = self._dead.get(finding.about)
        dries_so = finding.code == RUNS_OFF and finding.severity is not Severity.WASTES
        if cause is None and (finding.code in STARVED_SETTINGS or dries_so):
            cause = self._slow.get(finding.about)
        if cause is None and finding.code == GIVES_NO_MORE:
            return self._coded(WELL_EMPTY).get(self.fed_by.get(finding.about, ""))
        return cause

    def _of_store(self, finding: Finding) -> Finding | None:
        if finding.station != "store":
            return None
        cause = self._empty.get(finding.about)
        if finding.code == TOO_LOW_TO_RUN:
            return cause or _first(self._dead, self._zones_on(finding.about))
        if cause is None and finding.code in LACKS:
            # Timers that make up for a clogged line empty the store.
            cause = self._coded(TAP_TOO_HIGH).get(finding.about)
            cause = cause or _first(self._coded(CLOGGED), finding.parts)
        if cause is None and "time" in finding.also:
            cause = _first(self._coded(RUNS_OFF), finding.parts)
        return cause

    def _of_dry_ground(self, finding: Finding) -> Finding | None:
        if finding.code != WETTED_IN_PART:
            return None
        return self._starved.get(finding.about) or self._idle.get(finding.about)

    def _of_drum(self, finding: Finding) -> Finding | None:
        if finding.code == WASHED_TOO_LITTLE:
            faults = (f for f in self.found if f.code in WASHING_LOST)
            return next((fault for fault in faults if fault.about == finding.about), None)
        if finding.code != UNEVEN_DRUM:
            return None
        return _first(self._slow, self._zones_on(finding.about))

    def _zones_on(self, source: str) -> list[str]:
        """Ids of the zones that a source feeds."""
        return [zone for zone, feeder in self.fed_by.items() if feeder == source]

    def _coded(self, code: str) -> dict[str, Finding]:
        """The findings of a code, by what they are about."""
        return {f.about: f for f in self.found if f.code == code}

    @cached_property
    def _told(self) -> dict[str, Finding]:
        return {f.code: f for f in self.found if f.code in SAME.values()}

    @cached_property
    def _dead(self) -> dict[str, Finding]:
        """By zone: why nothing comes out of it."""
        return {f.about: f for f in self.found if f.station == "push" and "time" in f.also}

    @cached_property
    def _slow(self) -> dict[str, Finding]:
        """By zone: the first thing by which its water does not do."""
        suffers = Severity.PLANTS_SUFFER
        found = (f for f in self.found if f.station == "push" and f.severity is suffers)
        return {f.about: f for f in reversed(tuple(found))}

    @cached_property
    def _starved(self) -> dict[str, Finding]:
        """By bed: what keeps its water from being pushed there."""
        weighty = Severity.PLANTS_SUFFER.weight
        found = (f for f in self.found if f.station == "push" and f.severity.weight <= weighty)
        return self._by_bed(found)

    @cached_property
    def _idle(self) -> dict[str, Finding]:
        """By bed: the line of its zone that waters nothing."""
        return self._by_bed(self._coded(WATERS_NOTHING).values())

    @cached_property
    def _empty(self) -> dict[str, Finding]:
        """By store: why nothing comes into it."""
        found = (f for f in self.found if f.station == "catch" and "store" in f.also)
        return {part: f for f in found for part in f.parts}

    def _by_bed(self, found: Iterable[Finding]) -> dict[str, Finding]:
        return {part: f for f in found for part in self.watered.get(f.about, ())}


def _first(found: Mapping[str, Finding], keys: Iterable[str]) -> Finding | None:
    return next((found[key] for key in keys if key in found), None)


def folded(found: tuple[Finding, ...], chain: Chain) -> tuple[Finding, ...]:
    """Those that stand by themselves, each with what it explains."""
    causes = Causes(
        found,
        {z.zone.id: tuple(part.id for part in z.zone.watered) for z in chain.zones},
        {z.zone.id: z.zone.group.id if z.zone.group else z.zone.source.id for z in chain.zones},
    )
    kept: list[Finding] = []
    under: dict[tuple[str, str, str], list[Finding]] = {}
    for finding in found:
        cause = causes.of(finding)
        if cause is None:
            kept.append(finding)
        else:
            under.setdefault(cause.key, []).append(finding)
    return tuple(_graver(finding, under.get(finding.key, ())) for finding in kept)


def _graver(finding: Finding, explained: Sequence[Finding]) -> Finding:
    """With what it explains, as grave as the gravest of it, and told wherever that would be."""
    gravest = min((finding, *explained), key=lambda each: each.severity.weight).severity
    stations = (name for each in explained for name in (each.station, *each.also))
    also = dict.fromkeys((*finding.also, *stations))
    also.pop(finding.station, None)
    parts = dict.fromkeys((*finding.parts, *(each.about for each in explained if each.about)))
    told = finding.under(*(each.cause for each in explained))
    return replace(told, severity=gravest, parts=tuple(parts), also=tuple(also))
