"""Gardens as people build them, from an empty program and through the pages alone."""

from building import answers, barrel, bed, begin, rain, tap
from sweeps import again


def test_four_beds_on_one_timer_are_laid_in_one_go(tmp_path):
    """The commonest of all: raised beds on the garden tap, one timer, drip line in each."""
    stranger = begin(tmp_path)
    stranger.open("taps")
    stranger.fill("tap", {"Name": "Yard tap", "The bucket holds": "10 L", "It fills in": "20 s"})
    stranger.open("lay")
    measures = {"Length of the bed": "2.4 m", "Width of the bed": "0.9 m", "How many alike": "4"}
    grows = {"Soil": "loam", "Crop": "tomato", "Planted or sown on": "10 May"}
    stranger.fill("bed", {"Name": "Bed"} | measures | grows)
    others = ("Bed 2", "Bed 3", "Bed 4")
    stranger.lay("Bed 1", also=others, line="line-2", timer="week-ball")
    assert stranger.verdict == "64 of 64 outlets give within a tenth of their due."
    assert "100 %" in stranger.row("Bed 1, Bed 2, Bed 3, Bed 4")
    # The list has one of each at the head, and joints for three branches.
    stranger.open("build")
    for piece in ("Weekday timer", "Backflow preventer", "Screen filter", "regulator"):
        assert stranger.row(piece)
    assert "3" in stranger.row("Tee, 12.7 mm Bed 1, pipe for 4")
    # One change, which one undo takes back.
    stranger.open("need")
    stranger.send_with("Undo")
    stranger.open("lay")
    assert "No line waters anything yet" in stranger.verdict


def test_one_barrel_and_the_can(tmp_path):
    """A barrel under its downspout, and nothing but a can: cans, the store's years, list, steps, log."""
    stranger = begin(tmp_path)
    rain(stranger)
    barrel(stranger)
    bed(stranger, "Beans", "bean")
    stranger.fill("bed-hand", {"By hand from": "store", "By hand every so many days": "2"})
    stranger.open("time")
    (july,) = (row for row in stranger.rows("July") if row.startswith("July"))
    assert "cans" in july
    assert "every 2 days" in july
    answers(stranger, "catch", "store", "shares", "need", "time", "years", "build", "steps")
    stranger.open("shares")
    assert "Barrel, by hand" in stranger.row("Beans")
    stranger.open("store")
    assert "“Barrel” holds 200 L, too little" in stranger.verdict
    # The card has the bed; nothing is left to lay.
    stranger.open("card")
    assert stranger.headings("Beans: by hand")
    assert not stranger.links("Next: ")
    # List and steps know the barrel, its stand and its diverter, and no hose.
    stranger.open("build")
    assert stranger.row("Downspout diverter")
    assert not stranger.rows("Hose or tube")
    stranger.open("steps")
    assert stranger.headings("Drill and set “Barrel”")


@again("web/test_built.py::test_one_barrel_and_the_can")
def test_a_soaker_in_a_long_bed_under_the_barrel(tmp_path):
    """One soaker in an S, a dial timer, and help by can, which the pages tell with and without."""
    stranger = begin(tmp_path)
    rain(stranger)
    barrel(stranger)
    bed(stranger, "Border", "flower", "5 m")
    stranger.lay("Border", method="soaker", timer="dial-ball")
    answers(stranger, "push", "lay", "time", "store", "shares", "steps", "build")
    stranger.open("lay?at=bed")
    stranger.fill("bed-hand", {"By hand from": "store"})
    stranger.open("shares")
    assert "You help “Border” out by hand from “Barrel”" in stranger.text
    stranger.open("build")
    assert stranger.row("Soaker hose")


@again("web/test_built.py::test_one_barrel_and_the_can")
def test_patio_pots_on_the_tap(tmp_path):
    """Pots with a dripper each on small tube, head assembly at the tap, a timer with a dial."""
    stranger = begin(tmp_path)
    rain(stranger)
    stranger.open("taps")
    stranger.fill("tap", {"Name": "Patio tap", "The bucket holds": "10 L", "It fills in": "30 s"})
    stranger.open("lay")
    pots = {"Name": "Pots", "Width of one": "30 cm", "In a row": "4", "Rows": "2"}
    grows = {"What grows in them": "patio-flowers", "Planted or out on": "5 May"}
    stranger.fill("pots", pots | grows)
    stranger.lay("Pots", timer="dial-solenoid")
    answers(stranger, "taps", "need", "push", "lay", "time", "shares", "years", "build", "steps")
    # A tap garden is not told of roofs to describe or stores to by-pass.
    stranger.open("card")
    assert "stores by-passed" not in stranger.text
    assert "as full as it usually stands" not in stranger.text
    stranger.open("steps")
    assert not stranger.links("Next: ")
    (head,) = stranger.items("Head of")
    assert "Screen filter" in head


