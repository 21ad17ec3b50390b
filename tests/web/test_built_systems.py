"""More systems as people build them: towers, chains of barrels, pumps, drilled pipe, hoses moved by hand, drains."""

from building import answers, barrel, bed, begin, rain, roof, tap
from sweeps import again


def test_stacked_towers_teed_from_one_line(tmp_path):
    """Four towers, a small valve on each, one timer: throttled at the first run, filled by the watch."""
    stranger = begin(tmp_path)
    rain(stranger)
    tap(stranger)
    stranger.open("lay")
    tower = {
        "Name": "Tower",
        "They are": "tower",
        "Width of one": "40 cm",
        "Tiers, one over another": "4",
    }
    grows = {
        "What grows in them": "strawberry",
        "Planted or out on": "1 May",
        "How many alike": "4",
    }
    stranger.fill("pots", tower | grows)
    others = ("Tower 2", "Tower 3", "Tower 4")
    stranger.lay("Tower 1", also=others, begins_at="tap", timer="week-ball")
    stranger.open("build")
    assert "4" in stranger.row("Valve to throttle a branch")
    stranger.open("first-run")
    assert "stays open" in stranger.text
    answers(stranger, "need", "push", "lay", "time", "years", "build", "steps")


@again("web/test_built_systems.py::test_stacked_towers_teed_from_one_line")
def test_barrels_at_the_house_spill_to_siphoned_ones_below(tmp_path):
    """An overflow into a lower group joined by siphon, gravity to two terraces, the tap as second source."""
    stranger = begin(tmp_path)
    rain(stranger)
    tap(stranger)
    roof(stranger)
    stranger.open("store")
    size = {"Holds, to the overflow": "200 L", "Water depth when full": "85 cm"}
    low = {"Name": "Lower barrels", "How many alike, linked": "3", "Ground it stands on": "1 m"}
    stranger.fill("store", low | size)
    stranger.fill("store-joints", {"They are linked by": "siphon"})
    high = {"Name": "House barrel", "Ground it stands on": "2.5 m", "Height of the stand": "30 cm"}
    stranger.fill("add-store", high | size)
    stranger.open("store?at=store-2")
    stranger.fill("store-2-joints", {"Its overflow runs": "store"})
    stranger.open("catch")
    stranger.fill("downspout", {"Leads to": "store-2"})
    for name, ground in (("Upper terrace", "0.6 m"), ("Lower terrace", "0 m")):
        bed(stranger, name, "tomato", ground=ground)
    stranger.lay("Upper terrace", begins_at="store-2", timer="dial-ball")
    stranger.lay("Lower terrace", begins_at="store", timer="dial-ball")
    stranger.lay("Lower terrace", begins_at="tap", line="line-2", there="left")
    stranger.open("build")
    assert stranger.row("Siphon hose")
    assert stranger.row("from an overflow to the next inlet")
    assert not stranger.rows("Linking set")
    stranger.open("steps")
    assert "until no air is in it" in stranger.text
    stranger.open("shares")
    assert "Lower barrels" in stranger.row("Lower terrace")
    assert "Yard tap" in stranger.row("Lower terrace")
    answers(stranger, "catch", "store", "need", "push", "lay", "time", "week", "years", "away")


@again("web/test_built_systems.py::test_stacked_towers_teed_from_one_line")
def test_gravity_is_too_weak_for_raised_beds_and_a_pump_is_added(tmp_path):
    """A barrel on the ground, a bed raised as high: Push says so, the pump set in there does it."""
    stranger = begin(tmp_path)
    rain(stranger)
    barrel(stranger)
    bed(stranger, "Raised bed", "pepper", raised="1.2 m")
    stranger.lay("Raised bed", timer="dial-ball")
    stranger.open("push")
    assert "below the highest outlet" in stranger.verdict
    stranger.fill("add-pump", {"Name": "Transfer pump", "Kind of pump": "transfer"})
    stranger.open("push")
    assert "not enough" not in stranger.verdict
    stranger.open("steps")
    assert stranger.headings("Pump of “Raised bed”")
    stranger.open("build")
    assert stranger.row("Transfer pump, mains")
    stranger.open("first-run")
    assert "“Transfer pump”, before anything else" in stranger.text
    answers(stranger, "store", "time", "week", "shares", "years", "build", "steps")


@again("web/test_built_systems.py::test_stacked_towers_teed_from_one_line")
def test_downspouts_joined_into_sunken_tanks_with_a_pump(tmp_path):
    """Four downspouts in one pipe, leaf guard, first flush, two tanks sunk, floating intake, weather timer."""
    stranger = begin(tmp_path)
    rain(stranger)
    roof(stranger)
    stranger.open("store")
    size = {"Holds, to the overflow": "1500 L", "Water depth when full": "1.2 m"}
    sunk = {"Sunk into the ground": "1.4 m", "How many alike, linked": "2"}
    stranger.fill("store", {"Name": "Deck tanks", "Water is drawn": "floating"} | size | sunk)
    stranger.open("catch")
    share = {"Share of the roof on it": "25 %", "Leaves are kept out by": "mesh"}
    stranger.fill("downspout", share | {"First flush, as rain": "0.4 mm"})
    for number in (2, 3, 4):
        name = {"Name": f"Downspout {number}", "Leads to": "downspout"}
        stranger.fill("add-downspout", name | {"Share of the roof on it": "25 %"})
    bed(stranger, "Border", "flower", "6 m")
    stranger.lay("Border", timer="weather")
    stranger.open("push")
    stranger.fill("add-pump", {"Name": "Tank pump", "Kind of pump": "barrel"})
    stranger.open("build")
    for good in ("Floating intake", "Branch that joins two downspouts", "Barrel pump, mains"):
        assert stranger.row(good)
    stranger.open("steps")
    assert "Screw the floating intake" in stranger.text
    answers(stranger, "catch", "store", "need", "push", "lay", "time", "years", "build")


