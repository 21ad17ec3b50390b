"""Steps carry this garden's own measures, in the order that works, with the cautions that belong there."""

import pytest
from pytest import approx

from euhydra.core import cutting
from euhydra.garden import edits, quantities, shapes
from euhydra.garden.patches import Patch
from euhydra.garden.pipes import Pump
from euhydra.garden.quantities import System
from euhydra.planner.answers import Mark
from euhydra.planner.keeping import winter
from euhydra.planner.parts import counting
from euhydra.planner.parts.answer import make_list
from euhydra.planner.push import drives
from euhydra.planner.steps import step as step_module
from euhydra.planner.steps.answer import answer_steps, stages_of, steps_of
from euhydra.planner.store import installing, linking
from euhydra.planner.store.standing import answer_standing
from euhydra.planner.water import zones
from euhydra.planner.water.cut_lengths import cut_lengths
from euhydra.web.wording import say
from gardens import long_row, one_barrel, with_part


def said(garden, key: str, system: System = System.METRIC) -> str:
    step = next(s for s in steps_of(garden) if s.key == key)
    return (
        " ".join(str(say(sentence, system)) for sentence in step.sentences)
        .replace('<span class="whitespace-nowrap">', "")
        .replace("</span>", "")
    )


def cautions(garden, key: str) -> tuple[str, ...]:
    return next(s for s in steps_of(garden) if s.key == key).cautions


def test_stand_and_holes_have_the_measures_of_this_barrel():
    garden = one_barrel()
    stand = said(garden, "stand-shed-barrel")
    weighs = answer_standing(garden.stores[0]).figures[0]
    assert f"weighs {weighs.amount.told(System.METRIC)}" in stand  # as Store says
    assert "Cut 8 rails" in stand  # a round barrel's are all of one length
    assert "stand 40 cm high" in stand
    assert "Cut 4 posts of 37.3 cm" in stand
    store = garden.stores[0]
    plan = installing.plan_installation(store)
    drill = said(garden, "drill-shed-barrel")
    for height in (plan.tap, plan.overflow):
        assert quantities.show(height, "height", System.METRIC) in drill
    assert "in high" in said(garden, "stand-shed-barrel", System.US)


def test_how_long_it_takes_is_told_in_round_figures(demo_garden):
    minutes = [1, 7, 58, 62, 205, 599, 876]
    hours = [5 / 60, 5 / 60, 1, 1, 3.5, 10, 15]
    assert [step_module.work_time(m).value / 3600 for m in minutes] == approx(hours)
    for found in answer_steps(demo_garden, set()).stages:
        assert all(step.takes_about.value % 300 == 0 for step in found.stage.steps)
        assert found.takes_about.value % 300 == 0


def test_water_is_led_away_before_it_comes_and_power_comes_last(demo_garden):
    keys = [s.key for s in steps_of(demo_garden)]
    assert keys.index("drill-wall-tank") < keys.index("spout-east-downspout")
    assert keys.index("link-wall-tank") < keys.index("spout-east-downspout")
    for zone in ("top-timer", "patio-pots-timer"):
        own = [k for k in keys if k.endswith(f"-{zone}")]
        assert own[0] == f"head-{zone}"
    assert keys[0] == "gather"
    assert keys[-2:] == ["first-run", "labels"]


def test_cautions_stand_where_they_belong(demo_garden):
    assert "backflow" in cautions(demo_garden, "head-bottom-bed-timer")
    assert cautions(demo_garden, "head-top-timer") == ()  # no drinking water there
    assert {"ladders", "drilling"} <= set(cautions(demo_garden, "spout-shed-downspout"))
    assert "greywater" in cautions(demo_garden, "grey-laundry")
    sunk = with_part(one_barrel(), "stores", stand_m=0.0, sunk_m=0.5)
    assert cautions(sunk, "gather") == ("digging",)
    assert "digging" in cautions(sunk, "stand-shed-barrel")


def test_a_tank_in_the_ground_gets_a_pit_and_is_filled_as_the_pit_is():
    sunk = with_part(one_barrel(), "stores", stand_m=0.0, sunk_m=2.0, count=2)
    steps = {step.key: step for step in steps_of(sunk)}
    codes = {key: {s.code for s in steps[key].sentences} for key in steps}
    assert "steps-dig-deep-floor" in codes["stand-shed-barrel"]
    assert {"steps-buried-link-first", "steps-buried-fill"} <= codes["drill-shed-barrel"]
    assert "steps-set-stand-check" not in codes["drill-shed-barrel"]
    assert "digging" in cautions(sunk, "drill-shed-barrel")


