"""Several beds and groups on one timer: what the program lays passes its own rules."""

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from shapely import LineString

from euhydra.garden import catalogue, edits, goods, plumbing, shapes
from euhydra.garden.beds import Bed
from euhydra.garden.model import Garden
from euhydra.garden.part import Point
from euhydra.garden.plantings import PlantingDate
from euhydra.garden.pots import Pots
from euhydra.garden.sources import Tap
from euhydra.planner.answers import PlanError
from euhydra.planner.lay import pot_lines, proposed_lines, proposed_manifold, rules
from euhydra.planner.lay.proposed_lines import starts_of
from euhydra.planner.lay.wishes import Method, Wish
from euhydra.planner.parts import counting
from euhydra.planner.push import shortfalls
from euhydra.planner.water import solving, zones
from gardens import one_barrel

MAY = PlantingDate(month=5, day=10)


def bed(number: int, length: float = 2.4, width: float = 0.9, near: bool = False) -> Bed:
    """One of many alike, four in a row, far below the barrel or close by the tap."""
    x, y = (12.6, -14.3) if near else (20.0, -20.0)
    at = Point(x_m=x + (number % 4) * (length + 0.8), y_m=y + (number // 4) * (width + 0.9))
    sides = {"length_m": length, "width_m": width}
    return Bed(
        id=f"plot-{number}", name=f"Plot {number}", ground_m=-0.4, soil="loam", crop="pepper",
        planting=MAY, at=at, **sides
    )  # fmt: skip


def garden_of(*parts, thread: str = "g34") -> Garden:
    """The small garden with a tap, and whatever is to be watered."""
    garden = one_barrel()
    place = garden.place.model_copy(update={"hose_thread": thread})
    tap = Tap(id="tap", name="Tap", at=Point(x_m=12, y_m=-14), bucket_m3=0.01, fills_in_s=24.0)
    garden = edits.put(edits.replace(garden, place=place), "taps", tap)
    for part in parts:
        garden = edits.put(garden, "beds" if isinstance(part, Bed) else "pots", part)
    return garden


def findings(garden: Garden, *ids: str) -> list[str]:
    """What the rules have against the zone that waters these."""
    zone = zones.zone_named(garden, ids[0])
    assert {part.id for part in zone.watered} == set(ids)
    own = {part.id for part in (*zone.way.parts, *zone.pipes)} | set(ids)
    found = rules.find_all(garden, rules.states_of(garden))
    return [str(breach.message) for breach in found if breach.part.id in own]


MOST_TUBES = 550
"""A garden holds 600 pipes."""

BARREL_TIMERS = ("dial-ball", "clock-ball", "week-ball")
TAP_TIMERS = ("dial-solenoid", "dial-ball", "week-solenoid", "weather")


@settings(max_examples=25)
@given(
    count=st.integers(2, 9),
    near=st.booleans(),
    length=st.floats(1.2, 3.0),
    width=st.floats(0.5, 1.2),
    source=st.sampled_from(["shed-barrel", "tap"]),
    thread=st.sampled_from(sorted(goods.threads())),
    has_valve=st.booleans(),
    data=st.data(),
)
def test_what_is_laid_for_several_passes_the_programs_own_rules(
    count, near, length, width, source, thread, has_valve, data
):
    is_tap = source == "tap"
    line = data.draw(st.sampled_from(["line-2", "line-pc"] if is_tap else ["line-low"]))
    timer = data.draw(st.sampled_from(TAP_TIMERS if is_tap else BARREL_TIMERS))
    beds = [bed(number, length, width, near) for number in range(count)]
    garden = garden_of(*beds, thread=thread)
    wishes = [
        Wish(each.id, source, Method.ROWS, line, timer=timer, has_valve=has_valve) for each in beds
    ]
    laid = proposed_manifold.lay_together(garden, wishes)
    zone = zones.zone_named(laid, beds[0].id)
    state = solving.solve_zone(zone, zone.levels[zone.usual_level])
    assert state.lowest_share >= shortfalls.EVEN
    assert len([t for t in laid.timers if t.kind == timer and t.id.startswith("plot")]) == 1
    trunk = next(p for p in laid.pipes if p.name.endswith(f"pipe for {count}"))
    line = LineString([(p.x_m, p.y_m) for p in trunk.path])
    if not near:
        assert [b.id for b in beds if line.intersects(shapes.of_bed(b).buffer(-0.01))] == []
    told = findings(laid, *(each.id for each in beds))
    # An adapter between two threads is on the shopping list: that is told, and no fault.
    assert [said for said in told if "on the shopping list" not in said] == []
    links, drawn = counting.joint_counts(laid)
    assert links == drawn


@pytest.mark.parametrize("count", [2, 11, 24])
def test_the_pipe_is_as_wide_as_it_has_to_be(count):
    beds = [bed(number) for number in range(count)]
    wishes = [Wish(b.id, "shed-barrel", Method.ROWS, "line-low", timer="dial-ball") for b in beds]
    laid = proposed_manifold.lay_together(garden_of(*beds), wishes)
    zone = zones.zone_named(laid, "plot-0")
    state = solving.solve_zone(zone, zone.levels[zone.usual_level])
    assert state.lowest_share >= shortfalls.EVEN
    trunk = next(p for p in laid.pipes if p.name.endswith(f"pipe for {count}"))
    narrower = [k for k in plumbing.pipe_kinds().values() if k.family == "plain"]
    assert (trunk.kind == "hose-13") is (count <= 11)
    assert trunk.kind in {k.id for k in narrower}


def test_beds_and_pots_share_a_head_in_the_order_of_the_way():
    pots = Pots(id="row", name="Row", columns=3, across_m=0.4, at=Point(x_m=24, y_m=-14))
    beds = [bed(0), bed(1)]
    wishes = [
        *(Wish(b.id, "tap", Method.ROWS, "line-2", timer="dial-solenoid") for b in beds),
        Wish("row", "tap", Method.POTS, "button-2"),
    ]
    laid = proposed_manifold.lay_together(garden_of(*beds, pots), wishes)
    assert findings(laid, "plot-0", "plot-1", "row") == []
    branches = [p for p in laid.pipes if p.begins_at and p.begins_at.endswith("-pipe")]
    along = [p.begins_along_m for p in branches]
    assert len(branches) == 3
    assert along == sorted(along, key=lambda a: (a is None, a))


def test_lines_begin_wherever_there_is_room():
    garden = garden_of(bed(0))
    ids = {part.id for part in starts_of(garden)}
    assert {"shed-barrel", "tap", "shed-hose"} <= ids
    assert "shed-timer" not in ids  # its hose begins there, and it has one outlet
    assert not [
        p
        for p in garden.pipes
        if p.id in ids and catalogue.find(plumbing.pipe_kinds(), p.kind).has_outlets
    ]


def test_one_named_twice_is_refused():
    wish = Wish("plot-0", "tap", Method.ROWS, "line-2")
    with pytest.raises(PlanError, match="named twice"):
        proposed_manifold.lay_together(garden_of(bed(0)), [wish, wish])


@settings(max_examples=40)
@given(
    columns=st.integers(1, 12),
    rows=st.integers(1, 4),
    tiers=st.integers(1, 4),
    across=st.sampled_from([0.12, 0.3, 0.5, 0.8]),
    length=st.sampled_from([None, None, 0.4, 1.2]),
    room=st.floats(0.02, 0.6),
    source=st.sampled_from(["shed-barrel", "tap"]),
    near=st.booleans(),
    turned=st.sampled_from([0, 30, 90, 180]),
)
def test_tubes_to_pots_have_a_place_each_and_pass_the_programs_own_rules(
    columns, rows, tiers, across, length, room, source, near, turned
):
    each = pot_lines.drippers_for(across, length or 0.0)
    assume(columns * rows * tiers * each < MOST_TUBES)
    at = Point(x_m=12.4, y_m=-14.2) if near else Point(x_m=20, y_m=-20)
    group = Pots(
        id="group", name="Group", at=at, columns=columns, rows=rows, tiers=tiers, ground_m=-0.5,
        across_m=across, length_m=length, pitch_m=(length or across) + room, turned_deg=turned,
    )  # fmt: skip
    garden = garden_of(group)
    line = "button-2" if source == "tap" else "low-2"
    wish = Wish("group", source, Method.POTS, line, timer="dial-ball")
    laid = proposed_lines.lay(garden, wish)
    drippers = [pipe for pipe in laid.pipes if pipe.waters == "group" and pipe.dripper]
    assert len(drippers) == columns * rows * tiers * each
    codes = {
        b.message.code for b in rules.find_all(laid, rules.states_of(laid)) if b.part.id == "group"
    }
    assert codes == set()
    links, drawn = counting.joint_counts(laid)
    assert near or links == drawn  # so near the tap stands in a pot


def test_pots_added_to_a_group_that_is_laid_are_told_and_laid_again():
    group = Pots(id="group", name="Group", at=Point(x_m=13, y_m=-13), columns=6, ground_m=-0.5)
    garden = garden_of(group)
    wish = Wish("group", "tap", Method.POTS, "button-2", timer="dial-ball")
    laid = proposed_lines.lay(garden, wish)

    def told(garden: Garden):
        found = rules.find_all(garden, rules.states_of(garden))
        return [b.message for b in found if b.message.code == "lay-pots-without"]

    assert told(laid) == []
    larger = edits.put(laid, "pots", group.model_copy(update={"columns": 6, "rows": 2}))
    (message,) = told(larger)
    assert (message.values["served"], message.values["all"]) == (6, 12)
    again = proposed_lines.lay(edits.without_lines(larger, {"group"}), wish)
    assert told(again) == []


@pytest.mark.parametrize("count", [2, 3, 5])
def test_a_tap_has_room_for_every_bed_by_splitters_in_a_row(count):
    beds = [bed(number, near=True) for number in range(count)]
    garden = garden_of(*beds)
    for each in beds:
        garden = proposed_lines.lay(
            garden, Wish(each.id, "tap", Method.ROWS, "line-2", timer="dial-solenoid")
        )
    splitters = [piece for piece in garden.fittings if piece.kind == "splitter"]
    assert len(splitters) == count - 1  # two places each, one of them for the next
    assert len(zones.zones_of(garden)) == count + 1  # and the barrel's
    assert all(findings(garden, each.id) == [] for each in beds)
    assert "tap" in {start.id for start in starts_of(garden)}
