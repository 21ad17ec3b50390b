"""The plan on paper: the largest usual scale at which it goes on a sheet, and letters that can be read."""

import pytest

from euhydra.garden.quantities import System
from euhydra.web.drawing.plan_sheet import PAPERS, sheet_for


@pytest.mark.parametrize(
    ("system", "width", "height", "scale", "is_wide"),
    [
        # By hand: A4 less its margins is 182 by 269 mm, 239 under the title and over the words.
        (System.METRIC, 8.0, 10.0, 50, False),  # 160 by 200 mm
        (System.METRIC, 13.2, 20.6, 100, False),
        (System.METRIC, 24.0, 13.0, 100, True),  # 240 by 130 mm, the sheet lying
        (System.METRIC, 4.4, 4.4, 25, False),
        (System.US, 28.8, 12.0, 120, True),  # 240 mm on the sheet's long side
        (System.US, 12.0, 12.0, 96, False),  # 125 mm; at 1:48 250 mm, which is too wide
        (System.METRIC, 900.0, 900.0, 2000, False),  # does not fit at any
    ],
)
def test_the_scale_is_the_largest_usual_one_that_fits(system, width, height, scale, is_wide):
    sheet = sheet_for((0.0, 0.0, width, height), system)
    assert (sheet.scale, sheet.is_wide) == (scale, is_wide)
    assert sheet.width_mm == pytest.approx(1000 * width / scale, abs=0.01)
    assert sheet.paper == PAPERS[system][0]


def test_the_scale_is_said_in_the_gardens_own_measures():
    metric = sheet_for((0.0, 0.0, 8.0, 10.0), System.METRIC)
    assert metric.said == "1:50 on A4: 1 cm is 0.5 m"
    feet = sheet_for((0.0, 0.0, 12.0, 12.0), System.US)
    assert feet.said == "1:96 on Letter: 1 in is 8 ft"
    assert feet.page == "sheet-letter"
    # Eight points, whatever the scale: 1 pt is 0.3528 mm.
    assert 1000 * feet.letter_m / feet.scale / 0.3528 == pytest.approx(7.65, abs=0.1)
