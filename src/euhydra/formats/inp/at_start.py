"""What changes in the course of a file's day, as it stands at the first hour.

The solver knows no time: patterns stand at their first value, tanks at the level that they begin
with, and of the controls those have acted that act at once.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field

from euhydra.formats.inp.terms import InpError

Rows = list[tuple[int, list[str]]]

OPEN, CLOSED = "OPEN", "CLOSED"

AT_ONCE = {"0", "0:00", "0:00:00", "0.0"}
"""Times of the first hour."""

NEAR = 1e-6
"""By so much a level may be off and still count as reached. [m]"""


@dataclass(frozen=True)
class StartingTank:
    """A tank as it begins: heights of its floor, its water, its least and its most. [m]"""

    floor: float
    water: float
    least: float
    most: float


@dataclass
class Standing:
    """How each link stands at the start: `OPEN`, `CLOSED`, or a number that it is set to."""

    by_link: dict[str, str] = field(default_factory=dict)

    def is_shut(self, link: str) -> bool:
        """Whether nothing passes; a pump at no speed lets nothing pass either."""
        status = self.by_link.get(link, OPEN)
        return status == CLOSED or _is_nothing(status)

    def setting(self, link: str, otherwise: float) -> float:
        """The number that it is set to."""
        try:
            return float(self.by_link.get(link, ""))
        except ValueError:
            return otherwise


def _is_nothing(status: str) -> bool:
    try:
        return float(status) == 0.0
    except ValueError:
        return False


def standing(
    status: Rows, controls: Rows, tanks: Mapping[str, StartingTank], height: float
) -> Standing:
    """How the links stand once what acts at the first hour has acted.

    Parameters
    ----------
    status, controls : Lines of those sections.
    height : Unit of the levels that controls name. [m]

    Raises
    ------
    InpError : naming a line that cannot be understood.
    """
    found = Standing()
    for number, words in status:
        if len(words) < 2:
            raise InpError(f"Line {number}: status of {words[0]} is missing.")
        found.by_link[words[0]] = words[1].upper()
    for number, words in controls:
        if _has_acted(number, words, tanks, height):
            found.by_link[words[1]] = words[2].upper()
    return found


def _has_acted(
    number: int, words: list[str], tanks: Mapping[str, StartingTank], height: float
) -> bool:
    """Whether a control such as `LINK 9 OPEN IF NODE 2 BELOW 110` acts at once."""
    said = [word.upper() for word in words]
    if len(said) < 6 or said[0] not in ("LINK", "PUMP", "PIPE", "VALVE"):
        raise InpError(
            f"Line {number}: control “{' '.join(words)}” is not understood: write such as "
            "LINK 9 OPEN IF NODE 2 BELOW 110."
        )
    if said[3:5] == ["AT", "TIME"]:
        return said[5] in AT_ONCE
    if said[3] != "IF" or len(said) < 8 or words[5] not in tanks:
        return False  # by the clock, or by a pressure that is not known yet
    tank = tanks[words[5]]
    level, wanted = tank.water - tank.floor, _number(number, words[7]) * height
    return level <= wanted + NEAR if said[6] == "BELOW" else level >= wanted - NEAR


def first_values(patterns: Rows, times: Rows) -> dict[str, float]:
    """The multiplier of each pattern at the first hour.

    Raises
    ------
    InpError : naming a line whose number is none.
    """
    starts = {" ".join(words[:2]).upper(): words[2:] for _, words in times if len(words) > 2}
    skipped = int(
        _hours(starts.get("PATTERN START")) / (_hours(starts.get("PATTERN TIMESTEP")) or 1)
    )
    values: dict[str, list[float]] = {}
    for number, words in patterns:
        values.setdefault(words[0], []).extend(_number(number, word) for word in words[1:])
    return {name: each[skipped % len(each)] for name, each in values.items() if each}


def _hours(words: list[str] | None) -> float:
    """Of a time such as `2:00` or `30 min`; 0 where it says nothing that is known."""
    if not words:
        return 0.0
    hours, _, minutes = words[0].partition(":")
    try:
        found = float(hours) + float(minutes or 0) / 60
    except ValueError:
        return 0.0
    return found / 60 if len(words) > 1 and words[1].upper().startswith("MIN") else found


def _number(number: int, word: str) -> float:
    try:
        return float(word)
    except ValueError:
        raise InpError(f"Line {number}: “{word}” is not a number.") from None
