"""The plan on paper, to a scale that can be stated: the largest usual one at which it goes on one sheet."""

from dataclasses import dataclass

from euhydra.garden.quantities import System
from euhydra.web.drawing.lettering import LETTER_PX

PAPERS = {System.METRIC: ("A4", 210.0, 297.0), System.US: ("Letter", 215.9, 279.4)}
"""Name, width and height of what people print on. [mm]"""

MARGIN_MM, WORDS_MM = 14.0, 30.0
"""Round the sheet, as `print.css` has it; and for the title above and the words below."""

SCALES = {
    System.METRIC: (10, 20, 25, 50, 100, 200, 250, 500, 1000, 2000),
    System.US: (12, 24, 48, 96, 120, 192, 240, 360, 480, 600, 960, 1920),
}
"""So many times as large it is in the garden. Usual on plans; in feet an inch is so many whole feet."""

LETTER_MM = 2.7
"""Height of letters on the sheet. [mm] Common practice: eight points."""


@dataclass(frozen=True)
class PlanSheet:
    """A sheet: which paper, which way round, and how large the plan is on it. [mm]"""

    paper: str
    is_wide: bool
    scale: int
    width_mm: float
    height_mm: float

    @property
    def page(self) -> str:
        """Name of the page in the style sheet."""
        return f"sheet-{self.paper.lower()}{'-wide' if self.is_wide else ''}"

    @property
    def said(self) -> str:
        """The scale in words."""
        inch = self.paper == "Letter"
        is_what = f"1 in is {self.scale / 12:g} ft" if inch else f"1 cm is {self.scale / 100:g} m"
        return f"1:{self.scale} on {self.paper}: {is_what}"

    @property
    def metres_a_pixel(self) -> float:
        """Of letters that are so high on the sheet. [m px⁻¹]"""
        return self.letter_m / LETTER_PX

    @property
    def letter_m(self) -> float:
        """Height of its letters, in the garden. [m]"""
        return LETTER_MM / 1000 * self.scale


def sheet_for(box: tuple[float, float, float, float], system: System) -> PlanSheet:
    """The sheet for a plan; the smallest scale for one that fits at none.

    Parameters
    ----------
    box : Left, top, width and height of the plan. [m]
    """
    paper, short, long = PAPERS[system]
    ways = [(False, short, long), (True, long, short)]
    for scale in SCALES[system]:
        width, height = (1000 * metres / scale for metres in box[2:])
        for is_wide, across, down in ways:
            if width <= across - 2 * MARGIN_MM and height <= down - 2 * MARGIN_MM - WORDS_MM:
                return PlanSheet(paper, is_wide, scale, round(width, 2), round(height, 2))
    return PlanSheet(paper, False, scale, round(width, 2), round(height, 2))
