"""The open text format of the public-domain hydraulic engine, for what our solver knows.

Read and written: junctions with a steady demand, reservoirs, pipes (open, closed or with a check
valve), pumps with a head curve, pressure reducing and throttling valves, emitters with the global
exponent, minor losses, Darcy–Weisbach and Hazen–Williams, SI flow units.
Sections that cannot change a steady flow (titles, drawings, reports, clock, quality, energy
prices) are read over. Everything else is refused with its line, never skipped.

One difference in meaning: an emitter of ours lets no water back in when its pressure is
negative; the engine lets it, unless told otherwise.
"""

import re
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

import numpy as np

from euhydra.core.network import (
    HeadLossLaw,
    Network,
    NetworkBuilder,
    NetworkError,
    ValveKind,
)
from euhydra.core.pumps import PumpCurve, PumpCurveError

MOST_BYTES = 20_000_000
"""Largest file taken. [bytes]"""

MOST_NAME = 31
"""Longest name the format holds."""

NAME = re.compile(r'[^\s;"\[]+')
"""Names the format holds as they stand."""

FLOW_UNITS = {
    "LPS": 1e-3,
    "LPM": 1e-3 / 60,
    "MLD": 1e3 / 86400,
    "CMH": 1 / 3600,
    "CMD": 1 / 86400,
    "CMS": 1.0,
}
"""SI flow units of the format. [m³ s⁻¹]"""

ENGINE_VISCOSITY = 1.1e-5 * 0.3048**2
"""Kinematic viscosity that a multiplier of 1 stands for. [m² s⁻¹] 1.1e-5 ft²/s, the engine's
own constant."""

NO_BEARING = {
    "TITLE", "COORDINATES", "VERTICES", "LABELS", "TAGS", "BACKDROP", "REPORT", "TIMES",
    "ENERGY", "QUALITY", "REACTIONS", "SOURCES", "MIXING",
}  # fmt: skip
"""Sections without bearing on a steady flow."""

NOT_KNOWN = {
    "TANKS": "tanks", "PATTERNS": "demand patterns", "CONTROLS": "controls", "RULES": "rules",
    "DEMANDS": "extra demands", "STATUS": "status lines", "LEAKAGE": "leakage",
}  # fmt: skip
"""Sections that would change the flow and that the solver does not know."""

OPTIONS_WITHOUT_BEARING = {
    "TRIALS", "ACCURACY", "UNBALANCED", "QUALITY", "DIFFUSIVITY", "TOLERANCE", "MAP", "CHECKFREQ",
    "MAXCHECK", "DAMPLIMIT", "HEADERROR", "FLOWCHANGE", "SPECIFIC", "PATTERN", "HYDRAULICS",
    "PRESSURE", "MINIMUM", "REQUIRED",
}  # fmt: skip
"""Options that steer the engine's own search, its reports or water quality."""


class InpError(ValueError):
    """The file cannot be used as it stands; the message names the line and the remedy."""


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


KNOWN = {
    "JUNCTIONS", "RESERVOIRS", "PIPES", "PUMPS", "VALVES", "CURVES", "EMITTERS", "OPTIONS",
}  # fmt: skip

VALVE_KINDS = {"PRV": ValveKind.REGULATOR, "TCV": ValveKind.THROTTLE}
"""Valves of the format that the solver knows."""

FLAP_LENGTH = 0.001
"""Length of the pipe as which a check valve is written. [m]"""


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
            name, start, end, length, diameter, roughness / 1000 if metres else roughness,
            minor, status != "CLOSED", status == "CV",
        )  # fmt: skip


def _curves(file: _File, unit: float) -> dict[str, list[tuple[float, float]]]:
    """Points of each curve: flow [m³ s⁻¹] and head [m]."""
    curves: dict[str, list[tuple[float, float]]] = {}
    for number, words in file.sections.get("CURVES", []):
        flow = _number(number, _word(number, words, 1, "flow"), "flow", least=0) * unit
        head = _number(number, _word(number, words, 2, "head"), "head", least=0)
        curves.setdefault(words[0], []).append((flow, head))
    return curves


def _add_pump(
    builder: NetworkBuilder, number: int, words: list[str], curves: dict[str, list[tuple[float, float]]]
) -> None:  # fmt: skip
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
            words[0], words[1], words[2], kind, diameter,
            setting if is_throttle else minor, 0.0 if is_throttle else setting,
        )  # fmt: skip


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


