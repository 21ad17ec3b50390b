"""Rules of assembly, zones, pumps, throttles and holes: each verdict against a case made for it."""

import pytest
from pytest import approx

from euhydra.garden import edits
from euhydra.garden.beds import Bed, PlantingDate
from euhydra.garden.part import Point
from euhydra.garden.patches import Patch
from euhydra.garden.pipes import EndKind, Fitting, Pump
from euhydra.garden.sources import Tap
from euhydra.planner.answers import Mark
from euhydra.planner.lay import proposed_lines, proposed_zones, rules
from euhydra.planner.lay.answer import answer_lay
from euhydra.planner.lay.wishes import Method, Wish
from euhydra.planner.push import cures, drives, grading, lengths, shortfalls
from euhydra.planner.push.answer import answer_push
from euhydra.planner.water import laws, solving, throttling, zones
from gardens import long_row, one_barrel, with_part
from told import faults_in

TAP = Tap(id="tap", name="Tap", at=Point(x_m=1, y_m=-2), bucket_m3=0.01, fills_in_s=24.0)


def on_tap(line="line-2", **more):
    garden = edits.remove(edits.put(one_barrel(), "taps", TAP), "middle-line-header")
    for part_id in ("middle-line-1", "middle-line-2", "shed-hose", "shed-timer"):
        garden = edits.remove(garden, part_id)
    return proposed_lines.lay(
        garden, Wish("middle-bed", "tap", Method.ROWS, line, spacing_m=0.3, **more)
    )


def found_in(garden):
    return list(rules.find_all(garden, rules.states_of(garden)))


def says(garden, code):
    return [finding for finding in found_in(garden) if finding.message.code == code]


def test_a_tap_with_everything_in_order_is_clean():
    assert found_in(on_tap(timer="dial-solenoid")) == []


@pytest.mark.parametrize(
    ("part", "code", "mark"),
    [
        ("middle-bed-backflow", "lay-no-backflow-preventer", Mark.FAILS),
        ("middle-bed-regulator", "lay-too-much-head", Mark.FAILS),
        ("middle-bed-filter", "lay-no-filter", Mark.BUT),
    ],
)
def test_a_missing_piece_is_named(part, code, mark):
    garden = edits.remove(on_tap("line-low" if "regulator" in part else "line-2"), part)
    findings = says(garden, code)
    assert findings
    assert {finding.mark for finding in findings} == {mark}


def test_pieces_in_the_wrong_order_and_threads_that_do_not_mate():
    garden = on_tap()
    regulator = next(f for f in garden.fittings if f.kind == "regulator")
    garden = edits.remove(garden, regulator.id)
    early = regulator.model_copy(update={"begins_at": "tap", "begins_along_m": None})
    wrong = edits.put(garden, "fittings", early)
    assert says(wrong, "lay-head-out-of-order")
    coupled = edits.put(
        wrong,
        "fittings",
        Fitting(id="extra", name="Extra filter", kind="filter", begins_at="middle-bed-adapter"),
    )
    assert says(coupled, "lay-threads-do-not-mate")


def test_a_regulator_under_a_barrel_only_takes_head():
    garden = edits.put(
        one_barrel(),
        "fittings",
        Fitting(id="reg", name="Regulator", kind="regulator", begins_at="shed-timer"),
    )
    assert says(garden, "lay-regulator-starved")


def test_micro_tube_that_carries_too_much_and_a_line_that_cannot_be_flushed():
    garden = on_tap("line-4")
    hose = next(i for i, p in enumerate(garden.pipes) if p.id == "middle-bed-hose")
    garden = with_part(garden, "pipes", hose, kind="micro-4", bore_m=0.008)
    more = [p.model_copy(update={"spacing_m": 0.05}) for p in garden.pipes if p.spacing_m]
    garden = edits.put_all(garden, [("pipes", pipe) for pipe in more])
    garden = edits.put(
        garden,
        "pipes",
        next(p for p in garden.pipes if p.spacing_m).model_copy(update={"end": EndKind.SHUT}),
    )
    assert says(garden, "lay-tube-carries-too-much")
    assert says(garden, "lay-no-end-opens")


def uneven():
    """Two beds on one barrel and one timer, one a metre lower than the other."""
    low = Bed(
        id="low",
        name="Low bed",
        at=Point(x_m=5.4, y_m=8.0),
        length_m=3.0,
        width_m=0.9,
        ground_m=-0.4,
        raised_m=0.2,
        soil="loam",
        crop="pepper",
        planting=PlantingDate(month=5, day=10),
    )
    garden = edits.put(one_barrel(), "beds", low)
    return proposed_lines.lay(
        garden, Wish("low", "shed-hose", Method.ROWS, "line-low", spacing_m=0.3, rows=2)
    )


