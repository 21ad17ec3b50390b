"""Which column of a weather file is which, and in what unit.

A unit is taken from the column's name or the file's known layout, or it is asked for. It is
never guessed from the numbers.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

NEEDED = {"precip": "precip_mm", "tmin": "tmin_c", "tmax": "tmax_c"}
"""Columns that every record has to have, and how our own header writes them."""

DATE_ORDER = "date"
"""Name under which the order of day and month is asked for, among the units: `dm` or `md`."""

SPOKEN = {"precip": "rain", "tmin": "lowest temperature", "tmax": "highest temperature"}
"""The same, in words."""


class WeatherFileError(ValueError):
    """The file cannot be used as it stands; one line a fault, each with place and remedy."""


class WeatherValueError(WeatherFileError):
    """The columns are clear, but what stands in them is no weather; no other reading would help."""


class UnitsNeededError(WeatherFileError):
    """The file is fine, but some columns do not say their unit.

    example : What a command line would say.
    """

    example = "--unit precip=mm --unit temp=c"

    def __init__(self, quantities_needed: dict[str, str]) -> None:
        self.needed = quantities_needed
        columns = ", ".join(f"“{column}”" for column in quantities_needed.values())
        super().__init__(
            f"The unit of {columns} is not stated in the file: say it (rain: mm or in; "
            "temperature: C or F)."
        )


class DateOrderNeededError(UnitsNeededError):
    """Dates such as 3/1/2020, of which no day in the file tells which of the two is the month."""

    example = "--unit date=dm"

    def __init__(self, header: str, example: str) -> None:
        super().__init__({DATE_ORDER: header})
        self.args = (
            f"“{example}” can be read in two ways, and no day of the file tells which: say whether the "
            "day stands first (dm) or the month (md).",
        )


@dataclass(frozen=True)
class Meaning:
    """What a column is: our name for it, and its unit if the name settles that."""

    name: str
    unit: str = ""


@dataclass(frozen=True)
class Quantity:
    """A column of ours: kind of quantity, unit kept, units taken, limits, where it comes from.

    lowest, highest : Beyond these the value is not weather. In the unit kept.
    """

    unit: str
    units: tuple[str, ...]
    lowest: float
    highest: float


OURS = {
    "precip": Quantity("mm", ("mm", "cm", "in", "tenth_mm"), 0, 1900),
    "tmin": Quantity("c", ("c", "f", "tenth_c", "k"), -90, 57),
    "tmax": Quantity("c", ("c", "f", "tenth_c", "k"), -90, 57),
    "et0": Quantity("mm", ("mm", "in"), 0, 25),
    "rhmin": Quantity("pct", ("pct",), 0, 100),
    "rhmax": Quantity("pct", ("pct",), 0, 100),
    "wind": Quantity("m_s", ("m_s", "km_h", "mph", "kn"), 0, 110),
    "solar": Quantity("mj_m2", ("mj_m2",), 0, 50),
}
"""Columns we keep. Limits: world records, rounded up (1,825 mm in a day; 56.7 and −89.2 °C), from
memory."""

FACTORS = {
    "mm": (1.0, 0.0),
    "cm": (10.0, 0.0),
    "in": (25.4, 0.0),
    "tenth_mm": (0.1, 0.0),
    "c": (1.0, 0.0),
    "f": (5 / 9, -32 * 5 / 9),
    "tenth_c": (0.1, 0.0),
    "k": (1.0, -273.15),
    "pct": (1.0, 0.0),
    "m_s": (1.0, 0.0),
    "km_h": (1 / 3.6, 0.0),
    "mph": (0.44704, 0.0),
    "kn": (0.514444, 0.0),
    "mj_m2": (1.0, 0.0),
}
"""Factor and offset from each unit taken to the unit kept."""

DATE_COLUMNS = {"date", "time", "day", "datum", "yyyymmdd", "mess_datum", "fecha", "data", "dato"}

COLUMNS = {
    "precip": (
        "precip",
        "precipitation",
        "prcp",
        "rain",
        "rainfall",
        "precipitation_sum",
        "rain_sum",
        "prectotcorr",
        "pr",
        "rr",
        "rsk",
        "gauge",
        "niederschlag",
        "pluie",
        "precipitación",
        "pioggia",
        "neerslag",
    ),
    "tmin": (
        "tmin",
        "temp_min",
        "mintemp",
        "min_temp",
        "tn",
        "temperature_2m_min",
        "t2m_min",
        "tmmn",
        "tnk",
        "min temp",
        "minimum temperature",
        "lowest temp",
    ),
    "tmax": (
        "tmax",
        "temp_max",
        "maxtemp",
        "max_temp",
        "tx",
        "temperature_2m_max",
        "t2m_max",
        "tmmx",
        "txk",
        "max temp",
        "maximum temperature",
        "highest temp",
    ),
    "et0": ("et0", "eto", "et0_fao_evapotranspiration", "reference_et"),
    "rhmin": ("rhmin",),
    "rhmax": ("rhmax",),
    "wind": ("wind", "wspd", "awnd", "windspeed_10m_mean"),
    "solar": ("solar", "shortwave_radiation_sum", "rs"),
}
"""Names of each column in the common public archives, without their units."""

UNIT_WORDS = {
    "mm": "mm",
    "mm/day": "mm",
    "mm/d": "mm",
    "cm": "cm",
    "in": "in",
    "inch": "in",
    "inches": "in",
    "0.1mm": "tenth_mm",
    "c": "c",
    "°c": "c",
    "degc": "c",
    "deg c": "c",
    "f": "f",
    "°f": "f",
    "degf": "f",
    "deg f": "f",
    "k": "k",
    "%": "pct",
    "pct": "pct",
    "m_s": "m_s",
    "m/s": "m_s",
    "km/h": "km_h",
    "km_h": "km_h",
    "mph": "mph",
    "mp/h": "mph",
    "kn": "kn",
    "mj_m2": "mj_m2",
    "mj/m²": "mj_m2",
    "mj/m2": "mj_m2",
}
"""Units as they stand in headers, after the name or in brackets."""

KNOWN_LAYOUTS = (
    # A weather service's daily file by station; its notes give mm and °C.
    (
        frozenset(
            {
                "stations_id",
                "mess_datum",
                "qn_3",
                "fx",
                "fm",
                "qn_4",
                "rsk",
                "rskf",
                "sdk",
                "shk_tag",
            }
            | {"nm", "vpm", "pm", "tmk", "upm", "txk", "tnk", "tgk", "eor"}
        ),
        {"precip": "mm", "tmax": "c", "tmin": "c"},
    ),
    # One city's daily file that ships with teaching sets of data; its notes give mm, °C and m/s.
    (
        frozenset({"date", "precipitation", "temp_max", "temp_min", "wind", "weather"}),
        {"precip": "mm", "tmax": "c", "tmin": "c", "wind": "m_s"},
    ),
    # Daily aggregates by station with one code a column; its notes give mm, °C and km/h.
    (
        frozenset({"date", "tavg", "tmin", "tmax", "prcp", "snow", "wdir", "wspd", "pres"}),
        {"precip": "mm", "tmax": "c", "tmin": "c", "wind": "km_h"},
    ),
)
"""Whole headers whose archive states the units elsewhere."""


@dataclass(frozen=True)
class Column:
    """One column that was understood."""

    index: int
    header: str
    name: str
    unit: str


def is_header(line: str) -> bool:
    """Whether a line of the file names its columns."""
    words = [w.strip(' "').lower() for w in re.split(r"[,;\t]", line)]
    return len(words) > 1 and (
        bool(DATE_COLUMNS & set(words))
        or {"year", "doy"} <= set(words)
        or {"year", "yday"} <= set(words)
    )


def stated_unit(header: str) -> str:
    """The unit that a header states; "" where it states none."""
    meaning = _meaning(header)
    return meaning.unit if meaning else ""


def taken_for(header: Sequence[str], said: Mapping[str, str]) -> list[str]:
    """What each column is taken for: our name, `date`, or "" for one that is left out.

    Parameters
    ----------
    said : The same, as the owner says it, by header.
    """
    plain = [text.strip().lower() for text in header]
    dates = {plain[i] for i in _date_index(plain)}
    found: list[str] = []
    for text, name in zip(header, plain, strict=True):
        meaning = _meaning(text)
        usual = meaning.name if meaning else DATE_ORDER if name in dates else ""
        found.append(said.get(text.strip(), usual))
    return found


def understand(
    header: list[str],
    units: Mapping[str, str],
    needed: tuple[str, ...],
    said: Mapping[str, str] | None = None,
) -> tuple[tuple[Column, ...], list[int], tuple[str, ...]]:
    """Columns understood, the positions that make up the date, and headers not understood.

    Parameters
    ----------
    header : As it stands in the file.
    units : Units said by the owner, by our name, or `temp` for both temperatures.
    needed : Columns that have to be there, by our name.
    said : What columns are by their owner's word, by header: our name, `date`, or "" for none.

    Raises
    ------
    UnitsNeededError : if a unit has to be asked for.
    WeatherFileError : if a column is lacking, doubled or in a unit that is not one.
    """
    plain = [h.strip().lower() for h in header]
    layout = next((known for names, known in KNOWN_LAYOUTS if frozenset(plain) == names), {})
    columns: list[Column] = []
    left_out: list[str] = []
    names = taken_for(header, said or {})
    dates = [index for index, name in enumerate(names) if name == DATE_ORDER]
    if not dates:
        raise WeatherFileError("No column of the file is said to be the date.")
    for index, (text, name) in enumerate(zip(header, names, strict=True)):
        if name not in OURS:
            if name != DATE_ORDER:
                left_out.append(text.strip())
            continue
        stated = _meaning(text)
        meaning = Meaning(name, stated.unit if stated else "")
        if any(c.name == meaning.name for c in columns):
            raise WeatherFileError(
                f"Two columns hold the same thing ({meaning.name}): remove “{text.strip()}” or the other."
            )
        asked = units.get(meaning.name) or (
            units.get("temp") if meaning.name in ("tmin", "tmax") else None
        )
        unit = meaning.unit or layout.get(meaning.name, "") or (asked or "")
        if unit and unit not in OURS[meaning.name].units:
            raise WeatherFileError(
                f"“{unit}” is not a unit for “{text.strip()}”: use {', '.join(OURS[meaning.name].units)}."
            )
        columns.append(Column(index, text.strip(), meaning.name, unit))
    _refuse_lacking(columns, needed)
    return tuple(columns), dates, tuple(left_out)


def _refuse_lacking(columns: list[Column], needed: tuple[str, ...]) -> None:
    there = {c.name for c in columns}
    lacking = [name for name in needed if name not in there]
    if lacking:
        raise WeatherFileError(
            f"No column for {' and '.join(SPOKEN[n] for n in lacking)} was found: name it, for "
            f"example “{', '.join(NEEDED[n] for n in lacking)}”."
        )
    no_unit = {c.name: c.header for c in columns if not c.unit and c.name in (*needed, "et0")}
    if no_unit:
        raise UnitsNeededError(no_unit)


def _meaning(text: str) -> Meaning | None:
    """Column of ours that a header names, with the unit it states."""
    plain = text.strip().lower()
    bracketed = re.fullmatch(r"(.+?)\s*[(\[]([^)\]]+)[)\]]", plain)
    name, unit = (bracketed[1], bracketed[2].strip()) if bracketed else (plain, "")
    for ours, names in COLUMNS.items():
        if name in names:
            return Meaning(ours, UNIT_WORDS.get(unit, unit))
        for known in names:
            tail = name.removeprefix(f"{known}_")
            if name != tail and tail in UNIT_WORDS:
                return Meaning(ours, UNIT_WORDS[tail])
    return None


def _date_index(plain: list[str]) -> list[int]:
    for index, name in enumerate(plain):
        if name in DATE_COLUMNS:
            return [index]
    day = next((name for name in ("doy", "yday") if name in plain), None)
    return [plain.index("year"), plain.index(day)] if "year" in plain and day else []
