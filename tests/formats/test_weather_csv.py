from datetime import date

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pytest import approx

from euhydra.formats import weather_csv, weather_sheet
from euhydra.formats.weather_columns import (
    DateOrderNeededError,
    UnitsNeededError,
    WeatherFileError,
)
from euhydra.formats.weather_csv import fill_gaps, read
from euhydra.formats.weather_table import decode

OWN = "date,precip_mm,tmin_c,tmax_c\n2020-02-28,1,5,12\n2020-02-29,0,6,13\n2020-03-01,2.5,4,11\n"


def test_our_own_header():
    file = read(OWN)
    assert file.days == (date(2020, 2, 28), date(2020, 2, 29), date(2020, 3, 1))
    assert file.record().precip == approx([1, 0, 2.5])
    assert not file.gaps


@pytest.mark.parametrize(
    ("text", "units"),
    [
        (
            "time,temperature_2m_max (°C),temperature_2m_min (°C),precipitation_sum (mm)\n2020-01-01,12,5,1",
            {},
        ),
        (
            "time,temperature_2m_max (°F),temperature_2m_min (°F),precipitation_sum (inch)\n2020-01-01,53.6,41,0.03937",
            {},
        ),
        ("year,yday,prcp (mm/day),tmax (deg c),tmin (deg c)\n2020,1,1,12,5", {}),
        (
            "STATION,DATE,PRCP,TMAX,TMIN\nX,2020-01-01,10,120,50",
            {"precip": "tenth_mm", "temp": "tenth_c"},
        ),
        ("YEAR,DOY,PRECTOTCORR,T2M_MAX,T2M_MIN\n2020,1,1,12,5", {"precip": "mm", "temp": "c"}),
        ("date,tavg,tmin,tmax,prcp,snow,wdir,wspd,pres\n2020-01-01,8,5,12,1,,,3,1010", {}),
        ("date;precip_mm;tmin_c;tmax_c\n2020-01-01;1,0;5,0;12,0", {}),
        (
            "STATIONS_ID;MESS_DATUM;QN_3;  FX;  FM;QN_4; RSK;RSKF; SDK;SHK_TAG;  NM; VPM;  PM; TMK; UPM; TXK; TNK; TGK;eor\n"
            "        433;20200101;   10;-999;-999;    3; 1.0;   8;-999;      0;-999;-999;-999; 8.5;  80;12.0; 5.0; 1.0;eor",
            {},
        ),
        (
            "Daily values, station of the botanical garden\nGauge at 1 m\n\n"
            "Datum;Niederschlag (mm);Tn (°C);Tx (°C)\n01.01.2020;1,0;5,0;12,0",
            {},
        ),
        ("date,precip_mm,tmin_c,tmax_c\n1/1/2020,1,5,12\n1/31/2020,0,5,12", {}),
        ("date,precip_mm,tmin_c,tmax_c\n01/01/2020,1,5,12\n31/01/2020,0,5,12", {}),
        ("date,precip_mm,tmin_c,tmax_c\n1/1/2020,1,5,12\n2/1/2020,0,5,12", {"date": "dm"}),
        (
            "date,precip_in,tmin_f,tmax_f\n01/01/2020,0.03937,41,53.6".replace(
                "01/01/2020", "2020/01/01"
            ),
            {},
        ),
    ],
)
def test_headers_of_the_public_archives(text, units):
    record = read(text, units).record()
    assert record.days[0] == np.datetime64("2020-01-01")
    assert (record.precip[0], record.temp_min[0], record.temp_max[0]) == approx(
        (1, 5, 12), rel=1e-3
    )


