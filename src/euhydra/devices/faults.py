"""What can be made to go wrong on the bench."""

from enum import StrEnum


class Fault(StrEnum):
    """A fault that can be switched on."""

    STUCK_SHUT = "stuck-shut"
    STUCK_OPEN = "stuck-open"
    FLAT_BATTERY = "flat-battery"
    CLOGGED_FILTER = "clogged-filter"
    EMPTY_STORE = "empty-store"
    FROST = "frost"
    WRONG_CLOCK = "wrong-clock"
    LOST_FORECAST = "lost-forecast"


FAULT_NAMES = {
    Fault.STUCK_SHUT: "valves stuck shut",
    Fault.STUCK_OPEN: "valves stuck open",
    Fault.FLAT_BATTERY: "flat batteries",
    Fault.CLOGGED_FILTER: "clogged filters",
    Fault.EMPTY_STORE: "stores emptied",
    Fault.FROST: "frost",
    Fault.WRONG_CLOCK: "timers six hours late",
    Fault.LOST_FORECAST: "no forecast",
}
"""What each is called."""

CLOGGED_SHARE = 0.4
"""Flow through a clogged filter over that through a clean one. [-] Our choice."""

CLOCK_OFF = -6 * 60
"""How far a wrong clock is off. [min]"""

FROST_AIR = -4.0
"""Air in a frost. [°C]"""
