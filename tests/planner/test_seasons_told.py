"""The seasons told: odds, other plans, the week, the present setting, and nobody at home."""

from dataclasses import fields, replace
from datetime import date, timedelta
from itertools import pairwise

import numpy as np
import pytest
from pydantic import ValidationError
from pytest import approx

from euhydra.core import bed, programme, works_record
from euhydra.garden import catalogue, demo, edits, normals
from euhydra.garden.model import Place
from euhydra.garden.timers import OwnTimer, Timer
from euhydra.planner.answers import Mark, PlanError
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement import trying
from euhydra.planner.judgement.answer import judge
from euhydra.planner.need import daily
from euhydra.planner.need.answer import answer_need
from euhydra.planner.season import absence, away, odds, variants
from euhydra.planner.season.absence import Absence
from euhydra.planner.season.week import SHORTEST_SHOWN, answer_week, runs_over
from euhydra.planner.time import dayplan, orders, outcomes, present_setting
from euhydra.planner.time.programme import runs_of
from euhydra.web.drawing import watercourse
from gardens import one_barrel, tapped, with_part

RECORD = normals.make_days(demo.normals(), 10)


@pytest.fixture(scope="module")
def chain():
    return run_chain(demo.garden(), RECORD)


@pytest.fixture(scope="module")
def told(chain):
    return odds.answer_odds(chain.season)


def times(chain):
    return [z.running for z in chain.zones if z.running]


# Odds


def test_days_too_dry_are_counted_from_the_root_zones(chain, told):
    season = chain.season
    for way, run in zip(season.ways, season.beds, strict=True):
        row = told.by_key[f"stress-{way.need.part.id}"]
        assert row.by_year.sum() / 86400 == run.is_stressed.sum()
        assert row.by_year.max() / 86400 >= row.poor / 86400 - 1
        assert row.middling % 86400 == 0  # whole days are told


def test_a_season_keeps_the_rule_that_its_settings_claim_while_there_is_water(chain):
    """The same programme replayed day by day: what the settings promise has to come true."""
    for answer in times(chain):
        for share in answer.beds:
            need = share.need
            days = runs_of(answer.programme, RECORD, [b.need for b in answer.beds])
            litres = answer.design.litres_each(days.minutes, RECORD.month)
            inputs = bed.BedInputs(
                need.area_m2,
                need.rain,
                need.crop_et,
                need.total,
                need.ready,
                need.is_growing,
                np.full(len(litres), share.efficiency),
                np.minimum(days.runs, need.steps),
                need.steps,
            )
            run = bed.run_bed(inputs, litres * share.flow_share)
            dry = run.is_stressed.sum() / need.is_growing.sum()
            assert dry <= 0.05 + 0.02, answer.zone.name


def test_stores_that_run_dry_say_when(told):
    said = [str(s) for s in odds.dry_sentences(told)]
    assert len(said) == 3
    name, share, first = told.dry_odds[1]
    assert name == "Shed barrel"
    assert 0.5 < share <= 1
    assert 120 < first < 240
    assert odds.date_in_words(189) == "8 July"


def test_litres_and_money_add_up(chain, told):
    tap = told.by_key["tap-garden-tap"].by_year
    assert told.by_key["money"].by_year == approx(tap * 2.15)
    drawn = sum(chain.season.run.drawn_from(i).sum() for i in range(3))
    assert told.by_key["stored"].by_year.sum() * 1000 == approx(drawn)


def test_what_sinks_past_the_roots_is_one_figure_everywhere(chain, told):
    season = chain.season
    lost = told.by_key["drained"].by_year.sum() * 1000
    assert lost == approx(season.lost_past_roots.sum())
    watered = sum(
        run.watered.sum() * way.need.area_m2
        for way, run in zip(season.ways, season.beds, strict=True)
    )
    assert 0 < lost < watered
    sinking = next(
        s
        for s in watercourse.draw(chain, judge(chain), 3).sides
        if s.label == "sink past the roots"
    )
    assert sinking.litres == approx(lost / RECORD.years)


