"""Words and figures of the format that reading and writing share."""

from euhydra.core.network import ValveKind

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

VALVE_KINDS = {"PRV": ValveKind.REGULATOR, "TCV": ValveKind.THROTTLE}
"""Valves of the format that the solver knows."""

FLAP_LENGTH = 0.001
"""Length of the pipe as which a check valve is written. [m]"""


class InpError(ValueError):
    """The file cannot be used as it stands; the message names the line and the remedy."""
