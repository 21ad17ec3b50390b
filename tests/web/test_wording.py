import pytest

from euhydra.core.schedule import Position
from euhydra.garden import plumbing
from euhydra.garden.filled_text import fill
from euhydra.garden.quantities import System
from euhydra.garden.sentences import Amount, say
from euhydra.web import wording
from euhydra.web.cautions import cautions_at
from gardens import one_barrel, tapped

M, US = System.METRIC, System.US


@pytest.mark.parametrize(
    ("amount", "system", "words"),
    [
        (Amount(0.2, "volume"), M, "200 L"),
        (Amount(0.2, "volume"), US, "52.8 gal"),
        (Amount(86400, "days"), M, "1 day"),
        (Amount(2.5 * 86400, "days"), M, "2.5 days"),
        (Amount(2142, "hours"), M, "36 min"),
        (Amount(53571, "hours"), M, "14.9 h"),
        (Amount(0.9071, "head"), M, "0.91 m"),
        (Amount(-0.0004, "volume"), M, "−0.4 L"),
        (Amount(0.0, "volume"), M, "0 L"),
    ],
)
def test_amounts_as_people_read_them(amount, system, words):
    assert amount.told(system) == words


def test_sentences_are_escaped_and_filled():
    text = wording.say(say("a-test", "<b>{litres}</b> & more", litres=Amount.litres(10)), M)
    assert "&lt;b&gt;" in text
    assert "10 L" in text


@pytest.mark.parametrize(
    ("position", "words"),
    [
        (Position(5, 0.5), "twice a day"),
        (Position(5, 1), "every day"),
        (Position(5, 1, 3), "3 times a day"),
        (Position(5, 2), "every second day"),
        (Position(5, 3), "every 3 days"),
        (Position(5, 7), "once a week"),
        (Position(5, 2.333, 2, (0, 2, 4)), "Mon, Wed, Fri, twice"),
        (Position(5, 1, 1, (0, 1, 2, 3, 4, 5, 6)), "every day"),
    ],
)
def test_how_often_in_words(position, words):
    assert wording.how_often(position) == words


def test_no_words_of_a_choice_are_left_unfilled():
    for choices in wording.choice_lists().values():
        for words in choices.values():
            for system in System:
                assert "{" not in fill(words, system)
    assert "gal/h" in fill(plumbing.pipe_kinds()["line-low"].name, US)


@pytest.mark.parametrize(
    "station", ["catch", "greywater", "store", "push", "lay", "time", "week", "away", "bench"]
)
def test_every_station_has_its_cautions(station):
    assert cautions_at(station)
    for caution in cautions_at(station):
        assert caution.harm
        assert caution.act


def test_no_caution_is_of_what_a_garden_does_not_have():
    """Each `where` is a collection; on a tap alone nothing is said of stored water, in a yard of rain nothing of taps."""
    stored, piped, timed = ("stores", "greywaters"), ("taps",), ("timers",)
    rain, mains = one_barrel(), tapped()
    floated = rain.model_copy(update={"timers": ()})
    for station in ("time", "week", "away", "lay"):
        every = cautions_at(station)
        assert {each.where for each in every} <= {(), stored, piped, timed}
        assert [c for c in every if c.where != piped] == list(cautions_at(station, rain))
        assert [c for c in every if c.where != stored] == list(cautions_at(station, mains))
        assert timed not in {each.where for each in cautions_at(station, floated)}
    assert timed in {each.where for each in cautions_at("time", rain)}
