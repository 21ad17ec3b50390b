"""Heights of the ground between what is known of it."""

from pytest import approx

from euhydra.garden import edits
from euhydra.garden.heights import LieOfLand
from euhydra.garden.part import Point
from euhydra.garden.pots import Pots
from gardens import one_barrel


def on_a_step(count: int):
    """A barrel's garden with a row of pots on a step of its own."""
    pots = Pots(
        id="pots", name="Pots", at=Point(x_m=20, y_m=0), columns=count, crop="tomato", ground_m=1.0
    )
    return pots, LieOfLand.of(edits.put(one_barrel(), "pots", pots))


def test_a_row_of_pots_stands_on_one_height_from_end_to_end():
    pots, land = on_a_step(6)
    along = [20 + share * 5 * pots.pitch_m for share in (0, 0.1, 0.5, 1)]
    assert [land.height_at(x, 0.0) for x in along] == approx([1.0] * 4)


def test_a_row_counts_once_however_many_stand_in_it():
    # What lies beyond the first pot is as far from a row of one as from a row of six.
    beside = [on_a_step(count)[1].height_at(18.0, 0.0) for count in (1, 6)]
    assert beside[0] == approx(beside[1])