# Other plans


def test_variants_are_gardens_that_hold_together():
    garden = demo.garden()
    found = {v.key: v for v in variants.variants_of(garden)}
    assert {"mulch", "more-shed-barrel", "without-shed-barrel", "timer-clock-ball"} <= set(found)
    assert found["mulch"].garden.beds[0].mulch == "thick"
    assert found["more-shed-barrel"].garden.stores[2].count == garden.stores[2].count + 1
    assert "shed-barrel" not in {s.id for s in found["without-shed-barrel"].garden.stores}


def test_a_barrel_more_never_makes_the_beds_drier(told):
    more = next(v for v in variants.variants_of(demo.garden()) if v.key == "more-wall-tank")
    beside = odds.answer_odds(run_chain(more.garden, RECORD).season)
    top = "stress-top-bed"
    assert beside.by_key[top].by_year.sum() <= told.by_key[top].by_year.sum()
    dry = next(key for key in told.by_key if key.startswith("dry-"))
    assert beside.by_key[dry].by_year.sum() <= told.by_key[dry].by_year.sum()


# The week


def test_no_store_gives_to_two_zones_at_once_and_no_tap_more_than_it_has(chain):
    for month in range(4, 11):
        slots = dayplan.plan_day(times(chain), month).slots
        for i, one in enumerate(slots):
            for other in slots[i + 1 :]:
                if (
                    one.source_id == other.source_id
                    and one.start < other.end
                    and other.start < one.end
                ):
                    flow = one.litres / one.seconds + other.litres / other.seconds
                    assert one.source_id == "garden-tap"
                    assert flow <= 0.75 * 10 / 24 + 1e-9  # three quarters of 10 L in 24 s (CP)


def test_warm_crops_wait_for_the_sun_on_a_cold_tap(chain):
    answer = next(t for t in times(chain) if t.zone.name == "Bottom step")
    plan = dayplan.plan_day(times(chain), 7)
    assert min(plan.starts_of(answer.zone)) >= dayplan.WARM_HOUR
    assert answer.zone in plan.warmed
    assert answer.zone not in plan.shifted


def test_runs_that_cannot_end_in_time_are_named(chain):
    late = []
    for answer in times(chain):
        head = answer.zone.head.model_copy(update={"window_s": 600.0})
        zone = replace(answer.zone, head=head)
        late.append(replace(answer, design=replace(answer.design, zone=zone)))
    week = answer_week(late, chain.season, 7)
    assert week.verdict.mark is Mark.FAILS
    assert "“Top step”" in str(week.verdict.summary)


def test_the_week_gives_what_the_season_gave(chain):
    season = chain.season
    week = answer_week(times(chain), season, 7)
    first = int(np.flatnonzero(RECORD.days == week.first)[0])
    assert str(week.first)[5:7] == "07"
    for tank, level in enumerate(week.levels):
        evenings = [level.litres[-1]]
        assert evenings[0] == approx(season.run.level[tank][first + 6])
        fallen = level.litres[0] - min(level.litres)
        assert fallen <= season.run.drawn_from(tank)[first : first + 7].sum() + 1e-6
    lasts = {slot.name: 0.0 for _, slot in week.runs}
    for _, slot in week.runs:
        lasts[slot.name] += slot.seconds / 60
    days = runs_of(times(chain)[0].programme, RECORD, [times(chain)[0].beds[0].need])
    assert lasts["Top step"] == approx(days.minutes[first : first + 7].sum())


def test_new_plants_are_watered_daily_and_young_ones_are_not_left_to_the_rain(chain):
    """Courgettes go out in mid-May: rain carries a mean May, and yet something runs."""
    answer = next(t for t in times(chain) if t.zone.name == "Bottom step")
    assert answer.months[4].setting is not None
    assert answer.months[4].need is None
    assert answer.programme.new is not None
    days = runs_of(answer.programme, RECORD, [b.need for b in answer.beds])
    first = int(np.flatnonzero(days.minutes > 0)[0])
    runs = runs_over(answer, days, (), first, 3)
    assert [day for day, _ in runs] == [0, 1, 2]
    assert runs[0][1].start == dayplan.WARM_HOUR
    assert runs[0][1].litres == approx(
        answer.design.litres(float(days.minutes[first]), int(RECORD.month[first]))
    )


