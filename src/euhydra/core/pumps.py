"""Pumps: the head a pump adds against the flow through it, its power, its suction."""

from dataclasses import dataclass
from itertools import pairwise
from math import exp, log

from euhydra.core.constants import GRAVITY, WATER_DENSITY

STANDARD_PRESSURE = 101325.0
"""Air pressure at sea level. [Pa] ICAO standard atmosphere (1993)."""

VAPOUR_HEAD = 0.24
"""Vapour pressure of water at 20 °C as head. [m] Handbook value (2.34 kPa), from memory."""

RATED_SHUTOFF = 4 / 3
"""Shut-off head over rated head where only one point is known. [-] Rossman et al. (2020)."""

RATED_RUNOUT = 2.0
"""Flow without head over rated flow where only one point is known. [-] Rossman et al. (2020)."""


class PumpCurveError(ValueError):
    """Points that no pump has; the message says which and what to do."""


@dataclass(frozen=True)
class PumpCurve:
    """Head added against flow, falling all the way: straight between points, or a power law.

    flow, head : Points with rising flow. [m³ s⁻¹], [m]
    droop, exponent : r and n of h = h₀ − r qⁿ, where the curve is that law; r = 0 where it is
        straight between its points.
    speed : Share of the full speed; the curve is shifted by the affinity laws. [-]
    """

    flow: tuple[float, ...]
    head: tuple[float, ...]
    droop: float = 0.0
    exponent: float = 1.0
    speed: float = 1.0

    @classmethod
    def through(cls, points: list[tuple[float, float]]) -> "PumpCurve":
        """The curve through one, three or more points of (flow, head).

        One point: a law with 4/3 of its head at rest and no head at twice its flow. Three
        points, the first at rest: h₀ − r qⁿ. Otherwise straight between the points.

        Parameters
        ----------
        points : Flow and head of each. [m³ s⁻¹], [m]

        Raises
        ------
        PumpCurveError : if flow does not rise, or head does not fall, from point to point.

        Examples
        --------
        >>> curve = PumpCurve.through([(1e-3, 9.0)])
        >>> curve.head_at(0.0), curve.head_at(1e-3), curve.head_at(2e-3)
        (12.0, 9.0, 0.0)

        References
        ----------
        Rossman et al. (2020), EPANET 2.2 User Manual, pump curves.
        """
        if len(points) == 1:
            flow, head = points[0]
            points = [(0.0, RATED_SHUTOFF * head), (flow, head), (RATED_RUNOUT * flow, 0.0)]
        if len(points) < 2:
            raise PumpCurveError("A pump curve needs a point: type flow and head.")
        for (q0, h0), (q1, h1) in pairwise(points):
            if q1 <= q0 or h1 >= h0:
                raise PumpCurveError(
                    f"A pump's head falls while its flow rises; from {q0 * 6e4:g} to {q1 * 6e4:g} "
                    f"litres a minute it goes from {h0:g} to {h1:g} m: check the points."
                )
        if points[0][0] < 0 or points[-1][1] < 0:
            raise PumpCurveError("Flows and heads of a pump curve cannot be negative.")
        flows, heads = zip(*points, strict=True)
        if len(points) == 3 and points[0][0] == 0:
            (_, h0), (q1, h1), (q2, h2) = points
            exponent = log((h0 - h2) / (h0 - h1)) / log(q2 / q1)
            return cls(flows, heads, (h0 - h1) / q1**exponent, exponent)
        return cls(flows, heads)

    @property
    def shutoff(self) -> float:
        """Head at rest, as far as the points tell. [m]"""
        return self.speed**2 * self.head[0]

    def head_at(self, flow: float) -> float:
        """Head added at `flow`. [m]

        Parameters
        ----------
        flow : Not negative; beyond the last point the curve goes on as it fell. [m³ s⁻¹]
        """
        return self._head_and_slope(flow)[0]

    def slope_at(self, flow: float) -> float:
        """How fast the head falls there, as a positive number. [s m⁻²]

        Parameters
        ----------
        flow : Not negative. [m³ s⁻¹]
        """
        return self._head_and_slope(flow)[1]

    def _head_and_slope(self, flow: float) -> tuple[float, float]:
        # Affinity: flow as the speed, head as its square.
        q = flow / self.speed
        head, slope = self._law(q) if self.droop else self._straight(q)
        return self.speed**2 * head, self.speed * slope

    def _law(self, q: float) -> tuple[float, float]:
        drop = self.droop * q**self.exponent
        return self.head[0] - drop, self.exponent * drop / q if q > 0 else 0.0

    def _straight(self, q: float) -> tuple[float, float]:
        last = len(self.flow) - 2
        i = next((i for i in range(last) if q < self.flow[i + 1]), last)
        slope = (self.head[i] - self.head[i + 1]) / (self.flow[i + 1] - self.flow[i])
        return self.head[i] - slope * (q - self.flow[i]), slope

    def at_speed(self, speed: float) -> "PumpCurve":
        """The same pump at a share of its full speed.

        Parameters
        ----------
        speed : Over 0. [-]

        References
        ----------
        Affinity laws: flow grows as the speed, head as its square.
        """
        return PumpCurve(self.flow, self.head, self.droop, self.exponent, speed)


def shaft_power(flow: float, head: float, efficiency: float) -> float:
    """Power that a pump draws, ρ g Q H / η. [W]

    Parameters
    ----------
    flow : [m³ s⁻¹]
    head : Added by the pump. [m]
    efficiency : Of pump and motor together. [-]

    Examples
    --------
    >>> round(shaft_power(1e-3, 10.0, 0.5))
    196
    """
    return WATER_DENSITY * GRAVITY * flow * head / efficiency


def suction_head_available(lift: float, loss: float, elevation: float) -> float:
    """Net positive suction head at a pump that stands over its water. [m]

    Parameters
    ----------
    lift : Pump over the water surface; negative if it stands below. [m]
    loss : Head lost in the suction pipe. [m]
    elevation : Of the garden above the sea. [m]

    References
    ----------
    Hydraulic Institute; air pressure by the ICAO standard atmosphere (1993), from memory.
    """
    air = STANDARD_PRESSURE * exp(-elevation / 8434.0)
    return air / (WATER_DENSITY * GRAVITY) - VAPOUR_HEAD - lift - loss


def battery_hours(amp_hours: float, volts: float, usable: float, power: float) -> float:
    """How long a battery runs a pump. [h]

    Parameters
    ----------
    amp_hours : As printed on it. [A h]
    volts : [V]
    usable : Share that may be drawn without harm. [-]
    power : That the pump draws. [W]

    Examples
    --------
    >>> battery_hours(20.0, 12.0, 0.5, 40.0)
    3.0
    """
    return amp_hours * volts * usable / power


def starts_an_hour(pump_flow: float, taken: float, band: float) -> float:
    """How often a pressure switch starts a pump that gives more than is taken. [h⁻¹]

    The pump fills `band` while it runs and the zone empties it while it rests; when the zone
    takes all that the pump gives, it never stops.

    Parameters
    ----------
    pump_flow : Given while it runs. [m³ s⁻¹]
    taken : By the open zone. [m³ s⁻¹]
    band : Water between switch-on and switch-off. [m³]

    Examples
    --------
    >>> starts_an_hour(2e-4, 1e-4, 0.001)
    180.0
    """
    if taken <= 0 or pump_flow <= taken:
        return 0.0
    cycle = band / (pump_flow - taken) + band / taken
    return 3600.0 / cycle