def test_throttling_brings_every_branch_to_its_due():
    zone = zones.zone_named(uneven())
    assert {part.name for part in zone.watered} == {"Middle step", "Low bed"}
    assert solving.solve_zone(zone, 0.5).lowest_share < shortfalls.EVEN
    throttled = throttling.throttle(zone)
    assert throttled is not None
    assert solving.solve_zone(throttled.zone, 0.5).lowest_share > 0.97
    low, middle = sorted(throttled.branches, key=lambda b: -b.loss)
    assert low.name == "Low bed"
    assert middle.loss == 0
    assert low.flow == approx(middle.flow, rel=0.03)  # beds of one size, by cup and stopwatch
    found = tuple(cures.find_cures(zone, None))
    assert "push-throttle-cup-stopwatch" in {cure.change.code for cure in found}
    assert faults_in(found) == []


def test_graded_holes_are_real_drills_and_even_out_a_drilled_pipe():
    zone = zones.zone_named(long_row(40.0, "hole-1"))
    before = solving.solve_zone(zone, 0.5)
    graded = grading.grade_holes(zone, "m")
    assert graded is not None
    after = solving.solve_zone(graded.zone, 0.5)
    assert after.low_quarter > before.low_quarter
    assert "mm" in graded.said
    inches = grading.grade_holes(zone, "i")
    assert " in" in inches.said


def test_a_row_may_be_as_long_as_the_solver_says_and_no_longer():
    zone = zones.zone_named(one_barrel())
    limit = lengths.limits_of(zone)[0]
    row = next(p for p in zone.pipes if p.id == "middle-line-1")
    head = limit.solved.working.inputs["head at its beginning"].value
    longest = limit.solved.amount.value
    assert lengths._evenness(row, head, round(longest / 0.3)) >= shortfalls.EVEN
    assert lengths._evenness(row, head, round(longest / 0.3) + 1) < shortfalls.EVEN
    assert limit.usual_m == 60  # common practice: half-inch tubing about 60 m


def test_a_pump_in_the_line_is_solved_at_its_duty_point():
    garden = with_part(one_barrel(), "beds", ground_m=3.0)
    zone = zones.zone_named(garden)
    assert answer_push(zone, ()).mark is Mark.FAILS
    kind = drives.smallest_pump(zone, None)
    pumped = edits.put_before(
        garden, "pumps", Pump(id="pump", name="Pump", kind=kind.id), "shed-timer"
    )
    assert [p.begins_at for p in pumped.timers] == ["pump"]
    answer = answer_push(zones.zone_named(pumped), ())
    assert answer.mark is Mark.WORKS
    state = answer.usual.state
    curve = laws.pump_curve(pumped.pumps[0])
    flow = state.flows["pump"]
    gained = state.heads["pump"] - state.heads["shed-barrel"]
    assert gained == approx(curve.head_at(flow), abs=1e-4)
    assert flow == approx(state.flow, rel=1e-5)


def test_a_house_pump_cycles_against_one_small_bed():
    garden = edits.put_before(
        one_barrel(),
        "pumps",
        Pump(id="pump", name="House pump", kind="house", band_m3=0.001),
        "shed-timer",
    )
    assert says(garden, "lay-pump-would-cycle")
    wide = edits.put(garden, "pumps", garden.pumps[0].model_copy(update={"band_m3": 0.05}))
    assert not says(wide, "lay-pump-would-cycle")


def test_gravity_and_pump_stand_side_by_side():
    zone = zones.zone_named(one_barrel())
    duty = shortfalls.Duty(0.02)
    height, battery, mains = drives.compare(zone, duty)
    assert height.energy_wh == 0 < battery.energy_wh < mains.energy_wh
    assert height.hours.value > battery.hours.value > mains.hours.value
    assert all(drive.works for drive in (height, battery, mains))


def test_beds_alike_are_joined_and_unlike_ones_kept_apart():
    garden = on_tap(timer="dial-solenoid")
    twin = next(iter(garden.beds)).model_copy(
        update={"id": "twin", "name": "Twin", "at": Point(x_m=5.4, y_m=8)}
    )
    garden = edits.put(
        garden, "fittings", Fitting(id="y", name="Y", kind="splitter", begins_at="tap")
    )
    garden = edits.put(garden, "beds", twin)
    garden = proposed_lines.lay(
        garden, Wish("twin", "y", Method.ROWS, "line-2", spacing_m=0.3, timer="dial-solenoid")
    )
    assert len(zones.zones_of(garden)) == 2
    proposal = proposed_zones.propose(garden)
    (together,) = proposal.zones
    assert {m.part.name for m in together.members} == {"Middle step", "Twin"}
    (joined,) = zones.zones_of(proposal.garden)
    assert len(proposal.garden.timers) == 1
    assert solving.solve_zone(joined, 1.0).lowest_share > shortfalls.EVEN
    other = garden
    for pipe in garden.pipes:
        if pipe.waters == "twin" and pipe.spacing_m:
            other = edits.put(other, "pipes", pipe.model_copy(update={"kind": "line-pc"}))
    kept = proposed_zones.propose(other)
    assert len(kept.zones) == 2
    assert any(reason.code == "lay-outlets-follow-another" for reason in kept.apart)


