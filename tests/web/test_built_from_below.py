"""Planters that water themselves, built from an empty program through the pages alone."""

from building import answers, barrel, begin, planters, rain
from sweeps import again


def test_wicking_buckets_in_a_trough(tmp_path):
    """Barrel, float valve, trough, two rows of buckets: no timer is asked for anywhere."""
    stranger = begin(tmp_path)
    rain(stranger)
    barrel(stranger)
    trough = {"A float keeps their water": "trough", "Width of the trough": "70 cm"}
    planters(stranger, trough, **{"In a row": "6", "Rows": "2", "From one to the next": "35 cm"})
    stranger.lay("Buckets", begins_at="store")
    stranger.open("push")
    assert "One float keeps “Buckets” full: 12 of" in stranger.verdict
    assert "Store and planters last without rain" in stranger.text
    stranger.open("need")
    assert stranger.headings("Does the water rise to the plants?")
    assert "never" in stranger.row("Loam")
    stranger.open("time")
    assert "a float lets in what they drink" in stranger.verdict
    stranger.open("week")
    assert "Nothing runs by the clock" in stranger.verdict
    stranger.open("build")
    for good in ("Gutter or channel", "Plank that a trough lies on", "Float valve in a box"):
        assert stranger.row(good)
    stranger.open("steps")
    assert stranger.headings("Trough of “Buckets”")
    assert not stranger.links("Next: ")
    answers(stranger, "store", "need", "lay", "shares", "years", "build", "steps", "away")


@again("web/test_built_from_below.py::test_wicking_buckets_in_a_trough")
def test_two_dozen_trays_that_fill_when_they_are_dry(tmp_path):
    """Wide pipe with a filter and an air release, a valve in each tray, nothing to mend."""
    stranger = begin(tmp_path)
    rain(stranger)
    barrel(stranger)
    planters(stranger, {"A float keeps their water": "each"}, **{"In a row": "12", "Rows": "2"})
    stranger.lay("Buckets", begins_at="store", dripper="float-dry")
    stranger.open("build")
    for good, count in (
        ("Fill-and-dry valve", "24"),
        ("Air release at a high place", "1"),
        ("Screen filter", "1"),
    ):
        assert count in stranger.row(good)
    stranger.open("lay")
    assert "24 of 24" in stranger.verdict
    stranger.open("steps")
    assert "screwed level into its pot or tray" in stranger.text
    answers(stranger, "store", "need", "push", "time", "shares", "years", "build", "away")


def test_what_cannot_be_is_refused_at_its_field(tmp_path):
    """A wick longer than the pot, a tube that does not reach: in words, and nothing typed is lost."""
    stranger = begin(tmp_path)
    rain(stranger)
    planters(stranger, {"A float keeps their water": "chain"}, **{"In a row": "6"})
    stranger.open("lay?at=pots")
    wrong = {"From its foot up to the mix": "60 cm", "Tube from one to the next": "10 cm"}
    stranger.send("pots-pot-below", wrong)
    assert stranger.status == 422
    assert len(stranger.faults()) == 2
    form = stranger.form("pots-pot-below")
    for label, typed in wrong.items():
        assert stranger.field(form, label).get("value") == typed


@again("web/test_built_from_below.py::test_wicking_buckets_in_a_trough")
def test_pots_with_a_float_valve_each_on_small_tube(tmp_path):
    """A small tank over pots: a valve in each on 4 mm tube, a screen before them, no timer."""
    stranger = begin(tmp_path)
    rain(stranger)
    barrel(stranger)
    planters(stranger, {"A float keeps their water": "each"}, **{"In a row": "6"})
    stranger.lay("Buckets", begins_at="store", dripper="float-pot")
    stranger.open("build")
    assert stranger.row("Float valve in a pot")
    assert stranger.row("Screen filter")
    assert not stranger.rows("timer")
    stranger.open("time")
    assert "a float lets in" in stranger.verdict
    answers(stranger, "store", "need", "push", "lay", "shares", "years", "build", "steps")


def test_a_chain_of_planters_behind_one_float_box(tmp_path):
    """Narrow tubes starve the last ones; what Push offers, typed, carries them all."""
    stranger = begin(tmp_path)
    rain(stranger)
    barrel(stranger)
    chain = {"A float keeps their water": "chain", "Inside width of that tube": "4 mm"}
    planters(stranger, chain, **{"In a row": "12"})
    stranger.lay("Buckets", begins_at="store")
    stranger.open("push")
    assert stranger.headings("How high does the water stand along")
    assert "“Buckets”" in stranger.verdict
    stranger.open("cures/push")
    assert "Tubes" in stranger.text
    stranger.open("lay?at=pots")
    stranger.fill("pots-pot-below", {"Inside width of that tube": "13 mm"})
    stranger.open("push")
    assert "One float carries all 12" in stranger.verdict
    stranger.open("steps")
    assert stranger.headings("Float box and planters of “Buckets”")
    answers(stranger, "store", "need", "lay", "shares", "years", "build", "steps", "away")
    # And it can be logged: a low level at the float is told apart from thirst at its end.
    stranger.open("keep")
    stranger.fill("log-level", {"Water over the floor of box or trough": "1 cm"})
    assert "Level under planters · Buckets: 1 cm" in stranger.text
    stranger.open("fault")
    stranger.follow("All of them droop")
    assert "Look first here: the screen" in stranger.verdict
