"""A season by an independent FAO-56 package, for checks and measurements.

The package reckons soil evaporation apart. Its evaporating layer is made next to nothing here, so
that its single mean coefficient and its root zone can be held against ours.
"""

import importlib.util
import warnings
from dataclasses import dataclass
from pathlib import Path

import numpy as np

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import pandas
    import pyfao56

FIRST, LAST = "121", "265"
"""Days of the year of a summer crop: 145 days from 1 May on."""

P = 0.4
FIELD_CAPACITY, WILTING_POINT, ROOTS = 0.25, 0.12, 0.7


def climate_file(name: str) -> Path:
    """A daily climate file that ships with AquaCrop's package."""
    spec = importlib.util.find_spec("aquacrop")
    assert spec is not None
    assert spec.origin is not None
    return Path(spec.origin).parent / "data" / f"{name}_climate.txt"


@dataclass(frozen=True)
class Year:
    """A calendar year of daily weather: rain and ET0 [mm], temperatures [°C]."""

    year: int
    temp_min: np.ndarray
    temp_max: np.ndarray
    rain: np.ndarray
    et0: np.ndarray


def year_of(name: str, year: int) -> Year:
    rows = np.loadtxt(climate_file(name), skiprows=1)
    rows = rows[rows[:, 2] == year]
    return Year(year, rows[:, 3], rows[:, 4], rows[:, 5], rows[:, 6])


def model(weather: Year) -> "pyfao56.Model":
    """A tomato-like crop through the summer, watered when the readily available water is gone."""
    station = pyfao56.Weather()
    station.rfcrp, station.z, station.lat, station.wndht = "S", 10, 36.8, 2.0
    days = pandas.date_range(f"{weather.year}-01-01", periods=len(weather.rain))
    station.wdata = pandas.DataFrame(
        {
            "Srad": np.nan,
            "Tmax": weather.temp_max,
            "Tmin": weather.temp_min,
            "Vapr": np.nan,
            "Tdew": np.nan,
            "RHmax": 95.0,
            "RHmin": 80.0,
            "Wndsp": 1.0,
            "Rain": weather.rain,
            "ETref": weather.et0,
            "MorP": "M",
        },
        index=[day.strftime("%Y-%j") for day in days],
    )
    crop = pyfao56.Parameters(
        Kcmini=0.6,
        Kcmmid=1.15,
        Kcmend=0.8,
        Kcbini=0.99,
        Kcbmid=1.0,
        Kcbend=0.99,
        Lini=30,
        Ldev=40,
        Lmid=45,
        Lend=30,
        hini=2.9,
        hmax=3.0,
        thetaFC=FIELD_CAPACITY,
        thetaWP=WILTING_POINT,
        theta0=FIELD_CAPACITY,
        Zrini=ROOTS - 1e-4,
        Zrmax=ROOTS,
        pbase=P,
        Ze=1e-6,
        REW=0.0,
    )
    waters = pyfao56.AutoIrrigate()
    waters.addset(f"{weather.year}-001", f"{weather.year}-365", mad=P)
    return pyfao56.Model(
        f"{weather.year}-{FIRST}",
        f"{weather.year}-{LAST}",
        crop,
        station,
        autoirr=waters,
        cons_p=True,
    )