def test_a_timer_that_adjusts_runs_only_as_long_as_the_roots_lack():
    """What the week shows is what the replay gave, litre by litre."""
    chain = run_chain(with_part(tapped(), "timers", kind="weather"), RECORD)
    answer = chain.zones[0].time
    full = runs_of(answer.programme, RECORD, [answer.beds[0].need]).minutes
    real = chain.season.runs_of(answer).minutes
    assert (real <= full + 1e-9).all()
    assert 0 < real.sum() < 0.9 * full.sum()
    litres = answer.design.litres_each(full, RECORD.month) * np.divide(
        real, full, out=np.zeros_like(full), where=full > 0
    )
    assert litres == approx(
        np.minimum(chain.season.run.supplied(0), answer.design.litres_each(full, RECORD.month))
    )
    week = answer_week([answer], chain.season, 7)
    first = int(np.flatnonzero(RECORD.days == week.first)[0])
    shown = sum(slot.seconds for _, slot in week.runs) / 60
    assert shown == approx(real[first : first + 7].sum(), abs=7 * SHORTEST_SHOWN)
    assert shown < full[first : first + 7].sum()


def test_a_moisture_switch_leaves_out_whole_runs_and_keeps_the_promise():
    chain = run_chain(with_part(tapped(), "timers", kind="moisture"), RECORD)
    answer = chain.zones[0].time
    due = runs_of(answer.programme, RECORD, [answer.beds[0].need])
    done = chain.season.runs_of(answer)
    runs = done.minutes > 0
    assert done.minutes[runs] == approx(due.minutes[runs])
    assert 0.2 < runs.sum() / (due.minutes > 0).sum() < 0.95
    assert chain.season.run.supplied(0)[runs] == approx(
        answer.design.litres_each(due.minutes, RECORD.month)[runs]
    )
    assert answer.promised <= 0.05


def test_a_garden_on_a_hose_alone_has_its_seasons_told():
    chain = run_chain(tapped(), RECORD)
    assert "no store yet" in str(chain.store.sentence)
    told = odds.answer_odds(chain.season)
    assert told.by_key["tap-garden-tap"].by_year.min() > 0
    assert told.by_key["stress-middle-bed"].by_year.mean() / 86400 < 30
    assert watercourse.draw(chain, judge(chain), 3).is_dry is False
    days = {"leaves": date(2026, 7, 10), "returns": date(2026, 7, 24)}
    answer = away.answer_away(chain.season, Absence(**days, last_watered=days["leaves"], filled=()))
    assert answer.verdict.mark is Mark.WORKS


def test_what_is_opened_by_turns_becomes_a_rota():
    garden = with_part(one_barrel(), "timers", kind="by-hand")
    chain = run_chain(garden, RECORD)
    week = answer_week(times(chain), chain.season, 7)
    assert week.by_hand
    assert {slot.name for _, slot in week.by_hand} == {"Middle step"}


def test_orders_for_table_and_calendar_have_a_start_for_every_run(chain):
    for order in orders.month_orders(times(chain)):
        if order.position is not None:
            assert len(order.starts) == order.position.runs_a_day
            assert order.litres_a_run > 0


# The present setting


@pytest.mark.parametrize(
    ("minutes", "every", "judged"), [(2, 3, "too little"), (120, 1, "too much")]
)
def test_the_present_setting_is_judged_from_the_roots(minutes, every, judged):
    garden = with_part(one_barrel(), "timers", set_minutes=minutes * 60.0, set_every_d=every)
    found = present_setting.judge(run_chain(garden, RECORD).zones[0].time)
    july = next(m for m in found.months if m.month == 7)
    assert july.judged == judged
    assert found.verdict.mark is not Mark.WORKS
    litres = found.figures[0].working.inputs
    more = litres["as set now"].value > litres["by the plan"].value
    assert more is (judged == "too much")