def test_units_are_asked_for_and_never_guessed():
    with pytest.raises(UnitsNeededError) as caught:
        read("DATE,PRCP,TMAX,TMIN\n2020-01-01,1,12,5")
    assert set(caught.value.needed) == {"precip", "tmin", "tmax"}


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (OWN.replace("tmin_c,tmax_c", "tmax_c,tmin_c"), "are swapped"),
        (OWN.replace("1,5,12", "1,12,5"), "2020-02-28: the lowest"),
        (OWN.replace("2.5", "2.5 mm"), "Line 4, column “precip_mm”"),
        (OWN.replace("11\n", "75\n"), "Line 4, column “tmax_c”"),
        (OWN.replace("2020-02-29", "2020-02-28"), "Line 3: 2020-02-28 stands there twice"),
        (OWN.replace("2020-02-29", "2021-02-29"), "Line 3: “2021-02-29” is not a date"),
        (OWN.replace("2020-02-28", "1020-02-28"), "is a year mistyped"),
        (OWN.replace(",1,5", ",-1,5"), "Line 2, column “precip_mm”: -1"),
        (OWN.replace("tmax_c", "colour"), "highest temperature was found"),
        (OWN.replace("tmax_c", "tmin"), "Two columns hold the same"),
        ("date,precip_mm,tmin_c,tmax_c\n", "a header and no days"),
        ("hello", "No days"),
        ("", "No days"),
    ],
)
def test_faults_name_line_and_remedy(text, words):
    with pytest.raises(WeatherFileError, match=words):
        read(text)


def test_a_million_rows_stop_early(monkeypatch):
    monkeypatch.setattr(weather_csv, "MOST_ROWS", 2)
    with pytest.raises(WeatherFileError, match="more than 2 days"):
        read(OWN)


def test_a_picture_is_told_from_a_table():
    with pytest.raises(WeatherFileError, match="picture"):
        decode(b"\x89PNG\r\n\x1a\n" + b"\0" * 50)
    with pytest.raises(WeatherFileError, match="not a text file"):
        decode(b"date\0\0\0")


def test_gaps_are_reported_by_date_and_filled_only_on_request():
    file = read(OWN.replace("2020-02-29,0,6,13\n", "").replace("2.5,4,11", "2.5,,11"))
    assert file.gaps == {
        date(2020, 2, 29): ("precip", "tmin", "tmax"),
        date(2020, 3, 1): ("tmin",),
    }
    assert np.isnan(file.record().precip[1])
    filled = fill_gaps(file)
    assert filled.precip[1] == 0
    assert filled.temp_max[1] == approx(11.5)


def test_columns_not_understood_are_named():
    assert read(OWN.replace("tmax_c", "tmax_c,moon").replace("12\n", "12,full\n")).left_out == (
        "moon",
    )


def test_a_real_public_file(seattle_file):
    # Seattle 2012 to 2015, shipped by the dataset package; 1461 days by the calendar.
    file = read(decode(seattle_file.read_bytes()))
    assert len(file.days) == 1461
    assert not file.gaps
    assert file.left_out == ("weather",)
    assert {c.name: c.unit for c in file.columns} == {
        "precip": "mm",
        "tmax": "c",
        "tmin": "c",
        "wind": "m_s",
    }


@settings(max_examples=300)
@given(
    st.lists(
        st.tuples(
            st.integers(0, 3),
            st.integers(0, 3),
            st.text('0123456789.,;-/ \t"mdtTprecinax_\u00e9', max_size=10),
        ),
        max_size=5,
    )
)
def test_whatever_the_file_it_is_read_or_refused_in_words(changes):
    rows = [line.split(",") for line in OWN.splitlines()]
    for row, column, text in changes:
        rows[row][column] = text
    try:
        file = read("\n".join(",".join(row) for row in rows))
    except WeatherFileError:
        return  # refused in words
    assert len(file.days) >= 1
    filled = fill_gaps(file)
    assert not np.isnan(filled.precip).any()


