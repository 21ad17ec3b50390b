"""The network that the lines of an `.inp` file describe, as it stands at the first hour."""

from dataclasses import dataclass

import numpy as np

from euhydra.core.islands import islands_of
from euhydra.core.network import HeadLossLaw, Network, NetworkBuilder, NetworkError, ValveKind
from euhydra.core.pumps import PumpCurve, PumpCurveError
from euhydra.formats.inp import at_start
from euhydra.formats.inp.at_start import Rows, Standing, StartingTank
from euhydra.formats.inp.lines import OVER_TIME, File, at_line, number_of, word
from euhydra.formats.inp.terms import VALVE_KINDS, InpError, Units

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
class Building:
    """Makes a network of the lines of a file."""

    file: File
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

    def _tank(self, number: int, words: list[str]) -> StartingTank:
        word(number, words, 4, "most level")
        floor, *levels = (
            number_of(number, word, what) * self.units.height
            for word, what in zip(
                words[1:5], ("elevation", "level", "least level", "most level"), strict=True
            )
        )
        return StartingTank(floor, *(floor + level for level in levels))

    def _sources(self) -> None:
        for number, words in self.file.rows("RESERVOIRS"):
            head = number_of(number, word(number, words, 1, "head"), "head")
            with at_line(number):
                head *= self._first(number, words, 2) if len(words) > 2 else 1.0
                self.builder.add_source(words[0], head * self.units.height)
        for number, words in self.file.rows("TANKS"):
            with at_line(number):
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
        if not sources:
            return set()  # which is told as what it is
        place = {name: i for i, name in enumerate(dict.fromkeys([*nodes, *sources]))}
        joined = [
            (place[words[1]], place[words[2]])
            for name in ("PIPES", "PUMPS", "VALVES")
            for _, words in self.file.rows(name)
            if len(words) > 2
            and words[1] in place
            and words[2] in place
            and not self._is_shut(words)
        ]
        start, end = np.array(joined, dtype=np.intp).reshape(-1, 2).T
        island = islands_of(len(place), start, end)
        fed = {island[place[source]] for source in sources}
        demands = self._demands()
        return {node for node in nodes if island[place[node]] not in fed and not demands.get(node)}

    def _is_shut(self, words: list[str]) -> bool:
        return self.standing.is_shut(words[0]) or words[-1].upper() == at_start.CLOSED

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
                found[words[0]] = number_of(number, words[2], "demand") * share
        listed: dict[str, float] = {}
        for number, words in self.file.rows("DEMANDS"):
            share = self._first(number, words, 2) if len(words) > 2 else usual
            asked = number_of(number, word(number, words, 1, "demand"), "demand") * share
            listed[words[0]] = listed.get(words[0], 0.0) + asked
        scale = self.units.flow * self.file.demand_multiplier
        return {name: asked * scale for name, asked in (found | listed).items()}

    def _junctions(self, alone: set[str]) -> None:
        demands, emitters = self._demands(), self._emitters()
        for number, words in self.file.rows("JUNCTIONS"):
            elevation = number_of(number, word(number, words, 1, "elevation"), "elevation")
            k = emitters.pop(words[0], (number, 0.0))[1]
            if words[0] in alone:
                continue
            with at_line(number):
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
                number_of(number, word(number, words, 1, "coefficient"), "coefficient", least=0)
                * scale,
            )
            for number, words in self.file.rows("EMITTERS")
        }

    def _pipe(self, number: int, words: list[str]) -> None:
        word(number, words, 5, "roughness")
        name, start, end = words[:3]
        length = number_of(number, words[3], "length", above=0) * self.units.height
        diameter = number_of(number, words[4], "diameter", above=0) * self.units.diameter
        metres = self.law is HeadLossLaw.DARCY_WEISBACH
        smooth = {"least": 0.0} if metres else {"above": 0.0}  # C cannot be 0, a wall's height can
        roughness = number_of(number, words[5], "roughness", **smooth)
        status, rest = at_start.OPEN, words[6:]
        minor = 0.0
        if rest and not rest[0][0].isalpha():
            minor = number_of(number, rest.pop(0), "minor loss", least=0)
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
        with at_line(number):
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
            flow = number_of(number, word(number, words, 1, "flow"), "flow", least=0)
            head = number_of(number, word(number, words, 2, "head"), "head", least=0)
            point = (flow * self.units.flow, head * self.units.height)
            curves.setdefault(words[0], []).append(point)
        return curves

    def _pump(self, number: int, words: list[str]) -> None:
        word(number, words, 4, "head curve")
        settings = {
            key.upper(): value for key, value in zip(words[3::2], words[4::2], strict=False)
        }
        known = {"HEAD", "POWER", "SPEED", "PATTERN"}
        if len(words) % 2 == 0 or set(settings) - known or not {"HEAD", "POWER"} & set(settings):
            raise InpError(
                f"Line {number}: pump {words[0]} has to be given as HEAD curve or POWER number, "
                "[SPEED share] [PATTERN name]."
            )
        speed = number_of(number, settings.get("SPEED", "1"), "speed", least=0)
        if "PATTERN" in settings:
            speed = self._first(number, [settings["PATTERN"]], 0)
        speed = self.standing.setting(words[0], speed)
        is_shut = self.standing.is_shut(words[0]) or speed <= 0
        if is_shut or self._takes_only(words[1]) or self._gives_only(words[2]):
            self._shut(number, words)
            return
        curve = self._pump_curve(number, settings)
        with at_line(number):
            self.builder.add_pump(words[0], words[1], words[2], curve.at_speed(speed))

    def _pump_curve(self, number: int, settings: dict[str, str]) -> PumpCurve:
        try:
            if "POWER" in settings:
                power = number_of(number, settings["POWER"], "power", above=0) * self.units.power
                return PumpCurve.through(_power_points(power))
            if settings["HEAD"] not in self.curves:
                raise InpError(
                    f"Line {number}: curve {settings['HEAD']} is not in [CURVES]: add it."
                )
            return PumpCurve.through(self.curves[settings["HEAD"]])
        except PumpCurveError as error:
            raise InpError(f"Line {number}: {error}") from None

    def _valve(self, number: int, words: list[str]) -> None:
        kind = VALVE_KINDS.get(word(number, words, 5, "setting") and words[4].upper())
        if kind is None:
            raise InpError(f"Line {number}: valve type {words[4]} is not known: use PRV or TCV.")
        if self.standing.is_shut(words[0]):
            self._shut(number, words)
            return
        diameter = number_of(number, words[3], "diameter", above=0) * self.units.diameter
        setting = self.standing.setting(words[0], number_of(number, words[5], "setting", least=0))
        minor = number_of(number, words[6], "minor loss", least=0) if len(words) > 6 else 0.0
        if kind is ValveKind.REGULATOR and self.standing.by_link.get(words[0]) == at_start.OPEN:
            kind, setting = ValveKind.THROTTLE, minor  # it stands open, whatever its setting
        is_throttle = kind is ValveKind.THROTTLE
        with at_line(number):
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
        with at_line(number):
            self.builder.add_pipe(words[0], words[1], words[2], 1.0, 0.1, roughness, 0.0, False)


def _power_points(power: float) -> list[tuple[float, float]]:
    """Points of a pump that gives the same power at any flow: head = power ÷ flow. [m⁴ s⁻¹]"""
    count = int(np.log(MOST_LIFT / LEAST_LIFT) / np.log(POWER_STEP)) + 1
    heads = [MOST_LIFT / POWER_STEP**i for i in range(count)]
    return [(power / head, head) for head in heads]