@again("web/test_built_systems.py::test_stacked_towers_teed_from_one_line")
def test_a_battery_pump_and_a_drilled_pipe_over_a_row(tmp_path):
    """Home-made: a barrel, a 12 V pump, a pipe with holes; battery hours, drill, and which hole gives more."""
    stranger = begin(tmp_path)
    rain(stranger)
    barrel(stranger)
    bed(stranger, "Row", "bean", "6 m", width="60 cm")
    stranger.lay("Row", line="hole-1", rows="1")
    stranger.open("push")
    battery = {"Battery, ampere-hours": "20", "Draws, watts": "15"}
    stranger.fill("add-pump", {"Name": "Bilge pump", "Kind of pump": "solar-small"} | battery)
    stranger.open("push")
    stranger.wait()
    assert "A 20 Ah battery" in stranger.text
    assert "“Row, row 1”: friction takes" in stranger.text
    stranger.open("build")
    for good in ("Battery, 12 V", "Fuse in its holder", "Float switch", "Drill bit"):
        assert stranger.row(good)
    stranger.open("lay")
    assert "outlets give within a tenth" in stranger.verdict
    answers(stranger, "need", "push", "lay", "store", "shares", "build", "steps")


@again("web/test_built_systems.py::test_stacked_towers_teed_from_one_line")
def test_hoses_moved_between_quick_couplings(tmp_path):
    """Two beds with a soaker each on one coupling by turns, three visits a week: the settings are a rota."""
    stranger = begin(tmp_path)
    rain(stranger)
    tap(stranger)
    for name in ("North bed", "South bed"):
        bed(stranger, name, "flower", "5 m")
    stranger.open("lay")
    quick = {"Name": "Coupling", "Kind of piece": "quick", "Fed by": "tap"}
    turns = {"What it feeds is opened": "by-turns"}
    visits = {"Somebody moves it, at most so many times a week": "4"}
    stranger.fill("fitting", quick)
    stranger.open("lay?at=fitting")
    stranger.fill("fitting", turns | visits)
    for name in ("North bed", "South bed"):
        stranger.lay(name, begins_at="fitting", method="soaker", timer="")
    stranger.open("time")
    assert "Not yet" not in stranger.verdict
    assert stranger.row("July")
    answers(stranger, "taps", "need", "push", "lay", "week", "shares", "years", "build")
    stranger.open("steps")
    assert "quick coupling" in stranger.text


def test_ground_that_is_too_wet_is_drained(tmp_path):
    """Flat ground: trench, sump and pump lie on the plan, in the list and in the steps."""
    stranger = begin(tmp_path)
    barrel(stranger)
    stranger.open("wet")
    wet = {"Name": "Lower lawn", "Area that drains there": "60 m2", "Perforated pipe": "8 m"}
    flat = {"Its lower end is lower by": "0 cm", "Downspouts that no store takes": "here"}
    stranger.fill("wet", wet | flat)
    assert "The ground is flat, so the trench has to fall" in stranger.text
    stranger.open("build")
    for good in ("Perforated pipe", "Bag of clean gravel", "Sump with lid", "Sump pump"):
        assert stranger.row(good)
    stranger.open("steps")
    assert stranger.headings("Drain “Lower lawn”")
    stranger.open("lay")
    (drain,) = stranger.page.find_class("drain")
    assert drain.get("data-part") == "wet"


def test_linked_totes_on_a_terrace_and_beds_on_one_plain_timer(tmp_path):
    """Four totes of one level, one downspout, gravity to two beds through one dial timer: how long a day."""
    stranger = begin(tmp_path)
    rain(stranger)
    roof(stranger)
    stranger.open("store")
    size = {"Holds, to the overflow": "1000 L", "Water depth when full": "1 m"}
    totes = {"Name": "Totes", "Kind of store": "tote", "How many alike, linked": "4"}
    stranger.fill("store", totes | size | {"Ground it stands on": "1.2 m"})
    stranger.fill("store-joints", {"Its overflow runs": "in-rain-garden"})
    for name in ("East bed", "West bed"):
        bed(stranger, name, "tomato", "5 m")
    stranger.lay("East bed", also=("West bed",), begins_at="store", timer="dial-ball")
    stranger.open("time")
    assert "min" in stranger.row("July")
    stranger.open("build")
    assert "3" in stranger.row("Linking set")
    assert stranger.row("Two-dial timer, motor ball valve")
    stranger.open("steps")
    assert stranger.headings("Link “Totes”")
    assert "4,000 L in all" in stranger.text
    answers(stranger, "catch", "store", "need", "push", "lay", "time", "week", "years", "away")
    # And it can be logged: a dip of the totes.
    stranger.open("keep")
    stranger.fill("log-dip", {"Water on the stick": "60 cm"})
    assert "Dip of a store · Totes: 60 cm" in stranger.text
