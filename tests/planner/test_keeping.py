"""The log read against the plan: advice, what it shows, faults, upkeep."""

from dataclasses import replace
from datetime import date, datetime, timedelta

import numpy as np
import pytest
from pytest import approx

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.garden import demo, edits, normals
from euhydra.garden.logbook import LogEntry
from euhydra.garden.timers import find_timer
from euhydra.planner import chain
from euhydra.planner.answers import Gap
from euhydra.planner.keeping import diagnosis, hindcast, signs, upkeep
from euhydra.planner.keeping.advice import Advice, readings
from euhydra.planner.keeping.dial import set_otherwise
from euhydra.planner.keeping.uneven import uneven_lines
from euhydra.planner.learning import answer as learning
from euhydra.planner.learning import taking_over
from euhydra.planner.learning.claim import Claim, ClaimKind
from euhydra.planner.steps import first_run
from euhydra.planner.water import solving, throttling, zones

TODAY = date(2026, 7, 20)


@pytest.fixture(scope="module")
def planned():
    return chain.run_chain(demo.garden(), normals.make_days(demo.normals(), 4))


def on(day: date, hour: int = 9) -> datetime:
    return datetime(day.year, day.month, day.day, hour)


def ago(days: int, hour: int = 9) -> datetime:
    return on(TODAY - timedelta(days=days), hour)


def set_to(
    minutes: float, days_ago: int, every_d: float = 1.0, timer: str = "top-timer"
) -> LogEntry:
    return LogEntry("setting", ago(days_ago), timer, (minutes * 60.0, every_d * 86400.0))


def felt(word: str, days_ago: int = 0, bed: str = "top-bed") -> LogEntry:
    return LogEntry("finger", ago(days_ago), bed, (), word)


def no_rain(days_ago: int) -> LogEntry:
    return LogEntry("rain", ago(days_ago, 12), None, (0.0,))


def told(planned, *entries):
    found = hindcast.hindcast(planned, sorted(entries, key=lambda e: e.at), TODAY)
    assert not isinstance(found, Gap)
    return found


def reading(planned, *entries):
    return readings(told(planned, *entries), TODAY)[0]


def test_the_gauge_and_the_timer_as_they_were_set(planned):
    rain = LogEntry("rain", ago(10, 8), None, (0.012,))
    later = LogEntry("rain", ago(5, 18), None, (0.003,))
    h = told(planned, rain, later, set_to(30, 20, 2))
    day = h.day(ago(11))  # read before ten: it fell on the day before
    assert h.record.precip[day] == approx(12)
    assert h.record.precip[h.day(ago(5))] == approx(3)
    assert h.record.precip[day + 1 : h.day(ago(5))].sum() == 0
    track = h.track("top-bed")
    since = track.watered[h.day(ago(20)) :]
    assert (since[0::2] > 0).all()
    assert (since[1::2] == 0).all()
    zone = planned.zone("top-timer")
    flow = solving.solve_zone(zone.zone, 0.5).flow * LITRES_PER_CUBIC_METRE
    # The timer's design counts the falling level; half an hour at half level is near to it.
    assert since[0] == approx(flow * 1800, rel=0.15)


def test_a_can_counts_too(planned):
    can = LogEntry("watered", ago(3), "hedge", (0.02,))
    without, beside = told(planned), told(planned, can)
    more = beside.track("hedge").watered - without.track("hedge").watered
    assert more.sum() == approx(20)


def test_dry_and_given_too_little_asks_for_more(planned):
    found = reading(planned, no_rain(40), set_to(1, 30), felt("dry"))
    assert (found.advice, found.by_sums) == (Advice.RAISE, "dry")
    assert "The plan for this month" in str(found.reasons[-2])
    assert "set it as planned" in str(found.reasons[-1])  # a minute a day is less than the plan's
    assert found.reasons[-1].values["run"].value == 60


