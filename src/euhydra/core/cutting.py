"""A timber stand: pieces to cut for a table of given size that carries a store."""

from dataclasses import dataclass
from math import ceil

GAP = 0.006
"""Between two deck boards. [m] Common practice."""

REACH = 0.6
"""Farthest that a board runs from rail to rail, and a rail from post to post. [m] Common practice
for a load of a tonne a square metre."""

SCREWS_A_CROSSING = 2
"""Screws where a board lies on a rail."""

SCREWS_A_RAIL = 4
"""Screws at each post that a rail is fixed to."""


@dataclass(frozen=True)
class Timber:
    """Sections as timber is sold. [m]

    post : Side of a square post.
    rail_deep : Height of a rail that stands on edge.
    board_wide, board_thick : Of a deck board.
    """

    post: float
    rail_deep: float
    board_wide: float
    board_thick: float

    @property
    def lowest(self) -> float:
        """Lowest stand that a rail and a board make. [m]"""
        return self.rail_deep + self.board_thick


METRIC = Timber(0.09, 0.09, 0.12, 0.027)
"""Posts 9 cm square, rails 4.5 by 9 cm, boards 12 cm by 27 mm. Common practice."""

INCH = Timber(0.0889, 0.0889, 0.1397, 0.0254)
"""4×4, 2×4 and 5/4×6 as they measure dry: 3½, 3½ and 5½ by 1 in. American Softwood Lumber Standard
PS 20, from memory."""


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


def stand(length: float, width: float, height: float, timber: Timber) -> StandCuts:
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
    if height < timber.lowest:
        raise ValueError("lower than a rail and a board: use slabs or blocks")
    along, across = _posts(length, timber), _posts(width, timber)
    posts = along * across
    boards = ceil((length + GAP) / (timber.board_wide + GAP) - 1e-9)
    low = 2 if height > 2 * timber.lowest else 1
    long, short = Cut("rail", across * low, length), Cut("rail", 2 * low, width)
    rails = (long, short) if length != width else (Cut("rail", long.count + short.count, length),)
    cuts = (
        Cut("post", posts, height - timber.board_thick),
        *rails,
        Cut("board", boards, width),
    )
    screws = boards * across * SCREWS_A_CROSSING + low * posts * SCREWS_A_RAIL
    return StandCuts(cuts, screws, posts)


def _posts(side: float, timber: Timber) -> int:
    """Posts along a side, two at the least."""
    return max(2, ceil((side - timber.post) / REACH - 1e-9) + 1)