def test_a_piece_set_into_a_pipe_cuts_it_in_two():
    garden = one_barrel()
    before = solving.solve_zone(zones.zone_named(garden), 0.5).flow
    hose = next(p for p in garden.pipes if p.id == "shed-hose")
    valve = Fitting(id="valve", name="Valve", kind="shut-off")
    cut = edits.put_into(garden, "fittings", valve, "shed-hose", hose.drawn_m / 3)
    first, second = (next(p for p in cut.pipes if p.id == i) for i in ("shed-hose", "shed-hose-on"))
    assert first.lies_m + second.lies_m == approx(hose.lies_m)
    assert (cut.fittings[0].begins_at, second.begins_at) == ("shed-hose", "valve")
    assert next(p for p in cut.pipes if p.id == "middle-line-header").begins_at == "shed-hose-on"
    after = solving.solve_zone(zones.zone_named(cut), 0.5).flow
    assert before * 0.99 < after < before
    assert edits.remove(cut, "valve").pipes[0].id == "shed-hose"


def test_several_taps_of_zones_count_their_flow_against_three_quarters():
    slow = edits.put(on_tap("line-4"), "taps", TAP.model_copy(update={"fills_in_s": 600.0}))
    answer = answer_push(zones.zone_named(slow), ())
    assert answer.mark is Mark.FAILS
    assert any(f.reason.code == "push-takes-tap-zone" for f in answer.faults)


def test_a_pump_that_stands_too_high_cannot_suck():
    pump = Pump(id="pump", name="Pump", kind="transfer", height_m=7.5, suction_m=8.0)
    high = edits.put_before(one_barrel(), "pumps", pump, "shed-timer")
    assert says(high, "push-stands-over-lowest")
    low = edits.put(
        high, "pumps", pump.model_copy(update={"height_m": 1.0, "begins_at": "shed-barrel"})
    )
    assert not says(low, "push-stands-over-lowest")


def test_branches_opened_by_turns_are_zones_of_their_own():
    # A hose moved between two couplings: each place by itself.
    garden = on_tap()
    other = garden.beds[0].model_copy(
        update={"id": "twin", "name": "Twin", "at": Point(x_m=5.4, y_m=8)}
    )
    garden = edits.put(garden, "beds", other)
    adapter = next(f for f in garden.fittings if f.kind == "adapter")
    quick = Fitting(
        id="quick", name="Coupling", kind="quick", begins_at=adapter.id, turn="by-turns"
    )
    garden = edits.put(garden, "fittings", quick)
    garden = proposed_lines.lay(garden, Wish("twin", "quick", Method.ROWS, "line-2", spacing_m=0.3))
    named = {zone.name: zone for zone in zones.zones_of(garden)}
    assert set(named) == {"Middle step", "Twin"}
    flows = [solving.solve_zone(zone, 1.0).flow for zone in named.values()]
    assert flows[0] == approx(flows[1], rel=0.1)
    together = edits.put(
        garden, "fittings", quick.model_copy(update={"turn": "together", "begins_at": adapter.id})
    )
    assert [zone.name for zone in zones.zones_of(together)] == ["Middle step, Twin"]


def test_water_on_a_path_is_counted():
    garden = one_barrel()
    path = Patch(
        id="walk",
        name="Walk",
        kind="path",
        corners=(
            Point(x_m=5, y_m=5.9),
            Point(x_m=9, y_m=5.9),
            Point(x_m=9, y_m=6.3),
            Point(x_m=5, y_m=6.3),
        ),
    )
    garden = edits.put(garden, "patches", path)
    (answer,) = answer_lay(garden).wettings
    figures = {figure.label: figure.amount.value for figure in answer.figures}
    assert figures["of it on paths"] > 0
    assert figures["Dry gaps"] == approx((1 - answer.wetted) * 2.7)


@pytest.mark.parametrize(("aside", "codes"), [(1.0, ["lay-beds-overlap"]), (3.01, [])])
def test_beds_that_lie_over_one_another_are_told(aside, codes):
    garden = one_barrel()
    bed = garden.beds[0]
    at = Point(x_m=bed.at.x_m + aside, y_m=bed.at.y_m)
    other = bed.model_copy(update={"id": "other", "name": "Other", "at": at})
    garden = edits.put(garden, "beds", other)
    found = rules.find_all(garden, {})
    assert [f.message.code for f in found if f.part.id == "other"] == codes