def test_dry_though_given_enough_looks_for_a_clog(planned):
    found = reading(planned, no_rain(40), set_to(120, 30), felt("dry"))
    assert (found.advice, found.by_sums) == (Advice.LOOK, "wet")
    assert any("clog" in str(r) for r in found.reasons)


def test_muddy_and_full_is_cut_and_muddy_without_water_is_a_leak(planned):
    full = reading(planned, no_rain(40), set_to(120, 30), felt("muddy"))
    assert full.advice is Advice.CUT
    assert "set it as planned" in str(full.reasons[-1])  # two hours a day is more
    empty = reading(planned, no_rain(40), set_to(1, 30), felt("muddy"))
    assert empty.advice is Advice.LOOK
    assert any("leak" in str(r) for r in empty.reasons)


def test_a_change_of_yesterday_is_waited_for(planned):
    found = reading(planned, no_rain(40), set_to(1, 30), set_to(60, 1), felt("dry"))
    assert found.advice is Advice.WAIT
    assert "feel again on 22 July" in str(found.summary)


def test_leaves_are_read_with_the_finger(planned):
    leaf = LogEntry("leaf", ago(0, 8), "top-bed", (), "droop")
    drowned = reading(planned, no_rain(40), set_to(120, 30), felt("muddy"), leaf)
    assert drowned.advice is Advice.CUT
    crisp = LogEntry("leaf", ago(0, 10), "top-bed", (), "crisp")
    hot = reading(planned, no_rain(40), set_to(60, 30), felt("right"), crisp)
    assert hot.advice is Advice.WAIT


def test_a_bare_bed_is_told_so(planned):
    winter = date(2026, 12, 10)
    dry = LogEntry("finger", on(winter), "top-bed", (), "dry")
    (found,) = readings(hindcast.hindcast(planned, [dry], winter), winter)
    assert found.advice is Advice.LEAVE
    assert "nothing grows" in str(found.summary)


def test_right_is_left_alone_and_old_signs_are_not_read(planned):
    assert reading(planned, set_to(60, 30), felt("right")).advice is Advice.LEAVE
    assert readings(told(planned, felt("dry", 40)), TODAY) == []


def buckets(planned, factors, timer="shed-timer"):
    zone = planned.zone(timer).zone
    flow = solving.solve_zone(zone, first_run.USUAL_LEVEL).flow
    return [
        LogEntry("flow", ago(60 - 6 * i), timer, (f * flow * 300, 300.0), "whole")
        for i, f in enumerate(factors)
    ]


def shown(planned, *entries):
    return learning.learned(told(planned, *entries)).claims


def test_outlets_are_learned_from_buckets_and_taken_over(planned):
    rng = np.random.default_rng(2)
    entries = buckets(planned, 0.8 + rng.normal(0, 0.04, 8))
    (claim,) = shown(planned, *entries)
    assert (claim.kind, claim.part_id) == (ClaimKind.OUTLETS, "shed-timer")
    assert claim.low < 0.8 < claim.high
    assert claim.value == approx(0.8, abs=0.05)
    assert not taking_over.is_beyond(planned.garden, claim)
    taught = taking_over.taken_over(planned.garden, claim)
    zone = next(z for z in zones.zones_of(taught) if z.id == "shed-timer")
    before = solving.solve_zone(planned.zone("shed-timer").zone, 0.5).flow
    assert solving.solve_zone(zone, 0.5).flow / before == approx(0.8, abs=0.07)
    # Taken over twice, nothing moves.
    again = chain.run_chain(taught, planned.record)
    assert shown(again, *entries) == ()