@again("web/test_built.py::test_one_barrel_and_the_can")
def test_two_beds_on_one_tap_with_a_dial_each(tmp_path):
    """The second takes a place that a splitter makes at the tap; each has its own settings."""
    stranger = begin(tmp_path)
    rain(stranger)
    tap(stranger)
    bed(stranger, "Peppers", "pepper")
    bed(stranger, "Salad", "lettuce")
    for name in ("Peppers", "Salad"):
        stranger.lay(name, begins_at="tap", line="line-2", timer="dial-solenoid")
    stranger.open("build")
    assert stranger.row("Splitter with two taps")
    stranger.open("card")
    for name in ("Peppers", "Salad"):
        assert stranger.headings(f"{name}: what to set")
    stranger.open("steps")
    first, second = stranger.items("Head of")
    assert "splitter with two taps" in first
    assert "splitter with two taps" not in second  # it is there by then
    answers(stranger, "push", "lay", "time", "week", "shares", "years", "build", "steps")


@again("web/test_built.py::test_one_barrel_and_the_can")
def test_a_bed_on_barrel_and_tap_is_not_watered_twice(tmp_path):
    """The barrel waters it; the tap's zone stands by for when that is empty."""
    stranger = begin(tmp_path)
    rain(stranger)
    barrel(stranger)
    tap(stranger)
    bed(stranger, "Peppers", "pepper")
    stranger.lay("Peppers", begins_at="store", timer="dial-ball", hose="7.5 m")
    stranger.lay("Peppers", begins_at="tap", line="line-2", timer="dial-solenoid", there="left")
    stranger.open("shares")
    assert "Barrel" in stranger.row("Peppers")
    assert "Yard tap" in stranger.row("Peppers")
    stranger.open("steps")
    assert "“Peppers, hose”: cut 7.5 m" in stranger.text
    stranger.open("time")
    stranger.follow("Peppers (Yard tap)")
    assert "Leave it off" in stranger.verdict
    stranger.open("card")
    assert len(stranger.headings("what to set")) == 1


def test_the_laundry_in_lines_with_a_second_branch_for_the_dry_months(tmp_path):
    """A drum, its pump with a float, lines to two beds, of which one is open from May to September."""
    stranger = begin(tmp_path)
    rain(stranger)
    bed(stranger, "Currants", "currant", "4 m")
    bed(stranger, "Flowers", "flower", "4 m")
    stranger.open("greywater")
    stranger.fill("greywater", {"Name": "Laundry", "Washdays and loads": "Mon 2, Thu, Sat 2"})
    assert "leads nowhere yet" in stranger.verdict
    drum = {"Surge drum holds": "120 L", "Ground the drum stands on": "1 m"}
    stranger.fill("greywater-drum", drum | {"It empties by": "pump"})
    stranger.lay("Currants", also=("Flowers",), begins_at="greywater", line="tape")
    assert "104 of 104 outlets" in stranger.verdict
    stranger.open("lay?at=bed-2-valve")
    stranger.fill("bed-2-valve", {"Open in these months": "May to September"})
    stranger.open("greywater")
    assert "0 L" in stranger.rows("Flowers")[0]
    assert stranger.rows("May to September")
    assert "“Currants, Flowers” can have all 250 L a week, at once." in stranger.text
    # Two beds of it are more than five loads do for in a dry August.
    assert stranger.verdict.startswith("Washing water alone does not do for “Flowers”: ")
    answers(stranger, "push", "lay", "time", "shares", "need", "years", "build", "steps")
    stranger.open("time")
    assert stranger.verdict.startswith("Washing water alone does not do for “Flowers”: ")
    assert "Nothing is set on" in stranger.text
    # One pump: that in the lines. Its drum, its stand and its lint are on list, steps and upkeep.
    stranger.open("build")
    assert stranger.row("12 V pump, small")
    assert not stranger.rows("Drain pump with float switch")
    stranger.open("steps")
    assert stranger.headings("Washing water: “Laundry”")
    stranger.open("first-run")
    assert "before anything else" in stranger.text
    stranger.open("upkeep")
    assert "Lint bag and filter of “Laundry”" in stranger.text
    assert not stranger.links("Next: ")
