"""Words and figures of the format that reading and writing share."""

from dataclasses import dataclass

from euhydra.core.constants import METRES_PER_FOOT, METRES_PER_INCH
from euhydra.core.network import ValveKind

FOOT, INCH = METRES_PER_FOOT, METRES_PER_INCH
"""[m]"""

US_GALLON, IMPERIAL_GALLON = 231 * INCH**3, 4.54609e-3
"""[m³]"""

DAY, MINUTE = 86400.0, 60.0
"""[s]"""

PSI = FOOT / 0.4333
"""Head of a pound a square inch. [m] The engine's own constant: 0.4333 psi to a foot."""

SI_FLOWS = {
    "LPS": 1e-3,
    "LPM": 1e-3 / MINUTE,
    "MLD": 1e3 / DAY,
    "CMH": 1 / 3600,
    "CMD": 1 / DAY,
    "CMS": 1.0,
}
US_FLOWS = {
    "CFS": FOOT**3,
    "GPM": US_GALLON / MINUTE,
    "MGD": 1e6 * US_GALLON / DAY,
    "IMGD": 1e6 * IMPERIAL_GALLON / DAY,
    "AFD": 43560 * FOOT**3 / DAY,
}
"""Flow units of the format. [m³ s⁻¹] Which one is named decides all the others of a file."""

HORSEPOWER = 8.814 * FOOT**4
"""Head times flow of a pump of one horsepower. [m⁴ s⁻¹] The engine's own constant: 8.814 ft⁴/s."""

KILOWATT = HORSEPOWER / 0.7457
"""The same of a kilowatt."""

ENGINE_VISCOSITY = 1.1e-5 * FOOT**2
"""Kinematic viscosity that a multiplier of 1 stands for. [m² s⁻¹] 1.1e-5 ft²/s, the engine's
own constant."""

VALVE_KINDS = {"PRV": ValveKind.REGULATOR, "TCV": ValveKind.THROTTLE}
"""Valves of the format that the solver knows."""

FLAP_LENGTH = 0.001
"""Length of the pipe as which a check valve is written. [m]"""


@dataclass(frozen=True)
class Units:
    """What the numbers of a file are in, by what each is of; all in SI.

    height : Of lengths, elevations and heads too.
    wall : Of a wall's roughness under Darcy–Weisbach.
    """

    flow: float
    height: float
    diameter: float
    pressure: float
    wall: float
    power: float

    @classmethod
    def of(cls, flow_unit: str) -> "Units":
        """The units that go with a flow unit.

        Raises
        ------
        KeyError : if there is none of that name.

        References
        ----------
        Rossman et al. (2020), EPANET 2.2 User Manual, appendix A (units of measurement).
        """
        if flow_unit in SI_FLOWS:
            return cls(SI_FLOWS[flow_unit], 1.0, 1e-3, 1.0, 1e-3, KILOWATT)
        return cls(US_FLOWS[flow_unit], FOOT, INCH, PSI, 1e-3 * FOOT, HORSEPOWER)


class InpError(ValueError):
    """The file cannot be used as it stands; the message names the line and the remedy."""