def test_a_meter_at_the_timer_teaches_too(planned):
    """Half an hour a day for thirty days, of which the meter counts only 0.7."""
    zone = planned.zone("top-timer")

    def run_by(d):
        """Since forty days ago, through June and July."""
        months = [ago(each).month for each in range(40, d, -1)]
        return sum(zone.time.design.litres(30.0, m) for m in months) / LITRES_PER_CUBIC_METRE

    meter = [
        LogEntry("meter", ago(d), "top-timer", (5.0 + 0.7 * run_by(d),), "same")
        for d in (40, 34, 28, 22, 16, 10)
    ]
    (claim,) = shown(planned, no_rain(60), set_to(30, 50), *meter)
    assert claim.kind in (ClaimKind.OUTLETS, ClaimKind.SETTING)
    # Nobody dipped its barrel, so that the range is wide.
    assert claim.low <= 0.7 <= claim.high


def test_catch_cups_show_what_is_uneven(planned):
    zone = planned.zone("bottom-bed-timer").zone
    along = first_run.outlets_along(zone)["bottom-bed-row"]
    flow = float(solving.solve_zone(zone, 1.0).outlet_flow[along].mean())
    even = [0.85 * flow * 60] * 12
    cups = LogEntry("cups", ago(1), "bottom-bed-row", (60.0, *even))
    assert list(uneven_lines(told(planned, cups))) == []
    clogged = LogEntry("cups", ago(0, 10), "bottom-bed-row", (60.0, *even[:9], 0.0, 0.0, 0.0))
    (said,) = uneven_lines(told(planned, cups, clogged))
    assert said.values["line"] == "Bottom step, row 1"


def test_what_is_unlikely_is_marked(planned):
    (claim,) = shown(planned, *buckets(planned, [0.3] * 8))
    assert taking_over.is_beyond(planned.garden, claim)


def test_falling_flows_are_named_and_a_flush_ends_them(planned):
    falling = buckets(planned, np.linspace(1.0, 0.6, 8))
    (claim,) = shown(planned, *falling)
    assert (claim.kind, claim.until) == (ClaimKind.FILTER, None)
    flush = LogEntry("flush", ago(17), None)
    after = [
        LogEntry(e.kind, ago(d), e.part_id, e.amounts, e.word)
        for d, e in zip((16, 12, 8), buckets(planned, [1.0] * 3), strict=True)
    ]
    over = shown(planned, *falling, flush, *after)
    assert [c.until is not None for c in over] == [True] * len(over)


# What each fault does to the near and the far half is what hydraulics says of it: common practice.
@pytest.mark.parametrize(
    ("zone", "symptom", "first"),
    [
        ("shed-timer", "far-weak", "line-clog"),
        ("shed-timer", "all-weak", "filter"),
        ("bottom-bed-timer", "all-weak", "filter"),
        ("bottom-bed-timer", "strong", "regulator"),
        ("bottom-bed-timer", "nothing", "valve"),
        ("shed-timer", "puddle", "open-end"),
        ("shed-timer", "evening", "low-store"),
        ("shed-timer", "runs-on", "valve-stays-open"),
    ],
)
def test_a_symptom_leads_to_its_cause(planned, zone, symptom, first):
    found = diagnosis.diagnose(planned.zone(zone).zone, symptom, [])
    assert found.likely[0].kind.id == first
    assert found.likely[0].kind.test
    assert found.likely[0].kind.cure


def test_cups_decide_between_causes(planned):
    zone = planned.zone("bottom-bed-timer").zone
    state = solving.solve_zone(zone, 1.0)

    def cup(part, word, flow):
        return LogEntry("flow", ago(1), part, (flow * 60, 60.0), word)

    along = first_run.outlets_along(zone)["bottom-bed-row"]
    first, last = (float(state.outlet_flow[along[i]]) for i in (0, -1))
    log = [
        cup("bottom-bed-timer", "whole", 9 * state.flow),
        cup("bottom-bed-row", "first", 0.5 * first),
        cup("bottom-bed-row", "last", 0.45 * last),
    ]
    found = diagnosis.diagnose(zone, "all-weak", log)
    assert found.likely[0].kind.id == "open-end"  # much water, little of it at the plants


