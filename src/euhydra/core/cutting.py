"""A timber stand: pieces to cut for a table of given size that carries a store."""

from dataclasses import dataclass
from math import ceil

POST = 0.09
"""Side of a square post. [m]"""

RAIL_THICK, RAIL_DEEP = 0.045, 0.09
"""A rail's section. [m]"""

BOARD_WIDE, BOARD_THICK, GAP = 0.12, 0.027, 0.006
"""A deck board's section, and the gap between two. [m]"""

REACH = 0.6
"""Farthest that a board runs from rail to rail, and a rail from post to post. [m] Common practice
for a load of a tonne a square metre."""

SCREWS_A_CROSSING = 2
"""Screws where a board lies on a rail."""

SCREWS_A_RAIL = 4
"""Screws at each post that a rail is fixed to."""


@dataclass(frozen=True)
class Cut:
    """So many pieces of a section, cut to one length. [m]"""

    section: str
    count: int
    length: float


@dataclass(frozen=True)
class StandCuts:
    """The cut list of one stand, and the screws that hold it."""

    cuts: tuple[Cut, ...]
    screws: int
    posts: int

    def metres(self, section: str) -> float:
        """Timber of a section, without waste. [m]"""
        return sum(cut.count * cut.length for cut in self.cuts if cut.section == section)


def stand(length: float, width: float, height: float) -> StandCuts:
    """A stand with its posts at most `REACH` apart, rails on both sides of them, boards on top.

    Rails lie under the boards on the top of the posts' sides, and again near the ground, so that
    the posts cannot spread. Boards run across.

    Parameters
    ----------
    length, width : Of the top. [m]
    height : From the ground to the top of the boards. [m]

    Raises
    ------
    ValueError : if it is lower than a board and a rail.
    """
    if height < BOARD_THICK + RAIL_DEEP:
        raise ValueError("lower than a rail and a board: use slabs or blocks")
    along = ceil((length - POST) / REACH - 1e-9) + 1 if length > POST else 1
    across = ceil((width - POST) / REACH - 1e-9) + 1 if width > POST else 1
    along, across = max(along, 2), max(across, 2)
    posts = along * across
    boards = ceil((length + GAP) / (BOARD_WIDE + GAP) - 1e-9)
    low = 2 if height > 2 * (RAIL_DEEP + BOARD_THICK) else 1
    cuts = (
        Cut("post", posts, height - BOARD_THICK),
        Cut("rail", across * low, length),
        Cut("rail", 2 * low, width),
        Cut("board", boards, width),
    )
    screws = boards * across * SCREWS_A_CROSSING + low * posts * SCREWS_A_RAIL
    return StandCuts(cuts, screws, posts)