def test_a_tank_below_the_ground_is_fed_by_a_pipe_and_no_diverter_is_bought():
    sunk = with_part(one_barrel(), "stores", stand_m=0.0, sunk_m=2.0)
    (spout,) = sunk.downspouts
    step = next(s for s in steps_of(sunk) if s.key == f"spout-{spout.id}")
    codes = {s.code for s in step.sentences}
    assert {"steps-spout-trap", "steps-spout-underground"} <= codes
    assert codes & {"steps-level-over-rim", "steps-hose-would-not-fall"} == set()
    assert "digging" in step.cautions
    pipe = next(s for s in step.sentences if s.code == "steps-spout-underground").values["length"]
    (store,) = sunk.stores
    across = shapes.of_roof(sunk.roofs[0]).distance(shapes.of_store(store)[0])
    assert pipe.value == approx(across + 2.0 - store.height_m + linking.SLACK)
    goods = {use.good.key: use.amount for use in counting.uses_of(sunk)}
    assert goods["spout-pipe"] == approx(pipe.value)
    assert "diverter" not in goods


def test_a_change_elsewhere_leaves_ticks_alone_and_the_rest_is_counted(demo_garden):
    keys = [s.key for s in steps_of(demo_garden)]
    longer = edits.put(
        demo_garden, "beds", demo_garden.beds[2].model_copy(update={"length_m": 5.0})
    )
    assert [s.key for s in steps_of(longer)] == keys
    half = answer_steps(demo_garden, keys[:10])
    assert half.next.key == keys[10]
    assert half.verdict.mark is Mark.BUT
    assert answer_steps(demo_garden, keys).verdict.mark is Mark.WORKS


def test_what_is_left_is_counted_stage_by_stage(demo_garden):
    begun = answer_steps(demo_garden, ["gather", "stand-shed-barrel"])
    assert begun.steps == steps_of(demo_garden)
    assert [s.first for s in begun.stages[:3]] == [1, 2, 2 + len(begun.stages[1].stage.steps)]
    gather, stores, *_ = begun.stages
    assert (gather.count, gather.minutes) == (0, 0)
    assert stores.count == len(stores.stage.steps) - 1
    waters = [s.stage.title for s in begun.stages if s.stage.title.startswith("Water to")]
    assert waters == [f"Water to “{z.name}”" for z in zones.zones_of(demo_garden)]
    without = stages_of(demo_garden.model_copy(update={"greywaters": ()}))
    assert "washing" not in [stage.key for stage in without]


def test_a_stand_bears_at_least_every_sixty_centimetres():
    """Posts of a large tank's table: 1.2 by 1.0 m has three along and three across."""
    cuts = cutting.stand(1.2, 1.0, 0.5, cutting.METRIC)
    assert cuts.posts == 9
    boards = next(c for c in cuts.cuts if c.section == "board")
    assert boards.count * 0.12 + (boards.count - 1) * 0.006 >= 1.2
    low, high = (cutting.stand(0.8, 0.3, tall, cutting.METRIC) for tall in (0.2, 0.5))
    assert low.metres("rail") < high.metres("rail")


def test_where_inches_are_read_timber_is_what_shops_there_have():
    """A stand 4 ft by 2 ft and 16 in high, counted on paper: 4×4 posts two feet apart at most
    (three along, two across), 2×4 rails twice around, and nine 5½ in boards with ¼ in between.
    """
    inch, foot = 0.0254, 0.3048
    cuts = cutting.stand(4 * foot, 2 * foot, 16 * inch, cutting.INCH)
    assert cuts.posts == 3 * 2
    by_section = {(c.section, round(c.length / inch, 2)): c.count for c in cuts.cuts}
    assert by_section == {("post", 15): 6, ("rail", 48): 4, ("rail", 24): 4, ("board", 24): 9}
    garden = edits.replace(with_part(one_barrel(), "stores", stand_m=0.5), units=System.US)
    names = {i.good.key: i.good.name for i in make_list(garden, {}).items}
    assert names["post-inch"].startswith("4×4 post")
    assert "post" not in names


@pytest.fixture(scope="module")
def pumped():
    """The small garden with its bed uphill, and the smallest pump that reaches it."""
    garden = with_part(one_barrel(), "beds", ground_m=3.0)
    kind = drives.smallest_pump(zones.zone_named(garden), None)
    return edits.put_before(
        garden, "pumps", Pump(id="pump", name="Pump", kind=kind.id), "shed-timer"
    ), kind


def test_a_pump_is_set_before_the_hose_and_plugged_in_last(pumped):
    garden, kind = pumped
    keys = [s.key for s in steps_of(garden)]
    assert keys.index("head-shed-timer") < keys.index("pump-pump") < keys.index("hose-shed-timer")
    step = next(s for s in steps_of(garden) if s.key == "pump-pump")
    codes = {sentence.code for sentence in step.sentences}
    last = "steps-join-battery-last" if kind.runs_on_battery else "steps-plug-last-residual"
    assert last in codes
    assert "electricity" in step.cautions
    assert ("batteries" in step.cautions) == (kind.volts <= 24)