def _cups(zone, sick) -> list[LogEntry]:
    """What somebody finds at the first run of a zone that runs as `sick` does."""
    answer = first_run.answer_first_run(zone, [])
    log = []
    for point in answer.points:
        along = first_run.outlets_along(zone).get(point.part_id)
        flow = sick.flow
        if point.word != "whole":
            flow = float(sick.outlet_flow[along[0 if point.word == "first" else -1]])
        log.append(LogEntry("flow", ago(1), point.part_id, (flow * 60, 60.0), point.word))
    return log


def test_what_is_measured_at_the_first_run_leads_to_the_cause_that_the_fault_finder_names(planned):
    zone = planned.zone("bottom-bed-timer").zone
    sound = solving.solve_zone(zone, 1.0)
    assert diagnosis.diagnose_measured(zone, _cups(zone, sound)) is None
    named = {}
    for symptom, cause in [("all-weak", "filter"), ("strong", "regulator"), ("nothing", "valve")]:
        pattern = next(
            c.pattern for c in diagnosis.diagnose(zone, symptom, []).likely if c.kind.id == cause
        )
        near, far = np.full(len(sound.outlet_flow) // 2, pattern.near), pattern.far
        factor = np.append(near, np.full(len(sound.outlet_flow) - len(near), far))
        sick = replace(sound, outlet_flow=sound.outlet_flow * factor)
        log = _cups(zone, sick)
        log[0] = replace(log[0], amounts=(sound.flow * pattern.whole * 60, 60.0))
        found = diagnosis.diagnose_measured(zone, log)
        assert found.symptom.id == symptom
        named[cause] = [c.kind.id for c in found.likely]
        assert named[cause] == [c.kind.id for c in diagnosis.diagnose(zone, symptom, log).likely]
        assert cause in named[cause][:3]


def test_water_that_runs_away_is_told_in_times(planned):
    zone = planned.zone("shed-timer").zone
    causes = {c.kind.id: c for c in diagnosis.diagnose(zone, "all-weak", []).likely}
    open_end = causes["open-end"]
    assert open_end.pattern.whole > 3
    assert open_end.said.values["times"].value == round(open_end.pattern.whole)
    assert "whole" in causes["low-store"].said.values


def test_a_sound_zone_is_itself_after_a_trial(planned):
    zone = planned.zone("shed-timer").zone
    before = solving.solve_zone(zone, 0.5).outlet_flow.copy()
    diagnosis.diagnose(zone, "all-weak", [])
    assert (solving.solve_zone(zone, 0.5).outlet_flow == before).all()


def test_upkeep_counts_from_the_log_and_stops_in_winter(planned):
    begun = LogEntry("note", ago(30))
    found = upkeep.answer_upkeep(planned, [begun], TODAY)
    keys = {task.key: task for task in found.tasks}
    battery = keys["battery-top-timer"]
    assert battery.due - begun.at.date() == timedelta(days=round(6 * 30.4))
    assert keys["filter-bottom-bed-filter"].due > begun.at.date()
    done = LogEntry("flush", ago(2), "bottom-bed-filter")
    later = upkeep.answer_upkeep(planned, [begun, done], TODAY)
    again = next(t for t in later.tasks if t.key == "filter-bottom-bed-filter")
    assert again.last == done.at.date()
    assert (
        again.due >= keys["filter-bottom-bed-filter"].due
    )  # both fall into winter, and are put off till it runs
    winter = upkeep.answer_upkeep(planned, [begun], date(2026, 12, 1))
    flush = next(t for t in winter.tasks if t.key == "flush-top-timer")
    assert flush.due.year == 2027


@pytest.fixture(scope="module")
def frosty():
    """The demo four degrees colder: its own winters have next to no frost."""
    months = {
        name: [value - 4 for value in values] if name.startswith("t") else values
        for name, values in demo.normals().items()
    }
    return chain.run_chain(demo.garden(), normals.make_days(months, 4))


@pytest.mark.parametrize(
    ("today", "is_started", "counts_from_spring"),
    [
        (date(2026, 12, 1), False, True),  # the start-up is to come
        (date(2027, 6, 10), True, True),
        (date(2027, 6, 10), False, False),  # nobody wrote that new ones went in
        (date(2027, 4, 30), False, False),
    ],
)
def test_new_batteries_of_the_spring_are_not_due_in_the_middle_of_the_season(
    frosty, today, is_started, counts_from_spring
):
    begun = LogEntry("note", datetime(2026, 12, 1, 9))
    spring = upkeep.answer_upkeep(frosty, [begun], date(2026, 12, 1)).last_frost
    started = LogEntry("upkeep", datetime(2027, 4, 12, 9), note=upkeep.SPRING)
    assert spring is not None
    assert abs((spring - started.at.date()).days) < upkeep.NEAR_ITS_DAY
    found = upkeep.answer_upkeep(frosty, [begun, *([started] if is_started else [])], today)
    due = next(t.due for t in found.tasks if t.key == "battery-shed-timer")
    months = next(t for t in frosty.garden.timers if t.id == "shed-timer")
    lasts = timedelta(days=round(find_timer((), months.kind).battery_months * 30.4))
    since = spring + timedelta(days=1) if counts_from_spring else begun.at.date()
    assert due == since + lasts


def test_frost_brings_the_winter_list(frosty):
    found = upkeep.answer_upkeep(frosty, [], TODAY)
    assert found.first_frost is not None
    assert TODAY < found.first_frost < date(2027, 1, 15)
    winter = next(t for t in found.tasks if t.key == "winter")
    assert winter.due == found.first_frost - timedelta(days=10)
    lists = dict(found.winter)
    assert any("Shed timer" in str(s) for s in lists["Comes in"])
    assert any("Garden tap" in str(s) for s in lists["Is shut and capped"])
    assert {h.pipe.name for h in found.hoses} >= {"Shed hose", "Top step line 1"}


def test_a_task_of_the_year_is_gone_once_it_is_done(frosty):
    before = upkeep.answer_upkeep(frosty, [], TODAY)
    winter = next(t for t in before.tasks if t.key == "winter")
    day = winter.due - timedelta(days=3)
    done = LogEntry("upkeep", on(day), None, (), "", winter.title)
    after = upkeep.answer_upkeep(frosty, [done], day)
    assert not [t for t in after.tasks if t.key == "winter"]
    store = next(t for t in after.tasks if t.key == "store-shed-barrel")
    assert store.last is None  # the list of winter says nothing of a lid


def test_a_changed_setting_wants_a_finger(planned):
    found = upkeep.answer_upkeep(planned, [set_to(20, 1)], TODAY)
    finger = next(t for t in found.tasks if t.kind == "finger")
    assert finger.due == TODAY + timedelta(days=2)
    long_ago = upkeep.answer_upkeep(planned, [set_to(20, 30)], TODAY)
    assert not [t for t in long_ago.tasks if t.kind == "finger"]
    log = [set_to(20, 4), felt("right", 1)]
    assert not [t for t in upkeep.answer_upkeep(planned, log, TODAY).tasks if t.kind == "finger"]


def test_first_run_points_and_levels(planned):
    zone = planned.zone("shed-timer").zone
    half = first_run.answer_first_run(zone, [])
    dip = LogEntry("dip", ago(0), "shed-barrel", (1.0,))
    full = first_run.answer_first_run(zone, [dip])
    assert full.level == 1.0
    assert full.points[0].solved > half.points[0].solved
    gave = LogEntry("flow", ago(0, 10), "shed-timer", (full.points[0].solved * 60, 60.0), "whole")
    measured = first_run.answer_first_run(zone, [dip, gave])
    assert measured.points[0].is_near
    weak = LogEntry("flow", ago(0, 11), "middle-line-1", (1e-6, 60.0), "last")
    assert "instead of" in str(first_run.answer_first_run(zone, [dip, gave, weak]).verdict.summary)
    (flush,) = [a for a in half.acts if a.key.endswith("flush")]
    assert "Middle step line 1" in str(flush.sentence)
    assert "Shed hose" not in str(flush.sentence)  # its end is no open end


def test_branches_are_balanced_by_cup(planned):
    """Two beds on one hose: the cups asked for are what the throttled network gives."""
    garden = demo.garden()
    row = next(p for p in garden.pipes if p.id == "top-line-2")
    moved = row.model_copy(update={"waters": "hedge"})
    both = edits.put(garden, "pipes", moved)
    zone = next(z for z in zones.zones_of(both) if z.id == "top-timer")
    found = first_run.answer_first_run(zone, [])
    assert [s.name for s in found.settings] == ["Top step", "Currant hedge"]
    assert sum(s.is_open for s in found.settings) == 1
    throttled = throttling.throttle(zone)
    state = solving.solve_zone(throttled.zone, throttling.LEVEL)
    for setting, (_, own) in zip(found.settings, throttling.branches_of(zone), strict=True):
        assert setting.cup.value == approx(60 * state.outlet_flow[own[0]], rel=1e-9)
    first, _ = found.settings
    assert first.valve is None  # there is none on the plan yet
    for share, said in (
        (1.5, "close it further"),
        (0.5, "open it a little"),
        (1.05, "as it should be"),
    ):
        cup = LogEntry("flow", ago(0), first.part_id, (share * first.cup.value, 60.0), "balanced")
        again, open_one = first_run.answer_first_run(zone, [cup]).settings
        assert (again.judged, again.is_set) == (said, share == 1.05)
        assert open_one.judged == "stays open"
        points = first_run.answer_first_run(zone, [cup]).points
        assert all(
            p.measured is None for p in points
        )  # a throttled cup says nothing of the outlets


def test_points_to_measure_lie_where_they_are_drawn(planned):
    zone = planned.zone("shed-timer").zone
    points = first_run.answer_first_run(zone, []).points
    timer = next(t for t in zone.garden.timers if t.id == "shed-timer")
    assert points[0].at == (timer.at.x_m, timer.at.y_m)
    line = next(p for p in zone.pipes if p.id == "middle-line-1")
    ends = {p.word: p.at for p in points if p.part_id == line.id}
    x, y = line.places_at([line.drawn_m])[0]
    assert np.hypot(ends["last"][0] - x, ends["last"][1] - y) < 0.5
    assert ends["first"] != ends["last"]


@pytest.mark.parametrize(
    ("leaf", "finger", "minutes", "advice", "words"),
    [
        ("yellow", "muddy", 120, Advice.CUT, "roots without air"),
        ("droop", "right", 60, Advice.WAIT, "heat, wind or salt"),
        ("yellow", "right", 60, Advice.FEED, "hungry"),
        ("droop", "dry", 1, Advice.RAISE, "now, then more"),
        ("crisp", "dry", 120, Advice.LOOK, "given enough"),
        ("fine", "right", 60, Advice.LEAVE, "leave it"),
    ],
)
def test_a_leaf_asks_and_the_finger_decides(planned, leaf, finger, minutes, advice, words):
    seen = LogEntry("leaf", ago(0, 10), "top-bed", (), leaf)
    found = reading(planned, no_rain(40), set_to(minutes, 30), felt(finger), seen)
    assert found.advice is advice
    assert words in str(found.summary)


@pytest.mark.parametrize("minutes", [1, 120])
@pytest.mark.parametrize("leaf", ["droop", "crisp", "yellow"])
def test_a_leaf_alone_asks_for_a_finger(planned, leaf, minutes):
    seen = LogEntry("leaf", ago(0, 10), "top-bed", (), leaf)
    found = reading(planned, no_rain(40), set_to(minutes, 30), seen)
    assert (found.advice, found.summary.code) == (Advice.FEEL, "keeping-feel-the-soil-first")


def test_drooping_at_noon_is_looked_at_again_in_the_evening(planned):
    seen = LogEntry("leaf", ago(0, 13), "top-bed", (), "noon")
    alone = reading(planned, no_rain(40), set_to(60, 30), seen)
    assert alone.summary.code == "keeping-look-in-the-evening"
    right = reading(planned, no_rain(40), set_to(60, 30), seen, felt("right"))
    assert right.advice is Advice.LEAVE
    dry = reading(planned, no_rain(40), set_to(1, 30), seen, felt("dry"))
    assert dry.advice is Advice.RAISE


@pytest.mark.parametrize(("finger_hour", "leaf_hour"), [(8, 18), (18, 8), (9, 9)])
def test_signs_of_one_day_are_read_together_whichever_came_first(planned, finger_hour, leaf_hour):
    finger = LogEntry("finger", ago(0, finger_hour), "top-bed", (), "muddy")
    leaf = LogEntry("leaf", ago(0, leaf_hour), "top-bed", (), "droop")
    found = reading(planned, no_rain(40), set_to(120, 30), finger, leaf)
    assert found.summary.code == "keeping-leaves-suffer-muddy"
    assert found.advice is Advice.CUT


def test_muddy_after_a_night_of_rain_skips_a_run_and_leaves_the_dial(planned):
    night = LogEntry("rain", ago(0, 8), None, (0.025,))
    found = reading(planned, no_rain(40), night, set_to(60, 30), felt("muddy"))
    assert found.advice is Advice.SKIP
    skip = found.reasons[-1]
    assert (skip.code, skip.values["days"].value / 86400) == ("keeping-skip-days", 2)
    assert not any(r.code.startswith("keeping-set") for r in found.reasons)


def test_a_bed_far_behind_gets_its_litres_now(planned):
    found = reading(planned, no_rain(40), set_to(1, 30), felt("dry"))
    said = found.summary.values["said"]
    track = told(planned, no_rain(40), set_to(1, 30), felt("dry")).track("top-bed")
    assert said.code == "keeping-dry-give-now"
    lacking = track.run.depletion[-1] * track.way.need.area_m2
    assert said.values["litres"].value * 1000 == approx(lacking)
    watered = LogEntry("watered", ago(0, 10), "top-bed", (2 * lacking / 1000,))
    after = reading(planned, no_rain(40), set_to(1, 30), felt("dry"), watered)
    assert after.summary.values["said"].code == "keeping-dry-by-sums"


def test_what_was_felt_last_week_is_felt_again(planned):
    old = reading(planned, no_rain(40), set_to(1, 30), felt("dry", signs.AGED_D + 1))
    assert (old.advice, old.summary.code) == (Advice.FEEL, "keeping-feel-again")


def test_a_setting_changed_since_is_waited_for(planned):
    found = reading(planned, no_rain(40), set_to(1, 30), felt("dry", 2), set_to(60, 1))
    assert found.summary.code == "keeping-setting-changed-since"


def test_plants_that_suffer_come_before_plants_too_wet(planned):
    wet, dry = felt("muddy", bed="bottom-bed"), felt("dry", 1, bed="middle-bed")
    found = readings(told(planned, no_rain(40), set_to(120, 30), wet, dry), TODAY)
    assert [r.track.way.need.part.id for r in found] == ["middle-bed", "bottom-bed"]


def test_rain_that_did_not_reach_the_soil_is_thought_of(planned):
    shower = LogEntry("rain", ago(1, 18), None, (0.02,))
    found = reading(planned, no_rain(40), shower, set_to(1, 30), felt("dry"))
    assert any(r.code == "keeping-rained-well-just" for r in found.reasons)
    unlogged = reading(planned, set_to(1, 30), felt("dry"))
    assert any(r.code == "keeping-rain-log-sums" for r in unlogged.reasons)


def test_what_is_watered_by_hand_is_told_in_litres(planned):
    by_hand = edits.remove(demo.garden(), "shed-timer")
    bare = chain.run_chain(by_hand, normals.make_days(demo.normals(), 2))
    soaked = LogEntry("watered", ago(1, 18), "middle-bed", (0.5,))
    found = reading(bare, no_rain(40), soaked, felt("muddy", bed="middle-bed"))
    assert found.advice is Advice.CUT
    assert found.reasons[-1].code == "keeping-hand-day-height"
    assert found.reasons[-1].values["litres"].value > 0.001


@pytest.mark.parametrize("part_id", ["top-bed", "patio-pots"])
def test_thirst_is_taken_over_by_beds_and_pots_alike(planned, part_id):
    name = next(p.name for p in planned.garden.planted if p.id == part_id)
    claim = Claim(ClaimKind.THIRST, part_id, name, 1.2, 1.1, 1.3, None, None, 0.99)
    garden = taking_over.taken_over(demo.garden(), claim)
    part = next(p for p in garden.planted if p.id == part_id)
    assert part.need_factor == approx(1.2)


def test_upkeep_says_what_is_next_when_nothing_is_due(planned):
    done = upkeep.answer_upkeep(planned, [], TODAY)
    assert not any(task.is_due(TODAY) for task in done.tasks)
    assert done.verdict.summary.code == "keeping-due-next"
    bare = chain.run_chain(
        demo.garden().model_copy(
            update=dict.fromkeys(
                (
                    "beds",
                    "pots",
                    "pipes",
                    "timers",
                    "fittings",
                    "downspouts",
                    "stores",
                    "taps",
                    "greywaters",
                ),
                (),
            )
        ),
        None,
    )
    assert "Nothing here needs upkeep" in str(upkeep.answer_upkeep(bare, [], TODAY).verdict.summary)


def test_what_is_set_as_planned_goes_a_step_of_the_dial(planned):
    setting = planned.zone("top-timer").time.months[TODAY.month - 1].setting.position
    as_planned = LogEntry(
        "setting",
        ago(30),
        "top-timer",
        (setting.run_minutes * 60.0 * setting.runs_a_day, setting.mean_days * 86400.0),
    )
    known = told(planned, no_rain(40), as_planned)
    track = known.track("top-bed")
    for is_more, way in ((True, "further"), (False, "back")):
        *_, last = set_otherwise(known.log, track, ago(0), known.day(ago(0)), is_more)
        assert f"one step of the dial {way}" in str(last)
    *_, unset = set_otherwise([no_rain(40)], track, ago(0), known.day(ago(0)), True)
    assert unset.code == "keeping-one-step"


@pytest.mark.parametrize("month", range(1, 13))
def test_what_water_wears_is_due_in_months_in_which_the_zone_waters(planned, month):
    today = date(2026, month, 14)
    on = {
        z.zone.id: {m.month for m in z.running.months if m.setting}
        for z in planned.zones
        if z.running
    }
    heads = {piece.id: z.zone.id for z in planned.zones for piece in z.zone.way.parts}
    for task in upkeep.answer_upkeep(planned, [], today).tasks:
        kind, _, name = task.key.partition("-")
        zone = {"filter": heads.get(name), "flush": name}.get(kind)
        if on.get(zone):
            assert task.due.month in on[zone], task.title
            assert (task.why.code == "keeping-after-day-now") <= (month in on[zone])


def test_where_nobody_read_a_gauge_as_much_falls_as_in_a_middling_year(planned):
    """Nothing would dry every bed out and empty every store in the sums; a mean day's drizzle has no dry weeks."""
    record = planned.record
    sums = [record.precip[record.year == year].sum() for year in np.unique(record.year)]
    day = date(int(record.year[-1]) + 3, 12, 31)
    fell = hindcast.hindcast(planned, [], day).record.precip
    assert sum(rain <= fell.sum() + 1e-6 for rain in sums) >= len(sums) / 2
    assert sum(rain >= fell.sum() - 1e-6 for rain in sums) >= len(sums) / 2
    assert (fell == 0).mean() > 0.4
