"""A network from the text of an `.inp` file, as it stands at the first hour."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

import numpy as np
from scipy.cluster.hierarchy import DisjointSet

from euhydra.core.network import HeadLossLaw, Network, NetworkBuilder, NetworkError, ValveKind
from euhydra.core.pumps import PumpCurve, PumpCurveError
from euhydra.formats.inp import at_start
from euhydra.formats.inp.at_start import Rows, Standing, Tank
from euhydra.formats.inp.terms import (
    ENGINE_VISCOSITY,
    SI_FLOWS,
    US_FLOWS,
    VALVE_KINDS,
    InpError,
    Units,
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
    "ENERGY",
    "QUALITY",
    "REACTIONS",
    "SOURCES",
    "MIXING",
}
"""Sections without bearing on a flow."""

OVER_TIME = {
    "PATTERNS": "patterns after their first value",
    "CONTROLS": "controls that act later",
    "RULES": "rules",
}
"""Sections about what changes in the course of time, and what of them is left out."""

NOT_KNOWN = {"LEAKAGE": "leakage"}
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
    "HYDRAULICS",
    "PRESSURE",
    "MINIMUM",
    "REQUIRED",
}
"""Options that steer the engine's own search, its reports or water quality."""

KNOWN = {
    "JUNCTIONS",
    "RESERVOIRS",
    "TANKS",
    "PIPES",
    "PUMPS",
    "VALVES",
    "CURVES",
    "EMITTERS",
    "DEMANDS",
    "STATUS",
    "TIMES",
    "OPTIONS",
}

DEFAULT_PATTERN = "1"
"""Pattern of a demand that names none, unless the options name another."""

AT_A_LIMIT = 1e-3
"""A tank is full or empty this close to its most or its least. [m]"""

POWER_STEP = 1.02
"""From one point to the next on the curve of a pump that is given by its power; between them it
is straight, and off by less than a hundredth of a per cent."""

MOST_LIFT, LEAST_LIFT = 1000.0, 0.1
"""Heads between which such a curve has points. [m]"""


@dataclass(frozen=True)
class InpFile:
    """What a file holds: its network at the first hour, and what of it that leaves out."""

    network: Network
    left_out: tuple[str, ...]


@dataclass
class _File:
    """What has been read so far, in the file's own units."""

    sections: dict[str, Rows] = field(default_factory=dict)
    units: Units | None = None
    law: HeadLossLaw | None = None
    viscosity: float = ENGINE_VISCOSITY
    emitter_exponent: float = 0.5
    demand_multiplier: float = 1.0
    pattern: str = DEFAULT_PATTERN

    def rows(self, section: str) -> Rows:
        """Its lines, with their numbers."""
        return self.sections.get(section, [])


def loads(text: str) -> Network:
    """A network from the text of an `.inp` file, as it stands at the first hour.

    Raises
    ------
    InpError : naming the line, what is wrong there and what to do.
    """
    return read(text).network