def test_a_pump_is_bought_and_fits_between_what_it_joins(pumped):
    garden, kind = pumped
    answer = make_list(garden, {})
    (pump,) = [item for item in answer.items if item.good.key == f"pump-{kind.id}"]
    assert (pump.counted, pump.pack.price) == (1, kind.price)
    assert not answer.faults


def test_a_pump_shows_in_upkeep_and_winter(pumped):
    garden, _ = pumped
    listed = [str(item) for _, items in winter.winter_list(garden) for item in items]
    assert any("“Pump”" in text for text in listed)


def test_drilled_holes_come_with_their_measures():
    step = next(s for s in steps_of(long_row(8.0, "hole-1")) if s.key.startswith("line-"))
    (holes,) = [s for s in step.sentences if s.code == "steps-clamp-pipe-drill"]
    assert holes.values["apart"].value == pytest.approx(0.3)
    assert holes.values["wide"].value == pytest.approx(0.001)


@pytest.mark.parametrize(
    ("changes", "code"),
    [
        ({"stand_m": 0.0, "sunk_m": 0.6}, "steps-dig-deep-floor"),
        ({"stand_m": 0.2, "blocks": 1}, "steps-lay-solid-blocks"),
        ({"stand_m": 0.0}, "steps-take-turf-tamp"),
    ],
)
def test_the_ground_of_a_store_is_made_as_it_stands(changes, code):
    garden = with_part(one_barrel(), "stores", **changes)
    step = next(s for s in steps_of(garden) if s.key == "stand-shed-barrel")
    assert code in [sentence.code for sentence in step.sentences]


def test_a_hose_is_cut_along_the_ground_and_down_from_the_tap():
    # By hand: the plan's length, the drop from the tap to the ground, and a wall of 3 m.
    garden = with_part(edits.remove(one_barrel(), "shed-timer"), "pipes", length_m=None)
    store = garden.stores[0]
    hose = next(pipe for pipe in garden.pipes if pipe.begins_at == store.id)
    slope = Patch(
        id="wall", name="Wall", kind="terrace", ground_m=store.ground_m - 3.0,
        corners=[{"x_m": x, "y_m": y} for x, y in ((-50, 3.2), (50, 3.2), (50, 50), (-50, 50))],
    )  # fmt: skip
    # Below a wall 3 m high everything lies 3 m lower, the bed in it too.
    walled = edits.put(garden, "patches", slope)
    walled = with_part(walled, "beds", ground_m=store.ground_m - 3.0, raised_m=0.0)
    flat = with_part(garden, "beds", ground_m=store.ground_m, raised_m=0.0)
    over_tap = store.tap_m - store.ground_m
    assert cut_lengths(flat)[hose.id] == pytest.approx(hose.drawn_m + over_tap, abs=0.02)
    # The step of 3 m is crossed within one look at the ground.
    longer = cut_lengths(walled)[hose.id] - cut_lengths(flat)[hose.id]
    assert 2.4 < longer < 3.0
    typed = with_part(walled, "pipes", length_m=9.0)
    assert cut_lengths(typed)[typed.pipes[0].id] == 9.0


def test_linked_tanks_on_unequal_ground_are_told_to_be_evened(demo_garden):
    codes = {
        s.code for s in next(s for s in steps_of(demo_garden) if s.key.startswith("link")).sentences
    }
    assert "steps-their-tops-height" in codes
    lower = with_part(demo_garden, "stores", 1, stand_m=demo_garden.stores[1].stand_m - 0.2)
    step = next(s for s in steps_of(lower) if s.key.startswith("link"))
    told = next(s for s in step.sentences if s.code == "steps-their-tops-differ")
    assert told.values["apart"].value == pytest.approx(0.2)


def test_a_first_flush_tube_is_cut_to_what_it_has_to_hold(demo_garden):
    spout = demo_garden.downspouts[0]
    flushed = with_part(demo_garden, "downspouts", first_flush_m3=0.02)
    step = next(s for s in steps_of(flushed) if s.key == f"spout-{spout.id}")
    told = next(s for s in step.sentences if s.code == "steps-before-inlet-first")
    # 20 L in a tube 10 cm wide: 0.02 / (π/4 × 0.1²) = 2.55 m.
    assert told.values["long"].value == pytest.approx(2.546, abs=0.001)
    (tube,) = [use for use in step.takes if use.good.key == "first-flush-tube"]
    assert tube.amount == pytest.approx(told.values["long"].value)
