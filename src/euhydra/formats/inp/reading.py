"""A network from the text of an `.inp` file."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

import numpy as np

from euhydra.core.network import HeadLossLaw, Network, NetworkBuilder, NetworkError, ValveKind
from euhydra.core.pumps import PumpCurve, PumpCurveError
from euhydra.formats.inp.terms import (
    ENGINE_VISCOSITY,
    FLOW_UNITS,
    VALVE_KINDS,
    InpError,
)

MOST_BYTES = 20_000_000
"""Largest file taken. [bytes]"""

NO_BEARING = {
    "TITLE",
    "COORDINATES",
    "VERTICES",
    "LABELS",
    "TAGS",
    "BACKDROP",
    "REPORT",
    "TIMES",
    "ENERGY",
    "QUALITY",
    "REACTIONS",
    "SOURCES",
    "MIXING",
}
"""Sections without bearing on a steady flow."""

NOT_KNOWN = {
    "TANKS": "tanks",
    "PATTERNS": "demand patterns",
    "CONTROLS": "controls",
    "RULES": "rules",
    "DEMANDS": "extra demands",
    "STATUS": "status lines",
    "LEAKAGE": "leakage",
}
"""Sections that would change the flow and that the solver does not know."""

OPTIONS_WITHOUT_BEARING = {
    "TRIALS",
    "ACCURACY",
    "UNBALANCED",
    "QUALITY",
    "DIFFUSIVITY",
    "TOLERANCE",
    "MAP",
    "CHECKFREQ",
    "MAXCHECK",
    "DAMPLIMIT",
    "HEADERROR",
    "FLOWCHANGE",
    "SPECIFIC",
    "PATTERN",
    "HYDRAULICS",
    "PRESSURE",
    "MINIMUM",
    "REQUIRED",
}
"""Options that steer the engine's own search, its reports or water quality."""
KNOWN = {
    "JUNCTIONS",
    "RESERVOIRS",
    "PIPES",
    "PUMPS",
    "VALVES",
    "CURVES",
    "EMITTERS",
    "OPTIONS",
}


@dataclass
class _File:
    """What has been read so far, in the file's own units."""

    sections: dict[str, list[tuple[int, list[str]]]] = field(default_factory=dict)
    flow_unit: float | None = None
    law: HeadLossLaw | None = None
    viscosity: float = ENGINE_VISCOSITY
    emitter_exponent: float = 0.5
    demand_multiplier: float = 1.0


def loads(text: str) -> Network:
    """A network from the text of an `.inp` file.

    Raises
    ------
    InpError : naming the line, what is wrong there and what to do.
    """
    if len(text) > MOST_BYTES:
        raise InpError(f"The file is larger than {MOST_BYTES // 1_000_000} MB.")
    file = _File()
    for number, section, words in _lines(text):
        if section in NOT_KNOWN:
            raise InpError(
                f"Line {number}: {NOT_KNOWN[section]} ([{section}]) are not known to this solver: "
                "remove them or solve this network elsewhere."
            )
        file.sections.setdefault(section, []).append((number, words))
    for number, words in file.sections.get("OPTIONS", []):
        _read_option(file, number, words)
    if file.flow_unit is None:
        raise InpError(
            "[OPTIONS] has no Units line, which means US gallons: state an SI unit, such as "
            "“Units LPM”."
        )
    return _build(file)


def _lines(text: str) -> Iterator[tuple[int, str, list[str]]]:
    section = ""
    for number, line in enumerate(text.splitlines(), 1):
        if "\0" in line:
            raise InpError(f"Line {number}: this is not a text file.")
        words = line.split(";", 1)[0].split()
        if not words:
            continue
        if words[0].startswith("["):
            section = words[0].strip("[]").upper()
            if section == "END":
                return
            if section not in KNOWN and section not in NO_BEARING and section not in NOT_KNOWN:
                raise InpError(f"Line {number}: section [{section}] is not known.")
        elif not section:
            raise InpError(f"Line {number}: “{words[0]}” stands before the first [SECTION].")
        elif section not in NO_BEARING:
            yield number, section, words