def read(text: str) -> InpFile:
    """As `loads`, with what is left out because it acts later.

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
    for number, words in file.rows("OPTIONS"):
        _read_option(file, number, words)
    if file.units is None:
        raise InpError(
            "[OPTIONS] has no Units line: state the unit of flow, such as “Units LPM” or “Units GPM”."
        )
    return _Reading(file, file.units).build()


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
            if section not in KNOWN | NO_BEARING | NOT_KNOWN.keys() | OVER_TIME.keys():
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
        if value not in SI_FLOWS | US_FLOWS:
            known = ", ".join(SI_FLOWS | US_FLOWS)
            raise InpError(f"Line {number}: flow unit {value} is not known: use one of {known}.")
        file.units = Units.of(value)
    elif name == "HEADLOSS":
        if value not in set(HeadLossLaw):
            raise InpError(f"Line {number}: head loss law {value} is not known: use D-W or H-W.")
        file.law = HeadLossLaw(value)
    elif name == "PATTERN":
        file.pattern = words[-1]
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


@dataclass
class _Reading:
    """Makes a network of the lines of a file."""

    file: _File
    units: Units

    def __post_init__(self) -> None:
        file = self.file
        self.law = file.law or HeadLossLaw.HAZEN_WILLIAMS  # the format's default
        self.builder = NetworkBuilder(self.law, file.viscosity)
        self.first = at_start.first_values(file.rows("PATTERNS"), file.rows("TIMES"))
        self.tanks = {words[0]: self._tank(number, words) for number, words in file.rows("TANKS")}
        self.standing: Standing = at_start.standing(
            file.rows("STATUS"), file.rows("CONTROLS"), self.tanks, self.units.height
        )
        self.curves = self._curves()

    def build(self) -> InpFile:
        """The network, and what is left out of it."""
        self._sources()
        alone = self._left_alone()
        self._junctions(alone)
        for number, words in self._links("PIPES", alone):
            self._pipe(number, words)
        for number, words in self._links("PUMPS", alone):
            self._pump(number, words)
        for number, words in self._links("VALVES", alone):
            self._valve(number, words)
        left_out = [said for name, said in OVER_TIME.items() if self.file.rows(name)]
        if alone:
            left_out.append(f"{len(alone)} junctions that nothing joins to a source at first")
        try:
            return InpFile(self.builder.build(), tuple(left_out))
        except NetworkError as error:
            raise InpError(str(error)) from None

    def _tank(self, number: int, words: list[str]) -> Tank:
        _word(number, words, 4, "most level")
        floor, *levels = (
            _number(number, word, what) * self.units.height
            for word, what in zip(
                words[1:5], ("elevation", "level", "least level", "most level"), strict=True
            )
        )
        return Tank(floor, *(floor + level for level in levels))

    def _sources(self) -> None:
        for number, words in self.file.rows("RESERVOIRS"):
            head = _number(number, _word(number, words, 1, "head"), "head")
            with _at_line(number):
                head *= self._first(number, words, 2) if len(words) > 2 else 1.0
                self.builder.add_source(words[0], head * self.units.height)
        for number, words in self.file.rows("TANKS"):
            with _at_line(number):
                self.builder.add_source(words[0], self.tanks[words[0]].water)

    def _first(self, number: int, words: list[str], place: int) -> float:
        if words[place] not in self.first:
            raise InpError(f"Line {number}: pattern {words[place]} is not in [PATTERNS]: add it.")
        return self.first[words[place]]

    def _left_alone(self) -> set[str]:
        """Junctions that no open link joins to a source, and that ask for nothing: left out."""
        nodes = {words[0] for _, words in self.file.rows("JUNCTIONS")}
        sources = [
            words[0] for name in ("RESERVOIRS", "TANKS") for _, words in self.file.rows(name)
        ]
        joined = DisjointSet([*nodes, *sources])
        for name in ("PIPES", "PUMPS", "VALVES"):
            for _, words in self.file.rows(name):
                is_shut = self.standing.is_shut(words[0]) or words[-1].upper() == at_start.CLOSED
                if not is_shut and len(words) > 2 and words[1] in joined and words[2] in joined:
                    joined.merge(words[1], words[2])
        fed = {joined[source] for source in sources}
        demands = self._demands()
        return {node for node in nodes if joined[node] not in fed and not demands.get(node)}

    def _links(self, section: str, alone: set[str]) -> Rows:
        return [
            (number, words)
            for number, words in self.file.rows(section)
            if not alone & set(words[1:3])
        ]

    def _demands(self) -> dict[str, float]:
        """What each junction takes at the first hour. [m³ s⁻¹]"""
        usual = self.first.get(self.file.pattern, 1.0)
        found: dict[str, float] = {}
        for number, words in self.file.rows("JUNCTIONS"):
            if len(words) > 2:
                share = self._first(number, words, 3) if len(words) > 3 else usual
                found[words[0]] = _number(number, words[2], "demand") * share
        listed: dict[str, float] = {}
        for number, words in self.file.rows("DEMANDS"):
            share = self._first(number, words, 2) if len(words) > 2 else usual
            asked = _number(number, _word(number, words, 1, "demand"), "demand") * share
            listed[words[0]] = listed.get(words[0], 0.0) + asked
        scale = self.units.flow * self.file.demand_multiplier
        return {name: asked * scale for name, asked in (found | listed).items()}

    def _junctions(self, alone: set[str]) -> None:
        demands, emitters = self._demands(), self._emitters()
        for number, words in self.file.rows("JUNCTIONS"):
            elevation = _number(number, _word(number, words, 1, "elevation"), "elevation")
            k = emitters.pop(words[0], (number, 0.0))[1]
            if words[0] in alone:
                continue
            with _at_line(number):
                self.builder.add_junction(
                    words[0],
                    elevation * self.units.height,
                    demands.get(words[0], 0.0),
                    k,
                    self.file.emitter_exponent,
                )
        for name, (number, _) in emitters.items():
            raise InpError(f"Line {number}: emitter at {name}, which is no junction.")

    def _emitters(self) -> dict[str, tuple[int, float]]:
        # k of q = k H^x, where H is a pressure in the file and metres here.
        scale = self.units.flow / self.units.pressure**self.file.emitter_exponent
        return {
            words[0]: (
                number,
                _number(number, _word(number, words, 1, "coefficient"), "coefficient", least=0)
                * scale,
            )
            for number, words in self.file.rows("EMITTERS")
        }

    def _pipe(self, number: int, words: list[str]) -> None:
        _word(number, words, 5, "roughness")
        name, start, end = words[:3]
        length = _number(number, words[3], "length", above=0) * self.units.height
        diameter = _number(number, words[4], "diameter", above=0) * self.units.diameter
        metres = self.law is HeadLossLaw.DARCY_WEISBACH
        smooth = {"least": 0.0} if metres else {"above": 0.0}  # C cannot be 0, a wall's height can
        roughness = _number(number, words[5], "roughness", **smooth)
        status, rest = at_start.OPEN, words[6:]
        minor = 0.0
        if rest and not rest[0][0].isalpha():
            minor = _number(number, rest.pop(0), "minor loss", least=0)
        if rest:
            status = rest.pop(0).upper()
        if rest or status not in (at_start.OPEN, at_start.CLOSED, "CV"):
            what = rest[0] if rest else status
            raise InpError(
                f"Line {number}: pipe status “{what}” is not known: use Open, Closed or CV."
            )
        is_open = name not in self.standing.by_link and status != at_start.CLOSED
        is_open |= name in self.standing.by_link and not self.standing.is_shut(name)
        is_one_way = status == "CV"
        if self._gives_only(start) or self._takes_only(end):
            is_one_way = True
        elif self._takes_only(start) or self._gives_only(end):
            start, end, is_one_way = end, start, True
        with _at_line(number):
            self.builder.add_pipe(
                name,
                start,
                end,
                length,
                diameter,
                roughness * self.units.wall if metres else roughness,
                minor,
                is_open,
                is_one_way,
            )

    def _takes_only(self, node: str) -> bool:
        """Whether it is a tank that is empty: water comes in, and none goes out."""
        tank = self.tanks.get(node)
        return tank is not None and tank.water <= tank.least + AT_A_LIMIT

    def _gives_only(self, node: str) -> bool:
        """Whether it is a tank that is full."""
        tank = self.tanks.get(node)
        return tank is not None and tank.water >= tank.most - AT_A_LIMIT

    def _curves(self) -> dict[str, list[tuple[float, float]]]:
        """Points of each curve: flow [m³ s⁻¹] and head [m]."""
        pumped = {
            value
            for _, words in self.file.rows("PUMPS")
            for key, value in zip(words[3::2], words[4::2], strict=False)
            if key.upper() == "HEAD"
        }
        curves: dict[str, list[tuple[float, float]]] = {}
        for number, words in self.file.rows("CURVES"):
            if words[0] not in pumped:
                continue  # of an efficiency or a volume
            flow = _number(number, _word(number, words, 1, "flow"), "flow", least=0)
            head = _number(number, _word(number, words, 2, "head"), "head", least=0)
            point = (flow * self.units.flow, head * self.units.height)
            curves.setdefault(words[0], []).append(point)
        return curves

    def _pump(self, number: int, words: list[str]) -> None:
        _word(number, words, 4, "head curve")
        settings = {
            key.upper(): value for key, value in zip(words[3::2], words[4::2], strict=False)
        }
        known = {"HEAD", "POWER", "SPEED", "PATTERN"}
        if len(words) % 2 == 0 or set(settings) - known or not {"HEAD", "POWER"} & set(settings):
            raise InpError(
                f"Line {number}: pump {words[0]} has to be given as HEAD curve or POWER number, "
                "[SPEED share] [PATTERN name]."
            )
        speed = _number(number, settings.get("SPEED", "1"), "speed", least=0)
        if "PATTERN" in settings:
            speed = self._first(number, [settings["PATTERN"]], 0)
        speed = self.standing.setting(words[0], speed)
        is_shut = self.standing.is_shut(words[0]) or speed <= 0
        if is_shut or self._takes_only(words[1]) or self._gives_only(words[2]):
            self._shut(number, words)
            return
        curve = self._pump_curve(number, settings)
        with _at_line(number):
            self.builder.add_pump(words[0], words[1], words[2], curve.at_speed(speed))

    def _pump_curve(self, number: int, settings: dict[str, str]) -> PumpCurve:
        try:
            if "POWER" in settings:
                power = _number(number, settings["POWER"], "power", above=0) * self.units.power
                return PumpCurve.through(_power_points(power))
            if settings["HEAD"] not in self.curves:
                raise InpError(
                    f"Line {number}: curve {settings['HEAD']} is not in [CURVES]: add it."
                )
            return PumpCurve.through(self.curves[settings["HEAD"]])
        except PumpCurveError as error:
            raise InpError(f"Line {number}: {error}") from None

    def _valve(self, number: int, words: list[str]) -> None:
        kind = VALVE_KINDS.get(_word(number, words, 5, "setting") and words[4].upper())
        if kind is None:
            raise InpError(f"Line {number}: valve type {words[4]} is not known: use PRV or TCV.")
        if self.standing.is_shut(words[0]):
            self._shut(number, words)
            return
        diameter = _number(number, words[3], "diameter", above=0) * self.units.diameter
        setting = self.standing.setting(words[0], _number(number, words[5], "setting", least=0))
        minor = _number(number, words[6], "minor loss", least=0) if len(words) > 6 else 0.0
        if kind is ValveKind.REGULATOR and self.standing.by_link.get(words[0]) == at_start.OPEN:
            kind, setting = ValveKind.THROTTLE, minor  # it stands open, whatever its setting
        is_throttle = kind is ValveKind.THROTTLE
        with _at_line(number):
            self.builder.add_valve(
                words[0],
                words[1],
                words[2],
                kind,
                diameter,
                setting if is_throttle else minor,
                0.0 if is_throttle else setting * self.units.pressure,
            )

    def _shut(self, number: int, words: list[str]) -> None:
        """A pump or a valve that lets nothing pass: a shut pipe in its place."""
        roughness = 0.0 if self.law is HeadLossLaw.DARCY_WEISBACH else 100.0
        with _at_line(number):
            self.builder.add_pipe(words[0], words[1], words[2], 1.0, 0.1, roughness, 0.0, False)


def _power_points(power: float) -> list[tuple[float, float]]:
    """Points of a pump that gives the same power at any flow: head = power ÷ flow. [m⁴ s⁻¹]"""
    count = int(np.log(MOST_LIFT / LEAST_LIFT) / np.log(POWER_STEP)) + 1
    heads = [MOST_LIFT / POWER_STEP**i for i in range(count)]
    return [(power / head, head) for head in heads]


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
