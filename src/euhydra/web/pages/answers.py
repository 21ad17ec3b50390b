"""What each station's page shows: its answer, or the gap, and its drawings."""

from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from fastapi import Request

from euhydra.garden.beds import Bed
from euhydra.garden.edits import Collection
from euhydra.garden.part import Part
from euhydra.garden.store_groups import group_below, groups_of
from euhydra.garden.stores import Store
from euhydra.planner.answers import Figure, Gap, Mark, Verdict
from euhydra.planner.catch import greywater
from euhydra.planner.catch.order import greywater_rule
from euhydra.planner.catch.taps import answer_tap
from euhydra.planner.chain import NO_BED, ZoneChain
from euhydra.planner.need.answer import answer_need, peaks_of
from euhydra.planner.need.daily import Need
from euhydra.planner.season import shares
from euhydra.planner.store import spill, wet_ground
from euhydra.planner.store.answer import GroupAnswer
from euhydra.planner.store.figures import RULE_NAMES
from euhydra.planner.store.standing import answer_standing
from euhydra.planner.store.storms import storm_figures
from euhydra.planner.time import present_setting
from euhydra.planner.water import laws
from euhydra.web.desk import Desk
from euhydra.web.drawing import (
    charts,
    drains,
    fall,
    outlet_table,
    plan,
    season_strip,
    trench,
    washday,
)
from euhydra.web.pages import bench, build_answers, care_answers, keep_answers, season_answers
from euhydra.web.pages.shown import Shown


@dataclass(frozen=True)
class Choice:
    """A bed or a store that a page can be turned to."""

    id: str
    name: str
    is_here: bool
    mark: Mark | None


def _catch(request: Request, desk: Desk, at: str) -> Shown:
    chain, garden = desk.chain, desk.revision.garden
    drawn: dict[str, Any] = {"drains": drains.draw(garden)} if garden.roofs else {}
    if isinstance(chain.catch, Gap):
        return Shown(None, chain.catch, drawn)
    return Shown(chain.catch, None, drawn | {"chart": charts.catch_chart(chain, garden.units)})


def _greywater(request: Request, desk: Desk, at: str) -> Shown:
    garden = desk.revision.garden
    if not garden.beds:
        return Shown(None, NO_BED)
    if not garden.greywaters:
        return Shown(None, Gap("There is no greywater line yet: add one."))
    lines = [greywater.answer_washing(garden, grey) for grey in garden.greywaters]
    worst = _worst([line.verdict for line in lines])
    drawn = [washday.draw(line, garden.units) for line in lines]
    rules = [(bed, greywater_rule(garden, bed)) for bed in garden.beds]
    return Shown(_Many(worst), None, {"lines": lines, "washdays": drawn, "rules": rules})


def _taps(request: Request, desk: Desk, at: str) -> Shown:
    garden = desk.revision.garden
    if not garden.taps:
        return Shown(None, Gap("There is no tap or well yet: add one, with bucket and stopwatch."))
    taps = [answer_tap(tap) for tap in garden.taps]
    costs: tuple[Figure, ...] = ()
    if not isinstance(desk.chain.season, Gap):
        costs = shares.answer_balance(desk.chain.season).figures
    return Shown(_Many(_worst([tap.verdict for tap in taps])), None, {"taps": taps, "costs": costs})


def _store(request: Request, desk: Desk, at: str) -> Shown:
    chain, garden = desk.chain, desk.revision.garden
    if not garden.stores:
        return Shown(None, Gap("There is no store yet: add one."))
    here = stores_at(desk, at)
    always: dict[str, Any] = {"standings": [(s, answer_standing(s)) for s in here]}
    if garden.roofs:
        always["drains"] = drains.draw(garden)
    if isinstance(chain.store, Gap):
        return Shown(None, chain.store, always)
    answer = chain.store.group(at)
    always |= _spill(desk, answer)
    always |= {"chart": charts.store_chart(answer, garden.units), "rule_names": RULE_NAMES}
    return Shown(answer, None, always)