def test_the_order_of_day_and_month_is_asked_for_where_no_day_tells():
    text = "date,precip_mm,tmin_c,tmax_c\n3/1/2020,1,5,12\n4/1/2020,2,5,12\n"
    with pytest.raises(DateOrderNeededError) as asked:
        read(text)
    assert asked.value.needed == {"date": "date"}
    assert read(text, {"date": "dm"}).days == (date(2020, 1, 3), date(2020, 1, 4))
    by_month = read(text, {"date": "md"})
    assert (by_month.days[0], by_month.days[-1]) == (date(2020, 3, 1), date(2020, 4, 1))
    assert len(by_month.gaps) == 30


def test_a_date_in_another_order_than_the_rest_is_named_with_its_line():
    text = "date,precip_mm,tmin_c,tmax_c\n31/1/2020,1,5,12\n1/31/2020,2,5,12\n"
    with pytest.raises(WeatherFileError, match="Line 3: “1/31/2020” is not a date"):
        read(text)


GAUGE = "My gauge, the lower bed\n\nRead on;Total;Remark\n01/05/2024;3,2;\n13/05/2024;0;dew\n14/05/2024;-999;\n"


def test_a_gauge_log_is_read_once_its_columns_are_said():
    sheet = weather_sheet.sheet(GAUGE)
    assert sheet.header == ("Read on", "Total", "Remark")
    assert sheet.names == ("date", "", "")
    assert sheet.rows[0][:2] == ("01/05/2024", "3.2")
    said = {"Read on": "date", "Total": "precip", "Remark": ""}
    assert weather_sheet.sheet(GAUGE, said).units[1] == "mm"
    read = weather_csv.read(GAUGE, {"precip": "mm"}, ("precip",), said)
    assert read.days[0] == date(2024, 5, 1)
    assert read.values["precip"][0] == 3.2
    assert np.isnan(read.values["precip"][-1])
    assert read.left_out == ("Remark",)


def test_days_without_any_header_are_called_by_their_place():
    sheet = weather_sheet.sheet("2024-01-01,1.5,-2\n2024-01-02,0,1\n")
    assert sheet.header == ("column 1", "column 2", "column 3")
    assert sheet.names[0] == "date"
    under_a_title = weather_sheet.sheet("My station, north\n2024-01-01;1,5;-2\n")
    assert under_a_title.header == sheet.header
    assert under_a_title.rows == (("2024-01-01", "1.5", "-2"),)
    said = {"column 2": "precip", "column 3": "tmin"}
    read = weather_csv.read(
        "2024-01-01,1.5,-2\n",
        {"precip": "mm", "tmin": "c"},
        ("precip", "tmin"),
        {"column 1": "date"} | said,
    )
    assert (read.values["precip"], read.values["tmin"]) == ((1.5,), (-2.0,))


def test_highest_and_lowest_are_proposed_in_one_unit():
    """A night of 50 °F could be one of 50 °C by itself; beside a day of 71 it cannot."""
    sheet = weather_sheet.sheet("date;Tmax;Tmin\n2026-05-01;71,2;50,1\n2026-05-02;69,0;48,3\n")
    assert sheet.units == ("", "f", "f")


@pytest.mark.parametrize(
    ("name", "cells", "unit"),
    [
        ("precip", ("0.12", "0", "0.31", "0"), "in"),
        ("precip", ("3", "0", "8", "0"), "mm"),
        ("precip", ("42", "0", "81", "0"), "tenth_mm"),
        ("tmax", ("25", "31", "12"), "c"),
        ("tmax", ("77", "88", "54"), "f"),
        ("tmax", ("250", "310", "120"), "tenth_c"),
        ("tmax", ("290.1", "301.5", "285.3"), "k"),
    ],
)
def test_a_unit_is_proposed_by_the_values_and_never_taken(name, cells, unit):
    lines = (f"2024-01-{i:02},{cell}" for i, cell in enumerate(cells, 1))
    text = "date,Reading\n" + "\n".join(lines)
    assert weather_sheet.sheet(text, {"Reading": name}).units[1] == unit
    with pytest.raises(UnitsNeededError):
        weather_csv.read(text, {}, (name,), {"Reading": name})
