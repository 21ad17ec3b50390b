"""Pieces that guard a line, set in where they belong: backflow preventer, filter, regulator."""

from collections.abc import Iterator

from euhydra.garden import catalogue, edits, plumbing
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Fitting, Pump
from euhydra.garden.plumbing import FittingRole
from euhydra.garden.sentences import Amount, lowered, say, words
from euhydra.garden.timers import Timer
from euhydra.planner.judgement.remedy import Case, Remedies, Remedy
from euhydra.planner.push import cures
from euhydra.planner.water.zones import Zone


def regulator(case: Case) -> Iterator[Remedy]:
    """A regulator before the lines, the one that holds most first; or the one there set lower."""
    zone = case.pushed_zone
    if zone is None:
        return
    there = next(
        (p for p in zone.pieces if isinstance(p, Fitting) and p.role is FittingRole.REGULATES), None
    )
    if there is not None:
        for setting in reversed(cures.SETTINGS):
            set_so = there.model_copy(update={"setting_m": setting})
            yield Remedy(
                say(
                    "cure-regulator-setting",
                    "Set “{piece}” to {setting}, or take one that holds it.",
                    piece=there.name,
                    setting=Amount(setting, "head"),
                ),
                edits.put(case.garden, "fittings", set_so),
            )
        return
    for kind in regulators():
        yield Remedy(
            say(
                "cure-regulator",
                "Put in before the lines: {regulator}.",
                regulator=words(lowered(kind.name)),
            ),
            with_fitting(case.garden, zone, kind.id),
        )


def regulators() -> list[plumbing.FittingKind]:
    """That which holds most first."""
    return sorted(
        (k for k in plumbing.fitting_kinds().values() if k.setting_m > 0),
        key=lambda k: -k.setting_m,
    )


def guard(kind_id: str, code: str, template: str) -> Remedies:
    """A piece set in where it belongs in the head of the zone."""

    def remedies(case: Case) -> Iterator[Remedy]:
        for zone in _zones_about(case):
            yield Remedy(
                say(code, template, zone=zone.name), with_fitting(case.garden, zone, kind_id)
            )
        several = _zones_about(case)
        if len(several) > 1:
            garden = case.garden
            for zone in several:
                garden = with_fitting(garden, zone, kind_id)
            names = ", ".join(zone.name for zone in several)
            yield Remedy(say(code, template, zone=names), garden)

    return remedies


def _zones_about(case: Case) -> list[Zone]:
    """The zone that it is about, or all that run through its first part."""
    if case.zone is not None:
        return [case.zone.zone]
    first = case.finding.parts[0]
    return [
        z.zone
        for z in case.chain.zones
        if z.zone.source.id == first or any(part.id == first for part in z.zone.way.parts)
    ]


def with_fitting(garden: Garden, zone: Zone, kind_id: str) -> Garden:
    """The garden with a piece in the zone's head, after its timer and what belongs before it."""
    kind = plumbing.fitting_kinds()[kind_id]
    behind = _first_after(zone, kind.order)
    piece = Fitting(
        id=edits.free_id(garden, kind_id),
        name=f"{zone.name}, {kind.noun}"[:60],
        kind=kind_id,
        at=zone.source.at,
        begins_at=zone.source.id,
    )
    return edits.put_before(garden, "fittings", piece, behind)


def _first_after(zone: Zone, order: int) -> str:
    """The first part of the way that belongs after a piece of such an order."""
    timer_seen = zone.timer is None
    for part in zone.way.parts:
        if isinstance(part, Timer):
            timer_seen = True
            continue
        if isinstance(part, Pump):
            continue
        if isinstance(part, Fitting):
            kind = catalogue.find(plumbing.fitting_kinds(), part.kind)
            if kind.order and kind.order <= order:
                continue
        if timer_seen:
            return part.id
    return zone.way.parts[-1].id