def _spill(desk: Desk, answer: GroupAnswer) -> dict[str, Any]:
    garden, group = desk.revision.garden, answer.group
    storms = storm_figures(garden, group)
    below = group_below(group, answer.season.groups, garden.downspouts)
    hour = storms[-1].amount.value if storms else 0.0
    name = f"“{below.name}”" if below else None
    return {"storms": storms, "spill": spill.answer_spill(group, hour, name)}


def _shares(request: Request, desk: Desk, at: str) -> Shown:
    chain = desk.chain
    if isinstance(chain.season, Gap):
        return Shown(None, chain.season)
    answer = shares.answer_balance(chain.season)
    units = desk.revision.garden.units
    return Shown(answer, None, {"chart": charts.shares_chart(answer, units)})


def _wet(request: Request, desk: Desk, at: str) -> Shown:
    garden = desk.revision.garden
    if not garden.wet_grounds:
        return Shown(None, Gap("There is no wet ground yet: describe it, if you have one."))
    grounds = [wet_ground.answer_wet(garden, ground) for ground in garden.wet_grounds]
    return Shown(
        _Many(_worst([g.verdict for g in grounds])),
        None,
        {"grounds": grounds, "trenches": [trench.draw(g) for g in garden.wet_grounds]},
    )


def _need(request: Request, desk: Desk, at: str) -> Shown:
    plant = desk.chain.plant(at)
    need = plant if isinstance(plant, Gap) else plant.need
    if isinstance(need, Gap):
        return Shown(None, need)
    garden = desk.revision.garden
    answer = desk.kept(request, f"need {need.part.id}", lambda: answer_need(need, garden))
    return Shown(answer, None, {
        "chart": charts.need_chart(answer, garden.units),
        "strip": season_strip.draw(need.part, garden),
        "is_bed": isinstance(need.part, Bed),
        "peaks": desk.kept(request, "peaks", lambda: peaks_of(_needs(desk))),
    })  # fmt: skip


def _needs(desk: Desk) -> list[Need]:
    return [plant.need for plant in desk.chain.planted if isinstance(plant.need, Need)]


def _push(request: Request, desk: Desk, at: str) -> Shown:
    units, zone = desk.revision.garden.units, desk.chain.zone(at)
    push = zone if isinstance(zone, Gap) else zone.push
    if isinstance(push, Gap):
        return Shown(None, push)
    drawn, parts = fall.draw(push, units), plan.parts_json(desk.revision.garden)
    return Shown(push, None, {
        "fall": drawn,
        "fall_handles": [asdict(handle) for handle in drawn.handles],
        "fall_parts": {h.part_id: parts[h.part_id]["part"] for h in drawn.handles},
        "fall_ends": fall.ends_of(push.zone),
        "outlet_table": outlet_table.rows_of(push, units),
    })  # fmt: skip


def _lay(request: Request, desk: Desk, at: str) -> Shown:
    garden = desk.revision.garden
    answer = desk.chain.lay
    return Shown(answer, None, {
        "plan": desk.kept(request, "plan", lambda: plan.draw(answer, garden.units)),
        "parts": plan.parts_json(garden),
        "letters": plan.letters_in(garden),
        "proposal": desk.chain.proposal,
        "backdrop": plan.backdrop_of(request.app, desk.revision.garden_id, garden),
    })  # fmt: skip


def _time(request: Request, desk: Desk, at: str) -> Shown:
    units, zone = desk.revision.garden.units, desk.chain.zone(at)
    time = zone if isinstance(zone, Gap) else zone.time
    if isinstance(time, Gap):
        return Shown(None, time)
    return Shown(time, None, {
        "chart": charts.time_chart(time, units),
        "judged": desk.kept(request, f"judged {time.zone.id}", lambda: present_setting.judge(time)),
    })  # fmt: skip


@dataclass(frozen=True)
class _Many:
    """Several answers under the worst of their verdicts."""

    verdict: Verdict


def _worst(verdicts: Sequence[Verdict]) -> Verdict:
    order = list(type(verdicts[0].mark))
    return max(verdicts, key=lambda verdict: order.index(verdict.mark))


