"""A forecast as CSV: read as it is written, refused with its line."""

from datetime import date

import pytest

from euhydra.formats.forecast_csv import ForecastFileError, ForecastRow, read


def test_a_forecast_is_read_with_what_it_leaves_out():
    text = "date,rain_mm,chance,tmin_c,tmax_c\n2026-07-12,5,0.4,12,24\n2026-07-13,,,,\n"
    assert read(text) == [
        ForecastRow(date(2026, 7, 12), 5.0, 0.4, 12.0, 24.0),
        ForecastRow(date(2026, 7, 13), 0.0, 1.0, None, None),
    ]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("day,rain\n2026-07-12,5\n", "Begin with a line"),
        ("date,rain_mm\n12.7.2026,5\n", "Line 2: “12.7.2026” is no day"),
        ("date,rain_mm\n2026-07-12,much\n", "Line 2: “much” is no number"),
        ("date,rain_mm\n2026-07-12,nan\n", "Line 2: “nan” is no number"),
        ("date,rain_mm\n" + "2026-07-12,5\n" * 70, "More than 60 days"),
    ],
)
def test_what_is_no_forecast_says_where(text, said):
    with pytest.raises(ForecastFileError, match=said):
        read(text)