def dumps(network: Network, title: str) -> str:
    """The network as `.inp` text, in litres a minute and millimetres.

    Names longer than the format's 31 signs are replaced by short ones; the long one follows in
    a comment on the same line.

    Raises
    ------
    InpError : if it has what the format does not: outlets of several exponents or with a head at
        which they open, check valves with an opening head.
    """
    nodes, pipes = network.nodes, network.pipes
    if (nodes.outlet_full > 0).any():
        raise InpError("Some outlets open at a head of their own; this format has no such outlets.")
    if any(v.kind is ValveKind.CHECK and v.setting > 0 for v in network.valves):
        raise InpError("A check valve opens at a head of its own; this format has no such valve.")
    outlets = np.flatnonzero(nodes.outlet_coefficient > 0).tolist()
    exponents = np.unique(nodes.outlet_exponent[outlets]).tolist()
    if len(exponents) > 1:
        raise InpError("The outlets have several exponents; this format holds one for all.")
    lpm = FLOW_UNITS["LPM"]
    millimetres = 1000.0 if network.law is HeadLossLaw.DARCY_WEISBACH else 1.0
    node, pipe = _short_names(nodes.ids, "N"), _short_names(pipes.ids, "P")
    elevation, demand = nodes.elevation.tolist(), (nodes.demand / lpm).tolist()
    is_fixed = ~np.isnan(nodes.fixed_head)
    junctions, sources = np.flatnonzero(~is_fixed).tolist(), np.flatnonzero(is_fixed).tolist()
    columns = zip(
        pipes.start.tolist(), pipes.end.tolist(), pipes.length.tolist(),
        (pipes.diameter * 1000).tolist(), (pipes.roughness * millimetres).tolist(),
        pipes.minor_loss.tolist(), _states(network), strict=True,
    )  # fmt: skip
    lines = [
        "[TITLE]",
        title.replace("\n", " ").replace("[", "("),
        *("", "[JUNCTIONS]"),
        *(_row(nodes.ids[i], node[i], elevation[i], demand[i]) for i in junctions),
        *("", "[RESERVOIRS]"),
        *(_row(nodes.ids[i], node[i], float(nodes.fixed_head[i])) for i in sources),
        *("", "[PIPES]"),
        *(
            _row(pipes.ids[i], pipe[i], node[start], node[end], *rest)
            for i, (start, end, *rest) in enumerate(columns)
        ),
        *_flap_rows(network, node),
        *_pump_rows(network, node, lpm),
        *_valve_rows(network, node),
        *("", "[EMITTERS]"),
        *(
            _row(nodes.ids[i], node[i], float(nodes.outlet_coefficient[i]) / lpm)
            for i in outlets
        ),
        *("", "[OPTIONS]", "Units LPM", f"Headloss {network.law}"),
        f"Viscosity {network.viscosity / ENGINE_VISCOSITY!r}",
        f"Emitter Exponent {exponents[0] if exponents else 0.5!r}",
        *("Accuracy 0.000001", "Trials 200", "", "[TIMES]", "Duration 0", "", "[END]", ""),
    ]  # fmt: skip
    return "\n".join(lines)


def _states(network: Network) -> list[str]:
    pipes = network.pipes
    words = np.where(pipes.is_one_way, "CV", np.where(pipes.is_open, "Open", "Closed"))
    return [str(word) for word in words]


def _flap_rows(network: Network, node: list[str]) -> list[str]:
    """Check valves, as very short pipes."""
    flaps = [v for v in network.valves if v.kind is ValveKind.CHECK]
    wall = 0.0 if network.law is HeadLossLaw.DARCY_WEISBACH else 140.0
    return [
        _row(v.id, short, node[v.start], node[v.end], FLAP_LENGTH, v.diameter * 1000, wall, v.minor_loss, "CV")
        for v, short in zip(flaps, _short_names(tuple(v.id for v in flaps), "F"), strict=True)
    ]  # fmt: skip


def _pump_rows(network: Network, node: list[str], lpm: float) -> list[str]:
    pumps = network.pumps
    if not pumps:
        return []
    names = _short_names(tuple(p.id for p in pumps), "U")
    curves = [f"C{i}" for i in range(len(pumps))]
    return [
        *("", "[PUMPS]"),
        *(
            _row(p.id, name, node[p.start], node[p.end], "HEAD", curve, "SPEED", p.curve.speed)
            for p, name, curve in zip(pumps, names, curves, strict=True)
        ),
        *("", "[CURVES]"),
        *(
            f"{curve} {flow / lpm!r} {head!r}"
            for p, curve in zip(pumps, curves, strict=True)
            for flow, head in zip(p.curve.flow, p.curve.head, strict=True)
        ),
    ]


def _valve_rows(network: Network, node: list[str]) -> list[str]:
    valves = [v for v in network.valves if v.kind is not ValveKind.CHECK]
    if not valves:
        return []
    words = {kind: word for word, kind in VALVE_KINDS.items()}
    names = _short_names(tuple(v.id for v in valves), "V")
    return [
        *("", "[VALVES]"),
        *(
            _row(
                v.id, name, node[v.start], node[v.end], v.diameter * 1000, words[v.kind],
                *((v.minor_loss, 0.0) if v.kind is ValveKind.THROTTLE else (v.setting, v.minor_loss)),
            )
            for v, name in zip(valves, names, strict=True)
        ),
    ]  # fmt: skip


def _short_names(names: tuple[str, ...], letter: str) -> list[str]:
    return [
        name if len(name) <= MOST_NAME and NAME.fullmatch(name) else f"{letter}{i}"
        for i, name in enumerate(names)
    ]


def _row(name: str, short: str, *values: object) -> str:
    comment = "" if short == name else f" ; {name}"
    return " ".join([short, *map(str, values)]) + comment