ANSWERS: dict[str, Callable[[Request, Desk, str], Shown]] = {
    "catch": _catch,
    "greywater": _greywater,
    "taps": _taps,
    "store": _store,
    "shares": _shares,
    "wet": _wet,
    "need": _need,
    "push": _push,
    "lay": _lay,
    "time": _time,
    "week": season_answers.show_week,
    "years": season_answers.show_years,
    "away": season_answers.show_away,
    "bench": bench.show_bench,
    "build": build_answers.show_shopping,
    "steps": build_answers.show_steps,
    "first-run": build_answers.show_first_run,
    "labels": build_answers.show_labels,
    "keep": keep_answers.show_log,
    "judge": keep_answers.show_judge,
    "fault": care_answers.show_fault,
    "upkeep": care_answers.show_upkeep,
    "feed": care_answers.show_feed,
    "report": keep_answers.show_report,
}
"""By page of a station."""


ZONE_PAGES = ("push", "time", "first-run", "fault")
"""Pages about one zone."""


def choices(desk: Desk, page: str, at: str) -> list[Choice]:
    """Beds or stores that the page can be turned to; none where there is but one."""
    found: list[Choice] = []
    if page == "store":
        here = stores_at(desk, at)
        groups = groups_of(desk.revision.garden.stores)
        marks: dict[str, Mark] = {}
        if not isinstance(desk.chain.store, Gap):
            marks = {g.group.id: g.summary.mark for g in desk.chain.store.groups}
        found = [Choice(g.id, g.name, g.stores == here, marks.get(g.id)) for g in groups]
    if page == "need":
        plant = desk.chain.plant(at)
        found = [Choice(p.part.id, p.part.name, p is plant, None) for p in desk.chain.planted]
    if page in ZONE_PAGES:
        zone = desk.chain.zone(at)
        found = [
            Choice(z.zone.id, z.zone.name, z is zone, _mark_of(z, page)) for z in desk.chain.zones
        ]
        if page in ("push", "time"):
            found += [
                Choice(b.part.id, b.part.name, b.part.id == at, None)
                for b in desk.chain.planted
                if not any(p.id == b.part.id for z in desk.chain.zones for p in z.zone.watered)
            ]
    return found if len(found) > 1 else []


def _mark_of(zone: ZoneChain, page: str) -> Mark | None:
    if page in ("first-run", "fault"):
        return None
    if page == "push":
        return None if isinstance(zone.push, Gap) else zone.push.mark
    return None if isinstance(zone.time, Gap) else zone.time.verdict.mark


def stores_at(desk: Desk, at: str) -> tuple[Store, ...]:
    """The stores that share a level with the one called `at`, or with the first."""
    groups = groups_of(desk.revision.garden.stores)
    here = (g for g in groups if any(s.id == at for s in g.stores))
    return next(here, groups[0]).stores if groups else ()


def parts_at(desk: Desk, collection: Collection, page: str, at: str) -> Sequence[Part]:
    """Parts that a page asks about.

    On Push and Time of one zone, on Store of one level, on Lay
    the one that is chosen.
    """
    garden = desk.revision.garden
    parts: Sequence[Part] = getattr(garden, collection)
    if page == "store":
        return stores_at(desk, at)
    if page == "need":
        plant = desk.chain.plant(at)
        if isinstance(plant, Gap):
            return []
        if collection == "plantings":
            return [p for p in garden.plantings if p.bed_id == plant.part.id]
        return [plant.part] if plant.part in parts else parts if collection == "own_crops" else []
    if page == "lay":
        return [part for part in parts if part.id == at]
    if page not in ("push", "time"):
        return parts
    zone = desk.chain.zone(at)
    if isinstance(zone, Gap):
        return parts if collection == "timers" else []
    own = [part for part in parts if any(p.id == part.id for p in zone.zone.way.parts)]
    if collection == "pipes":
        # Rows and tubes are chosen on the plan; the way to them is what Push is about.
        return [p for p in zone.zone.pipes if not laws.kind_of(p).has_outlets and not p.dripper][:4]
    return own


def first_piece(desk: Desk, page: str, at: str) -> str:
    """On Push and Time, what a new pump or timer is set before: all of the zone; else ""."""
    zone = desk.chain.zone(at) if page in ("push", "time") else NO_BED
    if isinstance(zone, Gap) or (page == "push" and zone.zone.pumps):
        return ""
    if page == "time" and zone.zone.timer is not None:
        return ""
    return zone.zone.way.parts[0].id