def test_the_plan_itself_is_judged_about_right():
    chain = run_chain(one_barrel(), RECORD)
    july = chain.zones[0].time.months[6].setting.position
    garden = with_part(
        one_barrel(), "timers", set_minutes=july.run_minutes * 60, set_every_d=round(july.mean_days)
    )
    found = present_setting.judge(run_chain(garden, RECORD).zones[0].time)
    assert next(m for m in found.months if m.month == 7).judged == "about right"
    assert present_setting.judge(chain.zones[0].time) is None  # nothing is set yet


# Timers


def test_a_better_timer_is_proposed_and_is_better():
    coarse = OwnTimer(
        id="own-timer", name="Coarse", run_minutes=(5.0,), interval_days=(3.0,), delay_days=()
    )
    garden = one_barrel().model_copy(update={"own_timers": (coarse,)})
    garden = with_part(garden, "timers", kind="own-timer")
    judged = judge(run_chain(garden, RECORD))
    answer = judged.chain.zones[0].time
    assert answer.verdict.mark is not Mark.WORKS
    assert answer.timer.name == "Coarse"
    assert all(m.setting.position.run_minutes == 5 for m in answer.months if m.setting)
    found = next(f for f in judged.findings if f.station == "time")
    assert "cure-other-timer" in [cure.change.code for cure in trying.cures_of(judged, found)]


def test_every_timer_that_ships_can_be_set():
    for kind in catalogue.timers().values():
        assert kind.positions.run_minutes == tuple(sorted(kind.positions.run_minutes))
        assert kind.positions.interval_days[0] > 0
        assert kind.source


@pytest.mark.parametrize(("month", "low", "high"), [(5, 2, 5), (7, 1, 3)], ids=["spring", "summer"])
def test_intervals_are_near_what_is_common(chain, month, low, high):
    # Common practice: every third day in spring, every second in summer. The beds here hold more
    # or less than the rule's: deep soil stretches it, a clock timer's fine steps shorten it.
    for time in times(chain):
        setting = time.months[month - 1].setting
        if setting is not None and time.zone.beds:
            assert low - 1 <= setting.position.mean_days <= high + 1


def test_pots_are_watered_daily_or_twice_in_summer_or_hold_longer():
    # Common practice: pots daily, 10 to 15 minutes; small ones twice in great heat. The demo's
    # pots hold 25 L of good mix each, and so last two days; half as wide they want it daily.
    def july(**changes):
        chain = run_chain(with_part(demo.garden(), "pots", **changes), RECORD)
        pots = next(t for t in times(chain) if t.zone.name == "Patio pots")
        return pots.months[6].setting.position

    assert july().mean_days <= 2
    small = july(across_m=0.2, canopy_m=0.4, exposure="wall")
    assert small.mean_days == 1
    assert small.runs_a_day >= 2


def test_a_reserve_under_the_soil_stretches_the_interval_and_says_how_long_it_fills():
    def pots(litres):
        chain = run_chain(with_part(demo.garden(), "pots", reserve_m3=litres / 1000), RECORD)
        return next(t for t in times(chain) if t.zone.name == "Patio pots")

    bare, deep = pots(0), pots(8)
    group = deep.beds[0].need.part
    more = deep.beds[0].need.ready - bare.beds[0].need.ready
    assert more[deep.beds[0].need.is_growing & ~deep.beds[0].need.is_new] == approx(
        8 / group.canopy_m2
    )
    assert deep.months[6].setting.position.mean_days > bare.months[6].setting.position.mean_days
    assert bare.fills == ()
    # By hand: litres under all of them over the litres an hour that come.
    lowest = min(deep.design.months_that_ask, key=deep.design.level_in)
    hourly = deep.design.litres(60, lowest) * deep.beds[0].flow_share
    assert deep.fills[0].amount.value == approx(8 * group.plants / hourly * 3600)


# Away