def _read_option(file: _File, number: int, words: list[str]) -> None:
    name, value = (
        words[0].upper(),
        _word(number, words, -1 if len(words) > 1 else 1, "value").upper(),
    )
    if name == "UNITS":
        if value not in FLOW_UNITS:
            raise InpError(
                f"Line {number}: flow unit {value} is not SI: use one of {', '.join(FLOW_UNITS)}."
            )
        file.flow_unit = FLOW_UNITS[value]
    elif name == "HEADLOSS":
        if value not in set(HeadLossLaw):
            raise InpError(f"Line {number}: head loss law {value} is not known: use D-W or H-W.")
        file.law = HeadLossLaw(value)
    elif name == "VISCOSITY":
        viscosity = _number(number, value, "viscosity", above=0)
        # Small numbers are absolute, in m²/s; others multiply the engine's own.
        file.viscosity = viscosity if viscosity < 1e-3 else viscosity * ENGINE_VISCOSITY
    elif name == "EMITTER" and words[1].upper() == "EXPONENT":
        file.emitter_exponent = _number(number, value, "emitter exponent", above=0)
    elif name == "EMITTER" and words[1].upper() == "BACKFLOW":
        pass  # ours never flow back; see the module's text
    elif name == "DEMAND" and words[1].upper() == "MULTIPLIER":
        file.demand_multiplier = _number(number, value, "demand multiplier")
    elif name == "DEMAND" and words[1].upper() == "MODEL":
        if value != "DDA":
            raise InpError(f"Line {number}: demand model {value} is not known: use DDA.")
    elif name not in OPTIONS_WITHOUT_BEARING:
        raise InpError(f"Line {number}: option “{' '.join(words)}” is not known.")


def _build(file: _File) -> Network:
    unit = file.flow_unit
    assert unit is not None
    law = file.law or HeadLossLaw.HAZEN_WILLIAMS  # the format's default
    builder = NetworkBuilder(law, file.viscosity)
    emitters = _emitters(file, unit)
    for number, words in file.sections.get("RESERVOIRS", []):
        if len(words) > 2:
            raise InpError(f"Line {number}: head patterns are not known: remove “{words[2]}”.")
        head = _number(number, _word(number, words, 1, "head"), "head")
        with _at_line(number):
            builder.add_source(words[0], head)
    for number, words in file.sections.get("JUNCTIONS", []):
        if len(words) > 3:
            raise InpError(f"Line {number}: demand patterns are not known: remove “{words[3]}”.")
        elevation = _number(number, _word(number, words, 1, "elevation"), "elevation")
        demand = _number(number, words[2], "demand") if len(words) > 2 else 0.0
        demand *= unit * file.demand_multiplier
        k = emitters.pop(words[0], (number, 0.0))[1]
        with _at_line(number):
            builder.add_junction(words[0], elevation, demand, k, file.emitter_exponent)
    for name, (number, _) in emitters.items():
        raise InpError(f"Line {number}: emitter at {name}, which is no junction.")
    for number, words in file.sections.get("PIPES", []):
        _add_pipe(builder, number, words, law)
    curves = _curves(file, unit)
    for number, words in file.sections.get("PUMPS", []):
        _add_pump(builder, number, words, curves)
    for number, words in file.sections.get("VALVES", []):
        _add_valve(builder, number, words)
    try:
        return builder.build()
    except NetworkError as error:
        raise InpError(str(error)) from None


def _emitters(file: _File, unit: float) -> dict[str, tuple[int, float]]:
    return {
        words[0]: (
            number,
            _number(number, _word(number, words, 1, "coefficient"), "coefficient", least=0) * unit,
        )
        for number, words in file.sections.get("EMITTERS", [])
    }


