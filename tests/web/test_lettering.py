"""Lettering: a name that is too wide is shortened so that it fits and can still be told from its neighbours."""

import pytest

from euhydra.web.drawing.lettering import fitted, width_px

LONG = "Raised bed beside the old greenhouse"


def test_a_name_that_fits_is_left_as_it_is():
    assert fitted(LONG, width_px(LONG)) == LONG


@pytest.mark.parametrize("room", [40.0, 90.0, 150.0])
@pytest.mark.parametrize(
    "name", [f"{LONG} 12", "Regenwassersammelbehälterdeckel", "W W W W W W W W W W W W W"]
)
def test_what_is_left_of_a_name_fits(name, room):
    short = fitted(name, room)
    assert width_px(short) <= room
    assert "…" in short
    assert name.startswith(short.split("…", maxsplit=1)[0])


def test_two_names_that_differ_in_their_number_still_do():
    short = {fitted(f"{LONG} {number}", 90.0) for number in range(1, 20)}
    assert len(short) == 19