def gone(chain, **changes):
    leaves = date(2026, 7, 10)
    values = {
        "leaves": leaves,
        "returns": leaves + timedelta(days=14),
        "last_watered": leaves,
        "filled": (1.0, 1.0, 1.0),
    }
    return away.answer_away(chain.season, Absence(**values | changes))


def test_what_nobody_waters_suffers_first(chain):
    answer = gone(chain)
    assert answer.beds[0].way.need.part.id == "hedge"  # its laundry line is idle
    assert not answer.beds[0].is_served
    assert answer.beds[0].holds < 0.5
    wanting = [b for b in answer.beds if b.first_dry is not None]
    assert answer.visit_every <= min(b.first_dry for b in wanting)
    # Nobody is asked to carry more to a bed than ten cans at once, nor more than its roots can hold.
    for each in wanting:
        assert each.visit_l(answer.visit_every) <= min(away.CARRIED_AT_ONCE, each.takes_l) + 1e-9
        assert each.visit_cans(answer.visit_every) <= 10
    by_name = {b.way.need.part.id: b.holds for b in answer.beds}
    assert by_name["bottom-bed"] == 1.0  # a timer on a tap


def test_fuller_stores_hold_no_worse_and_less_than_nothing_is_refused(chain):
    full, empty = gone(chain), gone(chain, filled=(0.0, 0.0, 0.0))
    for bed_full in full.beds:
        same = next(b for b in empty.beds if b.way.need.part.id == bed_full.way.need.part.id)
        assert same.holds <= bed_full.holds + 1e-9
    top = next(b for b in empty.beds if b.way.need.part.id == "top-bed")
    assert top.holds < 0.5
    assert any(cure.change.code == "season-fill-stores" for cure in empty.verdict.advice)


def test_each_store_is_as_full_as_was_dipped(chain):
    one, other = gone(chain, filled=(0.0, 1.0, 1.0)), gone(chain, filled=(1.0, 0.0, 1.0))
    fed_by_barrel = next(w.need.part.id for w in chain.season.ways if w.need.part.id == "top-bed")

    def holds(answer):
        return next(b.holds for b in answer.beds if b.way.need.part.id == fed_by_barrel)

    assert holds(one) != holds(other)


def test_a_day_away_is_nothing(chain):
    assert gone(chain, returns=date(2026, 7, 11)).verdict.mark is Mark.WORKS


@pytest.mark.parametrize(
    ("changes", "message"),
    [
        ({"returns": date(2026, 7, 1)}, "come back before you leave"),
        ({"last_watered": date(2026, 7, 12)}, "after you leave"),
        ({"returns": date(2027, 7, 1)}, "more than 120 days"),
        ({"filled": (1.0, 1.5, 1.0)}, "between empty"),
    ],
)
def test_absences_that_cannot_be(chain, changes, message):
    with pytest.raises(PlanError, match=message):
        gone(chain, **changes)


def test_in_winter_nothing_can_go_dry():
    chain = run_chain(one_barrel(), RECORD)
    winter = Absence(date(2026, 1, 5), date(2026, 1, 20), date(2026, 1, 5), (1.0,))
    with pytest.raises(PlanError, match="Nothing grows"):
        away.answer_away(chain.season, winter)


def test_the_stores_balance_while_nobody_is_there(chain):
    season = chain.season
    gone = Absence(date(2026, 7, 10), date(2026, 7, 24), date(2026, 7, 10), (0.6, 0.2, 1.0))
    works = absence.works_of(season, gone, slice(200, 200 + gone.days))
    run = works_record.run_waterworks(works)
    assert all(abs(run.residual(tank)) < 1e-6 for tank in range(len(works.tanks)))
    assert isinstance(season.garden.timers[0], Timer)


# Weather and places that tell little


def cut(record, days):
    return type(record)(*(getattr(record, f.name)[:days] for f in fields(record)))