def _add_pipe(builder: NetworkBuilder, number: int, words: list[str], law: HeadLossLaw) -> None:
    _word(number, words, 5, "roughness")
    name, start, end = words[:3]
    length = _number(number, words[3], "length", above=0)
    diameter = _number(number, words[4], "diameter", above=0) / 1000
    metres = law is HeadLossLaw.DARCY_WEISBACH
    smooth = {"least": 0.0} if metres else {"above": 0.0}  # C cannot be 0, a wall's height can
    roughness = _number(number, words[5], "roughness", **smooth)
    status, rest = "OPEN", words[6:]
    minor = 0.0
    if rest and not rest[0][0].isalpha():
        minor = _number(number, rest.pop(0), "minor loss", least=0)
    if rest:
        status = rest.pop(0).upper()
    if rest or status not in ("OPEN", "CLOSED", "CV"):
        what = rest[0] if rest else status
        raise InpError(f"Line {number}: pipe status “{what}” is not known: use Open, Closed or CV.")
    with _at_line(number):
        builder.add_pipe(
            name,
            start,
            end,
            length,
            diameter,
            roughness / 1000 if metres else roughness,
            minor,
            status != "CLOSED",
            status == "CV",
        )


def _curves(file: _File, unit: float) -> dict[str, list[tuple[float, float]]]:
    """Points of each curve: flow [m³ s⁻¹] and head [m]."""
    curves: dict[str, list[tuple[float, float]]] = {}
    for number, words in file.sections.get("CURVES", []):
        flow = _number(number, _word(number, words, 1, "flow"), "flow", least=0) * unit
        head = _number(number, _word(number, words, 2, "head"), "head", least=0)
        curves.setdefault(words[0], []).append((flow, head))
    return curves


def _add_pump(
    builder: NetworkBuilder,
    number: int,
    words: list[str],
    curves: dict[str, list[tuple[float, float]]],
) -> None:
    _word(number, words, 4, "head curve")
    settings = {key.upper(): value for key, value in zip(words[3::2], words[4::2], strict=False)}
    if len(words) % 2 == 0 or set(settings) - {"HEAD", "SPEED"} or "HEAD" not in settings:
        raise InpError(
            f"Line {number}: pump {words[0]} has to be given as HEAD curve [SPEED share]."
        )
    if settings["HEAD"] not in curves:
        raise InpError(f"Line {number}: curve {settings['HEAD']} is not in [CURVES]: add it.")
    speed = _number(number, settings.get("SPEED", "1"), "speed", above=0)
    try:
        curve = PumpCurve.through(curves[settings["HEAD"]])
    except PumpCurveError as error:
        raise InpError(f"Line {number}: {error}") from None
    with _at_line(number):
        builder.add_pump(words[0], words[1], words[2], curve.at_speed(speed))


def _add_valve(builder: NetworkBuilder, number: int, words: list[str]) -> None:
    kind = VALVE_KINDS.get(_word(number, words, 5, "setting") and words[4].upper())
    if kind is None:
        raise InpError(f"Line {number}: valve type {words[4]} is not known: use PRV or TCV.")
    diameter = _number(number, words[3], "diameter", above=0) / 1000
    setting = _number(number, words[5], "setting", least=0)
    minor = _number(number, words[6], "minor loss", least=0) if len(words) > 6 else 0.0
    is_throttle = kind is ValveKind.THROTTLE
    with _at_line(number):
        builder.add_valve(
            words[0],
            words[1],
            words[2],
            kind,
            diameter,
            setting if is_throttle else minor,
            0.0 if is_throttle else setting,
        )


@contextmanager
def _at_line(number: int) -> Iterator[None]:
    try:
        yield
    except NetworkError as error:
        raise InpError(f"Line {number}: {error}") from None


def _word(number: int, words: list[str], place: int, what: str) -> str:
    if len(words) <= place:
        raise InpError(f"Line {number}: {what} is missing for {words[0]}.")
    return words[place]


def _number(
    number: int, word: str, what: str, above: float = -np.inf, least: float = -np.inf
) -> float:
    try:
        value = float(word)
    except ValueError:
        raise InpError(f"Line {number}: {what} “{word}” is not a number.") from None
    if not np.isfinite(value) or value <= above or value < least:
        limit = f"more than {above:g}" if above > -np.inf else f"at least {least:g}"
        raise InpError(f"Line {number}: {what} {word} will not do: it has to be {limit}.")
    return value