def test_weather_that_ends_mid_season_is_said():
    part = odds.answer_odds(run_chain(one_barrel(), cut(RECORD, 365 + 200)).season)
    assert part.years == (RECORD.year[0],)
    assert part.verdict.reasons[0].code == "season-weather-ends-mid"
    less = odds.answer_odds(run_chain(one_barrel(), cut(RECORD, 200)).season)
    assert less.verdict.reasons[0].code == "season-weather-holds-whole"


def test_beyond_a_polar_circle_temperatures_do_not_do():
    place = Place(latitude_deg=78.2, elevation_m=10)
    garden = edits.replace(one_barrel(), place=place)
    answer = answer_need(daily.need_of(garden.beds[0], garden, RECORD), garden)
    assert answer.verdict.reasons[0].code == "need-garden-lies-beyond"
    assert np.isfinite(answer.need.net).all()


@pytest.mark.parametrize(
    ("changes", "message"),
    [
        ({"run_minutes": ()}, "has no positions: list its runs"),
        ({"interval_days": ()}, "has no positions: list its days"),
        ({"run_minutes": (10.0, 5.0)}, "have to rise"),
        ({"run_minutes": (0.0, 5.0)}, "have to rise"),
        ({"run_minutes": (5.0, 2000.0)}, "longer than a day"),
        ({"delay_days": (0.25,)}, "half a day"),
    ],
)
def test_timers_that_cannot_be_set_are_refused(changes, message):
    with pytest.raises(ValidationError, match=message):
        OwnTimer(id="own-timer", name="Odd", **changes)


def test_a_timer_whose_shortest_run_does_not_fit_the_day_says_so():
    long = OwnTimer(id="own-timer", name="Long", run_minutes=(90.0,), interval_days=(7.0,))
    garden = one_barrel().model_copy(update={"own_timers": (long,)})
    garden = with_part(garden, "timers", kind="own-timer", window_s=1800.0)
    answer = run_chain(garden, RECORD).zones[0].time
    assert "time-shortest-run-longer" in {reason.code for reason in answer.verdict.reasons}


def test_a_body_has_no_more_timers_than_outlets():
    with pytest.raises(ValidationError, match="has 1 outlet, and 2 timers"):
        with_part(demo.garden(), "timers", 1, body="shed-timer")
    four = with_part(demo.garden(), "timers", 3, kind="manifold-4")
    two = with_part(four, "timers", 2, body="bottom-bed-timer", kind="manifold-4")
    plan = dayplan.plan_day(times(run_chain(two, RECORD)), 7)
    own = [s for s in plan.slots if s.zone.name in ("Bottom step", "Patio pots")]
    assert all(a.end <= b.start + 1e-6 for a, b in pairwise(own))


def test_off_is_a_setting_that_keeps_the_rule():
    """The whole plan, months that are off among it, tried as one: none that is off goes dry."""
    off = 0
    months = {name: list(values) for name, values in demo.normals().items()}
    months["precip_mm"][10], months["wet_days"][10] = 350.0, 27.0
    for time in times(run_chain(demo.garden(), normals.make_days(months))):
        as_planned = [m.setting.position if m.setting else outcomes.OFF for m in time.months]
        for month, tried in zip(
            time.months, outcomes.lived(time.design, [as_planned])[0], strict=True
        ):
            if month.setting is None and tried is not None:
                assert max(bed.stressed for bed in tried.beds) <= programme.STRESSED_DAYS
                assert tried.setting.litres_a_day == 0
                off += 1
    assert off  # November on the bottom step


def test_where_no_water_helps_a_timer_is_not_simply_off():
    # A hose too thin for any setting: each month in season has one, and the verdict says dry.
    garden = one_barrel()
    hose = next(i for i, pipe in enumerate(garden.pipes) if pipe.id == "shed-hose")
    garden = with_part(garden, "pipes", hose, bore_m=0.002, length_m=60.0)
    time = run_chain(garden, RECORD).zones[0].time
    july = time.months[6]
    assert july.choice is not None
    assert max(bed.stressed for bed in july.choice.beds) > programme.STRESSED_DAYS
    assert time.verdict.mark is not Mark.WORKS
